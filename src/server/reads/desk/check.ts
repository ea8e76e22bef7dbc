/** Answers to "may they open it?", for the Desk and for outside programs. */
import { and, eq, isNull, like, or } from 'drizzle-orm';
import { decide, explain, explainAddress, type Explained } from '$core/access/decide/decide';
import { VERDICTS } from '$core/access/decision';
import { timeline } from '$core/access/timeline';
import { isReserved, normalisePath } from '$core/access/address';
import { NO_CONTEXT, type Member, type Viewer } from '$core/access/model';
import type { Policy } from '$core/access/policy';
import type { Instant } from '$core/time/instant';
import type { Using } from '../../app';
import { accountById, accountNames } from '../../db/queries/members';
import { countedByItem, countedByMember } from '../../db/queries/uses';
import { ofTitle, titles } from '../../db/queries/items';
import { containing } from '../../db/queries/library';
import { accounts } from '../../db/schema/people';
import { items } from '../../db/schema/library';
import { asOf } from './as-of';
import { pageOf } from './page-of';
import { STRANGER } from '$core/access/model';

export async function checkOne(
	app: Using<'rights'>,
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
export async function membersOfItem(
	app: Using<'db' | 'population'>,
	policy: Policy,
	itemId: string,
	at: Instant,
	asThen: (member: Member) => Member = (member) => member
) {
	const members = [...(await app.population.all()).values()].map(asThen);
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
export async function itemsOfMember(app: Using<'db'>, policy: Policy, member: Member, at: Instant) {
	const counted = await countedByItem(app.db, member.id);
	return policy.source.resources.flatMap(({ id, address, state }) => {
		if (address === null) return [];
		const decision = decide(policy, member, id, at, { ...NO_CONTEXT, ...counted.get(id) });
		const opensAt = decision.verdict === 'open' ? null : decision.opensAt;
		return [{ id, state, verdict: decision.verdict, until: decision.until, opensAt }];
	});
}

export interface PairAnswer {
	member: { id: string; name: string };
	item: { id: string; title: string };
	explained: Explained;
}

/** A member and an item out of one line of text, in either order: "wren strike" or "strike wren". */
export async function answerPair(
	app: Using<'clock' | 'db' | 'rights'>,
	text: string
): Promise<PairAnswer | null> {
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

async function pairOf(
	app: Using<'clock' | 'db' | 'rights'>,
	who: string,
	what: string
): Promise<PairAnswer | null> {
	if (who.length < 2 || what.length < 2) return null;
	const [item] = await app.db
		.select({ id: items.id, title: titles.plain })
		.from(items)
		.innerJoin(titles, ofTitle)
		.where(like(titles.plain, containing(what)))
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

const MEMBERS_ON_PAGE = 100;

/**
 * Any member, any item or address, any moment; an item alone is answered for all members.
 * @param seesMembers whether whoever asks may know of members
 */
export async function checkPage(
	app: Using<'clock' | 'db' | 'population' | 'rights'>,
	url: URL,
	seesMembers: boolean
) {
	const { moment, policy, asThen } = await asOf(app, url);
	const memberId = seesMembers ? url.searchParams.get('member') : null;
	const itemId = url.searchParams.get('item');
	const address = url.searchParams.get('address') ?? '';
	const standing = memberId ? await app.rights.standing(memberId) : null;
	const account = standing ? await accountById(app.db, standing.viewer.id) : null;
	const viewer = standing ? asThen(standing.viewer) : STRANGER;
	const item = itemId ? (policy.resources.get(itemId) ?? null) : null;
	const found = item ? await checkOne(app, policy, viewer, item.id, moment.at) : null;
	const checked = !item && address ? checkAddress(policy, viewer, address, moment.at) : null;
	const at = item?.id ?? (checked?.ok ? checked.itemId : null);
	const state = VERDICTS.find((one) => one === url.searchParams.get('state')) ?? null;
	const everybody =
		item && !account && seesMembers ? await membersOfItem(app, policy, item.id, moment.at, asThen) : [];
	const { rows, ...members } = pageOf(everybody, state, url, MEMBERS_ON_PAGE);
	const names = await accountNames(
		app.db,
		rows.map(({ id }) => id)
	);
	const stretches = at ? timeline(policy, viewer, at, moment.from, moment.to, moment.assume) : [];
	return {
		moment,
		seesMembers,
		marks: stretches.map(({ start }) => start),
		stretches,
		member: account && { id: account.id, name: account.name },
		itemId: item?.id ?? null,
		/** The item that was found by its address, too. */
		decidedId: at,
		address,
		found,
		checked,
		members: { ...members, rows: rows.map((one) => ({ ...one, name: names.get(one.id) ?? '' })) }
	};
}
