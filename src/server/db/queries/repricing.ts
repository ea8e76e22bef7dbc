/** Who pays an earlier version of a price still. */
import { and, asc, eq, gt, inArray, lte, ne, sql } from 'drizzle-orm';
import { repricedTerms } from '$core/billing/phases';
import { regularMinor, termsFrom, type Terms } from '$core/billing/terms';
import { revisionOf } from '../../revision';
import type { Handle } from '../connect';
import { agreements, prices, priceVersions } from '../schema/sales';
import { total } from './lists';
import { priceVersionById, pricesOf } from './sales';

/** In these something is asked for again, or may be. */
const GOING_ON = ['first', 'running', 'renewing', 'owing', 'resting'] as const;

/** How many have agreed to each version of a plan's prices but the newest, and go on paying it. */
async function payingEarlier(db: Handle, planId: string) {
	const newest = sql`(select max(newer.version) from price_versions newer where newer.price_id = ${priceVersions.priceId})`;
	return db
		.select({ priceId: priceVersions.priceId, versionId: priceVersions.id, count: total })
		.from(agreements)
		.innerJoin(priceVersions, eq(priceVersions.id, agreements.priceVersionId))
		.innerJoin(prices, eq(prices.id, priceVersions.priceId))
		.where(
			and(
				eq(agreements.planId, planId),
				eq(prices.planId, planId),
				inArray(agreements.state, GOING_ON),
				sql`${priceVersions.version} < ${newest}`
			)
		)
		.groupBy(priceVersions.priceId, priceVersions.id)
		.orderBy(asc(priceVersions.id));
}

/** What changing a price for them would do. */
export interface EarlierPrice {
	priceId: string;
	name: string;
	/** What it asks for now. */
	terms: Terms;
	versionId: string;
	/** What is paid still, and by how many. */
	groups: { terms: Terms; count: number; moreMinor: number }[];
	count: number;
	/** Of what is shown: the yes is to it. */
	seen: string;
}

/** Of a plan's prices those that some pay an earlier version of, which can be changed for them. */
export async function earlierPrices(db: Handle, planId: string): Promise<EarlierPrice[]> {
	const rows = await payingEarlier(db, planId);
	if (rows.length === 0) return [];
	const all = await pricesOf(db, planId);
	const versions = new Map<string, Terms>();
	for (const { versionId } of rows) versions.set(versionId, (await priceVersionById(db, versionId)).terms);
	return all.flatMap(({ priceId, name, id: versionId, terms }) => {
		const groups = rows
			.filter((row) => row.priceId === priceId)
			.flatMap(({ versionId: of, count }) => {
				const before = versions.get(of);
				const left = before && (termsFrom(before, 1) ?? before);
				if (!left || !repricedTerms(left, terms)) return [];
				return [{ terms: left, count, moreMinor: regularMinor(terms) - regularMinor(left) }];
			});
		if (groups.length === 0) return [];
		const count = groups.reduce((sum, group) => sum + group.count, 0);
		const seen = revisionOf({ versionId, groups: groups.map((group) => [group.terms, group.count]) });
		return [{ priceId, name, terms, versionId, groups, count, seen }];
	});
}

/** The next of them, by their ids: those who pay another version of a price than that, and had bought by a moment. */
export async function nextToReprice(
	db: Handle,
	{ priceId, versionId, planId }: { priceId: string; versionId: string; planId: string },
	{ boughtBy, after, most }: { boughtBy: number; after: string; most: number }
): Promise<string[]> {
	const rows = await db
		.select({ id: agreements.id })
		.from(agreements)
		.innerJoin(priceVersions, eq(priceVersions.id, agreements.priceVersionId))
		.where(
			and(
				eq(agreements.planId, planId),
				eq(priceVersions.priceId, priceId),
				ne(agreements.priceVersionId, versionId),
				inArray(agreements.state, GOING_ON),
				lte(agreements.anchor, boughtBy),
				gt(agreements.id, after)
			)
		)
		.orderBy(asc(agreements.id))
		.limit(most);
	return rows.map(({ id }) => id);
}
