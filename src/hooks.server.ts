import { looksLink } from '$server/http/looks';
import {
	redirect,
	type Handle,
	type HandleServerError,
	type RequestEvent,
	type ServerInit
} from '@sveltejs/kit';
import { building } from '$app/environment';
import { decideAddress } from '$core/access/decide/decide';
import { isList, isReserved, normalisePath } from '$core/access/address';
import { isPractised, mayAt } from '$core/staff/permissions';
import { deterrentsOf, frameAncestors } from '$core/media/deterrents';
import { codeDevice, currencyOf, sessionCookie } from '$server/http/cookies';
import { decideIn, lookOf, maskedEmail, otherSideLook, splitOtherSide, type Look } from '$server/rights/look';
import { asOtherSide } from '$server/http/other-side-page';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { isDiskFull } from '$server/disk-full';
import { frontError } from '$server/http/front-error';
import { practisedBy } from '$server/http/practised';
import { refused } from '$server/http/refused';
import { completedPolicy } from '$server/http/security-headers';
import { hashOf } from '$server/people/sessions';
import { shownDeterrents } from '$server/rights/shown';
import { running, startStile } from '$server/instance';
import type { Standing } from '$server/rights/rights';
import { NotInPractice } from '$server/transact';

export const init: ServerInit = async () => {
	if (!building) await startStile(process.env);
};

/** Who asks, and whether they may: decided here, before any load, action or `__data.json` runs. */
export const handle: Handle = async ({ event, resolve }) => {
	const stile = running();
	// The kit has spellings of its own (a slash behind data requests, addresses in headers): there is one here, too.
	const normal = normalisePath(event.url.pathname);
	if (!normal.ok) return refused(event, 400, 'error.unreadable-address');
	const { token: otherSide, path } = splitOtherSide(normal.path);
	const isDesk = path === '/desk' || path.startsWith('/desk/');
	const { app, runner } = (await practisedBy(stile, event.request.headers.get('cookie'))) ?? stile;
	// Whoever practises is staff at the Desk, and on the front whom they made up.
	const known = isDesk ? stile.app : app;
	const token = event.cookies.get(sessionCookie(known));
	const accountId = token ? await known.rights.sessionAccount(hashOf(token)) : null;
	const standing = accountId === null ? null : await known.rights.standing(accountId);
	Object.assign(event.locals, { app, runner, practice: stile.practice, site: stile.app });
	event.locals.access = null;
	event.locals.isDiskFull = false;
	event.locals.path = path;
	const site = await app.site();
	event.locals.language = standing?.language ?? site.language;
	if (otherSide === null) {
		const looks = await lookOf(app, standing, codeDevice(event.cookies), event.getClientAddress());
		const { cookies, url } = event;
		event.locals.look = { ...looks, currency: currencyOf(cookies, url, app.settings.origin) };
		event.locals.viewer = standing && viewerOf(standing, standing.email);
	} else {
		const mayLook = standing !== null && mayAt(standing.permissions, '/desk/other-side');
		const look = mayLook ? await otherSideLook(app, otherSide, standing.viewer.id) : null;
		if (!look || isDesk)
			return refused(event, 404, 'This view of the other side is not yours, or does not exist any more.');
		if (event.request.method !== 'GET') return refused(event, 405, 'The other side is for looking only.');
		event.locals.look = look;
		const seen = look.memberId === null ? null : await app.rights.standing(look.memberId);
		event.locals.viewer = seen && viewerOf(seen, maskedEmail(seen.email));
		event.locals.language = seen?.language ?? site.language;
	}

	if (isDesk && path !== '/desk/first-owner') {
		if (!standing) redirect(303, `/sign-in?next=${encodeURIComponent(path)}`);
		if (standing.lacksFactor) redirect(303, `/account/second?next=${encodeURIComponent(path)}`);
		if (!mayAt(standing.permissions, path, actionOf(event))) {
			const wayOn = standing.role === 'member' ? undefined : { href: '/desk', label: 'Back to Today' };
			return refused(event, 403, refusalFor(standing), wayOn);
		}
		if (app.isPractice && !isPractised(path)) return refused(event, 403, NOT_PRACTISED, TO_PRACTICE);
	}
	// By a form that asks for a table nothing is saved.
	if (isDesk && !path.endsWith('.csv') && isBareForm(event.request))
		return refused(event, 400, NEEDS_SCRIPTS, { href: path, label: 'Load the page again' });
	if (!isReserved(path)) event.locals.access = await accessTo(app, event.locals.look, path);
	// The Desk is Stile's own.
	const sheet = isDesk ? '' : looksLink(site.looks.colour);
	const onOtherSide = event.locals.look.otherSide && asOtherSide(event.locals.look.otherSide.prefix);
	const response = await resolve(event, {
		transformPageChunk(chunk) {
			// The Desk is in English.
			const html = chunk.html
				.replace('%stile.language%', isDesk ? 'en' : event.locals.language)
				.replace('<!-- %stile.looks% -->', sheet);
			return onOtherSide ? onOtherSide({ ...chunk, html }) : html;
		}
	});
	// The kit answers whatever fails with 500.
	if (event.locals.isDiskFull) return refused(event, 507, 'error.disk-full');
	const frames = await framesOf(path, response.ok);
	return withHeaders(response, event.locals.look, frames, isForAnyone(event, response));
};

