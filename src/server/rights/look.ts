/**
 * Who looks, as of when, by which rules: what every page of the front is decided with.
 *
 * Usually that is whoever sent the request, now, by today's rules. From the Desk's other side it is somebody else, at
 * another moment: such a look only reads, counts nothing, and hides private addresses.
 */
import { decide } from '$core/access/decide/decide';
import type { Decision } from '$core/access/decision';
import { NO_CONTEXT, STRANGER, type Member, type Viewer } from '$core/access/model';
import { compile, type Policy } from '$core/access/policy';
import { newcomer } from '$core/access/newcomers';
import type { Instant } from '$core/time/instant';
import type { Using } from '../app';
import { accountById } from '../db/queries/members';
import { policyAt } from '../db/queries/policy';
import { keptOut, keptOutOfSite, type Looking } from './place';
import { shownDeterrents } from './shown';
import type { Standing } from './rights';

export type { Looking } from './place';

export interface Look {
	viewer: Viewer;
	/** The account that pages may show things of; `null` for strangers and made-up viewers. */
	memberId: string | null;
	now: Instant;
	policy: Policy;
	/** In which currency they want prices; left out: they have not said. */
	currency?: string | undefined;
	/** The address that the request comes from; `null` where somebody else's is not known. */
	client: string | null;
	/** Set when this is the other side: its prefix for addresses, and what it says of itself. */
	otherSide: { prefix: string; label: string } | null;
}

export async function lookOf(
	app: Using<'clock' | 'rights'>,
	standing: Standing | null,
	deviceHash: string | null,
	client: string | null
): Promise<Look> {
	return {
		viewer: standing?.viewer ?? (await app.rights.stranger(deviceHash)),
		memberId: standing?.viewer.id ?? null,
		now: app.clock.business(),
		policy: await app.rights.policy(),
		client,
		otherSide: null
	};
}

export async function decideIn(app: Looking, look: Look, resourceId: string): Promise<Decision> {
	const place = await keptOut(app, resourceId, look.client);
	const context = await app.rights.context(look.policy, look.viewer, resourceId, place);
	return decide(look.policy, look.viewer, resourceId, look.now, context);
}

/**
 * The same for many resources at once: where nothing is counted, and nothing of its own keeps a place apart, no decision waits
 * for anything.
 */
export async function decidingIn(
	app: Looking,
	look: Look
): Promise<(resourceId: string) => Decision | Promise<Decision>> {
	const { policy, viewer, now, client } = look;
	const apart = await shownDeterrents(app);
	const place = await keptOutOfSite(app, client);
	const context = place === null ? NO_CONTEXT : { ...NO_CONTEXT, keptOut: place };
	return (id) => {
		const isCounted = policy.entry(id)?.passage.ways.some(({ limits }) => limits !== null);
		return isCounted || apart.has(id) ? decideIn(app, look, id) : decide(policy, viewer, id, now, context);
	};
}

/** As whom the other side looks. */
export type OtherViewer =
	| { kind: 'stranger' }
	| { kind: 'member'; id: string }
	/** Somebody who joined the plan so many days ago, whichever moment is looked at. */
	| { kind: 'holder'; planId: string; days: number }
	/** Somebody whose plan ran out on the day before. */
	| { kind: 'lapsed'; planId: string };

export interface OtherSideAsk {
	as: OtherViewer;
	/** `null`: now. */
	at: Instant | null;
	rules: 'today' | 'then';
	/** The staff member who looks: the address works for nobody else. */
	by: string;
}

const PURPOSE = 'other-side';
const PREFIX = /^\/other-side\/([\w.-]+)(\/.*|$)/;
const DAY_MS = 86_400_000;

export function otherSideToken(app: Using<'keys'>, ask: OtherSideAsk): string {
	return app.keys.signText(PURPOSE, JSON.stringify(ask));
}

export function otherSidePrefix(token: string): string {
	return `/other-side/${token}`;
}

/** The path without the other side's prefix, and its token. */
export function splitOtherSide(pathname: string): { token: string | null; path: string } {
	const match = PREFIX.exec(pathname);
	return match ? { token: match[1] ?? '', path: match[2] || '/' } : { token: null, path: pathname };
}

/** `null`: the address is not one of this staff member's. */
export async function otherSideLook(
	app: Using<'clock' | 'db' | 'keys' | 'rights'>,
	token: string,
	staffId: string
): Promise<Look | null> {
	const text = app.keys.readText(PURPOSE, token);
	if (text === null) return null;
	const ask = JSON.parse(text) as OtherSideAsk;
	if (ask.by !== staffId) return null;
	if (ask.as.kind === 'member') {
		const staff = await app.rights.standing(staffId);
		if (!staff?.permissions.has('members')) return null;
	}
	const now = ask.at ?? app.clock.business();
	const isPast = ask.rules === 'then' && now < app.clock.business();
	const viewer = await otherViewer(app, ask.as, now);
	if (!viewer) return null;
	return {
		...viewer,
		now,
		policy: isPast ? compile((await policyAt(app.db, now)).source) : await app.rights.policy(),
		client: null,
		otherSide: { prefix: otherSidePrefix(token), label: viewer.label }
	};
}

async function otherViewer(
	app: Using<'clock' | 'db' | 'rights'>,
	as: OtherViewer,
	now: Instant
): Promise<{ viewer: Viewer; memberId: string | null; label: string } | null> {
	switch (as.kind) {
		case 'stranger':
			return { viewer: STRANGER, memberId: null, label: 'a stranger' };
		case 'member': {
			const standing = await app.rights.standing(as.id);
			if (standing?.role !== 'member') return null;
			const account = await accountById(app.db, as.id);
			return { viewer: standing.viewer, memberId: as.id, label: account?.name ?? 'a member' };
		}
		case 'holder':
			return {
				viewer: newcomer(as.planId, app.clock.business() - as.days * DAY_MS),
				memberId: null,
				label: 'a holder of the plan'
			};
		case 'lapsed':
			return { viewer: lapsed(as.planId, now), memberId: null, label: 'a member whose plan has lapsed' };
	}
}

/** Somebody who held a plan for a month, to the day before. */
export function lapsed(planId: string, now: Instant): Member {
	const held = newcomer(planId, now - 31 * DAY_MS);
	return { ...held, grants: held.grants.map((grant) => ({ ...grant, until: now - DAY_MS })) };
}

/** `w…@mail.example`: enough to know whom one looks as, and not the address. */
export function maskedEmail(email: string): string {
	const at = email.lastIndexOf('@');
	return at < 1 ? '…' : `${email[0]}…${email.slice(at)}`;
}
