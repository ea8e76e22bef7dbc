/**
 * Changes a price for whoever has bought at an earlier one: from their next payment on that is far enough away to be told of
 * before. Each is told by mail when it is settled, and can cancel until it is charged.
 */
import { seatedTerms } from '$core/billing/seats';
import { eq } from 'drizzle-orm';
import { mayReprice } from '$core/billing/agreement';
import { repriceNotice } from '$core/billing/announcing';
import { courseNow } from '../../db/queries/agreements';
import { earlierPrices, nextToReprice } from '../../db/queries/repricing';
import { planById, priceVersionById } from '../../db/queries/sales';
import { agreements, plans } from '../../db/schema/sales';
import type { Repricing } from '../../jobs/kinds';
import { need, type Staff } from '../../people/need';
import { transact, type Transacting } from '../../transact';
import { lockAgreement, turnAgreement } from '../sales/move-agreement';

export type Repriced =
	| { ok: true; count: number }
	/** `changed`: it is not any more what was shown. */
	| { ok: false; code: 'unknown' | 'changed' };

/** @param seen what was shown, and is agreed to */
export async function reprice(
	app: Transacting,
	actor: Staff,
	{ planId, priceId, seen }: { planId: string; priceId: string; seen: string }
): Promise<Repriced> {
	need(actor, 'plans');
	return transact(app, actor, async (work): Promise<Repriced> => {
		await work.tx.select({ id: plans.id }).from(plans).where(eq(plans.id, planId)).for('update');
		const plan = await planById(work.tx, planId);
		const price = (await earlierPrices(work.tx, planId)).find((one) => one.priceId === priceId);
		if (!plan || !price) return { ok: false, code: 'unknown' };
		if (price.seen !== seen) return { ok: false, code: 'changed' };
		const { versionId, count, groups, terms } = price;
		const of = { planId, priceId, versionId, boughtBy: work.now };
		await work.queue('reprice', { ...of, after: NONE }, { key: `reprice:${versionId}:${work.now}` });
		await work.note({
			action: 'repriced',
			subject: { kind: 'plan', id: planId },
			before: groups.map((group) => ({ terms: group.terms, members: group.count })),
			after: { plan: plan.name, price: price.name, terms }
		});
		return { ok: true, count };
	});
}

const AT_ONCE = 100;
/** Before every id. */
const NONE = '00000000-0000-0000-0000-000000000000';

/** The job: settles it with the next hundred, each in a transaction of its own, and goes on with those after them. */
export async function repriceSome(app: Transacting, of: Repricing): Promise<void> {
	const ids = await nextToReprice(app.db, of, { ...of, most: AT_ONCE });
	for (const id of ids) await repriceAgreement(app, id, of.versionId);
	const last = ids.at(-1);
	if (last === undefined || ids.length < AT_ONCE) return;
	await transact(app, null, (work) =>
		work.queue('reprice', { ...of, after: last }, { key: `reprice:${of.versionId}:${of.boughtBy}:${last}` })
	);
}

const DAY_MS = 86_400_000;

/** The job of one: now, or when the next payment that is too near to be told of has been asked for. */
export async function repriceAgreement(
	app: Transacting,
	agreementId: string,
	versionId: string
): Promise<void> {
	await transact(app, null, async (work) => {
		const row = await lockAgreement(work, agreementId);
		const [present, price] = [
			await priceVersionById(work.tx, row.priceVersionId),
			await priceVersionById(work.tx, versionId)
		];
		// Moved to another price since, or on to a newer version of this one.
		if (present.priceId !== price.priceId || present.version >= price.version) return;
		const course = await courseNow(work.tx, row);
		const { kind } = course.state;
		// Whoever leaves, or is to move, pays it no more.
		if (kind === 'ended' || kind === 'finished' || kind === 'ending') return;
		if ((kind === 'running' || kind === 'first') && !mayReprice(course)) return;
		const notice = repriceNotice(course);
		if (notice !== null && notice.until >= work.now) {
			await turnAgreement(work, agreementId, {
				kind: 'repriced',
				terms: seatedTerms(price.terms, row.seats)
			});
			await work.tx
				.update(agreements)
				.set({ priceVersionId: versionId })
				.where(eq(agreements.id, agreementId));
			return;
		}
		const runAt = Math.max(notice?.dueAt ?? 0, work.now) + DAY_MS;
		await work.queue(
			'reprice-one',
			{ agreementId, versionId },
			{ key: `reprice-one:${agreementId}:${versionId}:${runAt}`, runAt, subjectId: agreementId }
		);
	});
}
