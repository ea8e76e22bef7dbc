import { and, count, desc, eq, isNull, max, sum } from 'drizzle-orm';
import type { Use, UseGift } from '$core/access/model';
import type { Handle } from '../connect';
import { linkOpenings, useGifts, uses } from '../schema/access';
import { byMember, groupedBy } from './members';

/** What limits look at. */
export interface Counted {
	uses: Use[];
	gifts: UseGift[];
}

const USE = { grantId: uses.grantId, at: uses.at, goesOnUntil: uses.goesOnUntil };
const GIFT = { count: useGifts.count, at: useGifts.at };

export async function countedOf(db: Handle, memberId: string, itemId: string): Promise<Counted> {
	const own = and(eq(uses.memberId, memberId), eq(uses.itemId, itemId), isNull(uses.givenBackAt));
	const given = and(eq(useGifts.memberId, memberId), eq(useGifts.itemId, itemId));
	return {
		uses: await db.select(USE).from(uses).where(own).orderBy(uses.at),
		gifts: await db.select(GIFT).from(useGifts).where(given)
	};
}

/** The same for everybody who has used an item or was given uses of it. */
export async function countedByMember(db: Handle, itemId: string): Promise<Map<string, Counted>> {
	const used = byMember(
		await db
			.select({ memberId: uses.memberId, ...USE })
			.from(uses)
			.where(and(eq(uses.itemId, itemId), isNull(uses.givenBackAt)))
			.orderBy(uses.at)
	);
	const given = byMember(
		await db
			.select({ memberId: useGifts.memberId, ...GIFT })
			.from(useGifts)
			.where(eq(useGifts.itemId, itemId))
	);
	return together(used, given);
}

/** The same for everything that a member has used or was given uses of, by item. */
export async function countedByItem(db: Handle, memberId: string): Promise<Map<string, Counted>> {
	const used = await db
		.select({ itemId: uses.itemId, ...USE })
		.from(uses)
		.where(and(eq(uses.memberId, memberId), isNull(uses.givenBackAt)))
		.orderBy(uses.at);
	const given = await db
		.select({ itemId: useGifts.itemId, ...GIFT })
		.from(useGifts)
		.where(eq(useGifts.memberId, memberId));
	return together(
		groupedBy(used, ({ itemId }) => itemId),
		groupedBy(given, ({ itemId }) => itemId)
	);
}

function together(used: Map<string, Use[]>, given: Map<string, UseGift[]>): Map<string, Counted> {
	const ids = new Set([...used.keys(), ...given.keys()]);
	return new Map([...ids].map((id) => [id, { uses: used.get(id) ?? [], gifts: given.get(id) ?? [] }]));
}

const LINKS_SHOWN = 20;

/** A member's links that were opened from more than one network, the latest first: one that goes round shows up here. */
export async function linksThatGoRound(db: Handle, memberId: string) {
	const networks = count();
	const rows = await db
		.select({
			itemId: linkOpenings.itemId,
			networks,
			requests: sum(linkOpenings.requests).mapWith(Number),
			lastAt: max(linkOpenings.lastAt)
		})
		.from(linkOpenings)
		.where(eq(linkOpenings.memberId, memberId))
		.groupBy(linkOpenings.linkHash, linkOpenings.itemId)
		.orderBy(desc(networks))
		.limit(LINKS_SHOWN);
	return rows.filter((row) => row.networks > 1);
}