const NOT_PRACTISED =
	'This belongs to the site itself, and while you practise it stays as it is. Leave practice, and go on here.';
const TO_PRACTICE = { href: '/desk/practice', label: 'To the practice book' };

const NEEDS_SCRIPTS =
	'Nothing was saved. This form works with the scripts of its page, and they did not run: what you chose in it would have been left out. Go back, and your words are still there. Let scripts run for this site, and load the page again.';

/** A form that a browser sent by itself, and not the scripts of its page: of fields that are theirs it holds the old state. */
function isBareForm({ method, headers }: Request): boolean {
	return method === 'POST' && !headers.has('x-sveltekit-action') && isForm(headers.get('content-type') ?? '');
}

function isForm(type: string): boolean {
	return /^(?:application\/x-www-form-urlencoded|multipart\/form-data|text\/plain)\b/i.test(type);
}

/** The action that a form is sent to, as the kit names it in the address. */
function actionOf({ request, url }: RequestEvent): string | null {
	if (request.method === 'GET' || request.method === 'HEAD') return null;
	const name = [...url.searchParams.keys()].find((key) => key.startsWith('/'));
	return name === undefined ? null : name.slice(1);
}

function refusalFor({ role }: Standing): string {
	return role === 'member'
		? 'The Desk is for the people who run this site. You are signed in as a member.'
		: 'Your role does not include this. Whoever runs this site can change that under Settings, Staff.';
}

/** Sites on which a film, or what is sold, may stand, for the addresses that are made for it; `null` for all others. */
async function framesOf(path: string, isThere: boolean): Promise<string | null> {
	// Prices may stand anywhere: nothing can be pressed there but ways to the checkout.
	if (path === '/embed/plans') return '*';
	const itemId = /^\/embed\/([0-9a-f-]{36})$/.exec(path)?.[1];
	if (!itemId) return null;
	const { app } = running();
	const { deterrents } = await app.site();
	// What answers as if it did not exist says nothing of its own sites either.
	if (!isThere) return frameAncestors(deterrents.embedSites);
	const { embedSites } = deterrentsOf(deterrents, (await shownDeterrents(app)).get(itemId) ?? null);
	return frameAncestors(embedSites);
}

async function accessTo(app: App.Locals['app'], look: Look, path: string): Promise<App.Locals['access']> {
	const resource = look.policy.byAddress.get(path);
	// An address that nothing has is not open by that no fence speaks of it.
	if (!resource && !isList(path)) return null;
	return {
		itemId: resource?.id ?? null,
		decision: resource
			? await decideIn(app, look, resource.id)
			: decideAddress(look.policy, look.viewer, path, look.now)
	};
}

function viewerOf({ viewer, name, permissions, owes }: Standing, email: string) {
	return { id: viewer.id, name, email, permissions, owes };
}

/** A page that is open to anyone, as a stranger finds it: browsers may show it again on the way back. */
function isForAnyone(
	{ request, locals: { access, app, look } }: RequestEvent,
	{ status }: Response
): boolean {
	const isStranger = look.viewer.kind === 'stranger' && look.viewer.redemptions.length === 0;
	return (
		request.method === 'GET' &&
		status === 200 &&
		isStranger &&
		!app.isPractice &&
		look.otherSide === null &&
		access?.decision.verdict === 'open'
	);
}

function withHeaders(
	response: Response,
	{ otherSide }: Look,
	frames: string | null,
	isForAnyone: boolean
): Response {
	const { headers } = response;
	const payOrigins = Object.values(running().app.processors).flatMap((one) => one.payOrigins);
	const ancestors = frames ?? (otherSide ? "'self'" : "'none'");
	const policy = headers.get('content-security-policy');
	headers.set('content-security-policy', completedPolicy(policy, { payOrigins, frames: ancestors }));
	// The older header knows no list of sites: where there is one, only the newer is sent.
	if (frames === null) headers.set('x-frame-options', otherSide ? 'SAMEORIGIN' : 'DENY');
	// The same for all others, so that a page that hides itself cannot be told from one that does not exist.
	if (!headers.get('cache-control')?.includes('immutable'))
		headers.set('cache-control', isForAnyone ? 'private, no-cache' : 'private, no-store');
	if (otherSide) {
		headers.delete('set-cookie');
		// The scripts that it would have fetched are taken out of the page.
		headers.delete('link');
		const location = headers.get('location');
		if (location?.startsWith('/')) headers.set('location', otherSide.prefix + location);
	}
	return response;
}

export const handleError: HandleServerError = ({ error: cause, event, status, message }) => {
	if (status === 404) return NO_SUCH_PAGE;
	// What the kit refuses by itself: a method, a body that is too large.
	if (status < 500) return { message };
	if (cause instanceof NotInPractice) return { message: cause.message };
	running().app.log.error({ err: cause, path: event.url.pathname }, 'a page failed');
	event.locals.isDiskFull = isDiskFull(cause);
	if (event.locals.isDiskFull) return frontError('error.disk-full');
	return frontError('error.our-side');
};
