import { listedLabels } from '$server/reads/label-list';
import { isKnownTo, listFor } from '$server/reads/lists';
import { lookOf, type Look } from '$server/rights/look';
import type { Policy } from '$core/access/policy';
import { decideAddress } from '$core/access/decide/decide';
import type { RequestHandler } from './$types';

const MINUTE_MS = 60_000;

/** The last one of a policy, and the minute that it is of. */
const known = new WeakMap<Policy, { minute: number; text: Promise<string> }>();

/** What a stranger may know of, whoever asks: search engines are strangers. Worked out once a minute at most. */
export const GET: RequestHandler = async ({ locals: { app } }) => {
	const look = await lookOf(app, null, null, null);
	const minute = Math.floor(look.now / MINUTE_MS);
	let kept = known.get(look.policy);
	if (kept?.minute !== minute) {
		kept = { minute, text: siteMap(app, look) };
		known.set(look.policy, kept);
		kept.text.catch(() => known.delete(look.policy));
	}
	return new Response(await kept.text, { headers: { 'content-type': 'application/xml; charset=utf-8' } });
};

async function siteMap(app: App.Locals['app'], look: Look): Promise<string> {
	const items = await listFor(app, look, (item) => item.address !== null);
	const front = decideAddress(look.policy, look.viewer, '/', look.now);
	const paths = [
		...(isKnownTo(front) ? ['/'] : []),
		...(await listedLabels(app, look, items)).map(({ path }) => path),
		'/plans',
		...items.map(({ address }) => address ?? '/')
	];
	const urls = paths.map((path) => `<url><loc>${escapeXml(app.settings.origin + path)}</loc></url>`);
	return `<?xml version="1.0" encoding="UTF-8"?>\n<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">${urls.join('')}</urlset>\n`;
}

function escapeXml(text: string): string {
	return text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}
