/**
 * Headers that stand on every answer, those of errors too. Pages get a policy of their own from the kit (svelte.config.js),
 * which the hook completes; everything else may do nothing at all.
 */
import type { Settings } from '../settings';

const HSTS_SECONDS = 365 * 86_400;

/** For what is no page: a redirect, a refusal, a picture, data. */
const NOTHING = "default-src 'none'; style-src 'unsafe-inline'; base-uri 'none'; form-action 'none'";

export function securityHeaders({ origin, mode }: Pick<Settings, 'origin' | 'mode'>): [string, string][] {
	const headers: [string, string][] = [
		['x-content-type-options', 'nosniff'],
		['x-frame-options', 'DENY'],
		['content-security-policy', `${NOTHING}; frame-ancestors 'none'`],
		// Not `no-referrer`: a browser then sends `Origin: null` with forms, which the origin check refuses.
		['referrer-policy', 'same-origin'],
		[
			'permissions-policy',
			'camera=(), microphone=(), geolocation=(), payment=(), usb=(), serial=(), midi=(), browsing-topics=()'
		],
		['cross-origin-opener-policy', 'same-origin']
	];
	// RFC 6797 §7.2: never over plain http.
	if (mode === 'production' && origin.startsWith('https:'))
		headers.push(['strict-transport-security', `max-age=${HSTS_SECONDS}`]);
	return headers;
}

/**
 * The kit's policy of a page with what only a running Stile knows: where forms may lead (a payment's redirect follows the
 * form, CSP level 3 §6.4.1), and which sites may frame it.
 */
export function completedPolicy(
	kits: string | null,
	{ payOrigins, frames }: { payOrigins: readonly string[]; frames: string }
): string {
	const policy = kits ?? NOTHING;
	const withForms = policy.replace(/form-action 'self'/, () =>
		["form-action 'self'", ...payOrigins].join(' ')
	);
	return `${withForms}; frame-ancestors ${frames}`;
}
