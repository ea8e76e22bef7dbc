/** Answers to "may they open it?", for the Desk and for outside programs. */
import { and, eq, isNull, like, or } from 'drizzle-orm';
import { decide, explain, explainAddress, type Explained } from '$core/access/decide/decide';
import { isReserved, normalisePath } from '$core/access/address';
import { NO_CONTEXT, type Member, type Viewer } from '$core/access/model';
import type { Policy } from '$core/access/policy';
import type { Instant } from '$core/time/instant';
import type { App } from '../../app';
import { countedByItem, countedByMember } from '../../db/queries/uses';
import { containing } from '../../db/queries/library';
import { accounts } from '../../db/schema/people';
import { items } from '../../db/schema/library';
import { STRANGER } from '../../rights/rights';

export async function checkOne(
	app: App,
	policy: Policy,
	viewer: Viewer,
	itemId: string,
	at: Instant
): Promise<Explained> {
	return explain(policy, viewer, itemId, at, await app.rights.context(policy, viewer, itemId));
}

export type CheckedAddress =
	| ({ ok: true; path: string; itemId: string | null } & Explained)
	| { ok: false; code: 'unreadable' | 'never-fenced' };

/** The same for an address of the site; a whole URL loses its host. */
export function checkAddress(policy: Policy, viewer: Viewer, typed: string, at: Instant): CheckedAddress {
	const normal = normalisePath(
		typed
			.trim()
			.replace(/^[a-z]+:\/\/[^/]+/i, '')
			.split(/[?#]/)[0] || '/'
	);
	if (!normal.ok) return { ok: false, code: 'unreadable' };
	if (isReserved(normal.path)) return { ok: false, code: 'never-fenced' };
	const itemId = policy.byAddress.get(normal.path)?.id ?? null;
	return { ok: true, path: normal.path, itemId, ...explainAddress(policy, viewer, normal.path, at) };
}

/** Who can open one item at a moment: everybody, in the order in which they came. */
export async function membersOfItem(app: App, policy: Policy, itemId: string, at: Instant) {
	const members = [...(await app.population.all()).values()];
	const resource = policy.resources.get(itemId);
	const isLimited = resource && policy.passage(resource).ways.some(({ limits }) => limits !== null);
	const counted = isLimited ? await countedByMember(app.db, itemId) : null;
	return members.map((member) => {
		const decision = decide(policy, member, itemId, at, {
			...NO_CONTEXT,
			...counted?.get(member.id)
		});
		const opensAt = decision.verdict === 'open' ? null : decision.opensAt;
		return {
			id: member.id,
			verdict: decision.verdict,
			until: decision.until,
			opensAt
		};
	});
}

/** What one member can open at a moment, of everything that has an address, in the order of the Library. */
export async function itemsOfMember(app: App, policy: Policy, member: Member, at: Instant) {
	const counted = await countedByItem(app.db, member.id);
	return policy.source.resources.flatMap(({ id, address }) => {
		if (address === null) return [];
		const decision = decide(policy, member, id, at, { ...NO_CONTEXT, ...counted.get(id) });
		const opensAt = decision.verdict === 'open' ? null : decision.opensAt;
		return [{ id, verdict: decision.verdict, until: decision.until, opensAt }];
	});
}

export interface PairAnswer {
	member: { id: string; name: string };
	item: { id: string; title: string };
	explained: Explained;
}

/** A member and an item out of one line of text, in either order: "wren strike" or "strike wren". */
export async function answerPair(app: App, text: string): Promise<PairAnswer | null> {
	const words = text.trim().split(/\s+/);
	if (words.length < 2 || words.length > 12) return null;
	for (let at = 1; at < words.length; at++) {
		const halves = [words.slice(0, at).join(' '), words.slice(at).join(' ')] as const;
		for (const [who, what] of [halves, [halves[1], halves[0]] as const]) {
			const pair = await pairOf(app, who, what);
			if (pair) return pair;
		}
	}
	return null;
}

async function pairOf(app: App, who: string, what: string): Promise<PairAnswer | null> {
	if (who.length < 2 || what.length < 2) return null;
	const [item] = await app.db
		.select({ id: items.id, title: items.title })
		.from(items)
		.where(like(items.title, containing(what)))
		.limit(1);
	if (!item) return null;
	const [member] = await app.db
		.select({ id: accounts.id, name: accounts.name })
		.from(accounts)
		.where(
			and(
				isNull(accounts.deletedAt),
				eq(accounts.role, 'member'),
				or(like(accounts.name, containing(who)), like(accounts.email, containing(who)))
			)
		)
		.limit(1);
	if (!member) return null;
	const viewer = (await app.rights.standing(member.id))?.viewer ?? STRANGER;
	const policy = await app.rights.policy();
	return { member, item, explained: await checkOne(app, policy, viewer, item.id, app.clock.business()) };
}
