/** What a member could move to, as their pages say it. */
import { phaseOf } from '$core/billing/phases';
import { waysToPay } from '$core/billing/pay-by';
import type { Using } from '../../app';
import { agreementRevision, courseNow } from '../../db/queries/agreements';
import { movesOf, type Movable } from '../../db/queries/moves';

/** Rungs from the lowest, each with what moving there asks for; `null`: it is none of theirs. */
export async function movesPage(app: Using<'clock' | 'db' | 'site'>, memberId: string, agreementId: string) {
	const now = app.clock.business();
	const { zone, tax } = await app.site();
	const moves = await movesOf(app.db, memberId, agreementId, { now, zone, tax });
	if (!moves) return null;
	const { row, plan, to } = moves;
	const { state, phases } = await courseNow(app.db, row);
	const present = phaseOf(phases, state.period);
	const next = phases.find(({ from, isRepriced }) => from > state.period && !isRepriced) ?? null;
	// Whoever has gone down has it by now, and does not take it back.
	const later = present.pricedAs === undefined ? next : null;
	const terms = present.pricedAs === undefined ? present.terms : (next ?? present).terms;
	return {
		id: row.id,
		held: { name: plan.name, terms, paidThrough: row.paidThrough },
		later: later && {
			...{ at: later.start, terms: later.terms },
			name: to.find((one) => one.plan.id === later.planId)?.plan.name ?? plan.name
		},
		to: to.map((one) => ({ ...shown(one), isHeld: one.plan.id === plan.id }))
	};
}

function shown({ plan, price, terms, answer }: Movable) {
	const { name, lines, rung } = plan;
	return { priceId: price.priceId, plan: name, lines, rung, price: price.name, terms, answer };
}

/** One move, with all that it asks for, as it is shown before it is done. */
export async function movePage(
	app: Using<'clock' | 'db' | 'site'>,
	memberId: string,
	agreementId: string,
	priceId: string,
	/** For how many people, where that is to be more than now. */
	seats: number | null = null
) {
	const now = app.clock.business();
	const { zone, tax, payBy, offline } = await app.site();
	const wanted = { now, zone, tax, ...(seats !== null && { seats }) };
	const moves = await movesOf(app.db, memberId, agreementId, wanted);
	const movable = moves?.to.find(({ price }) => price.priceId === priceId);
	if (!moves || !movable) return null;
	const { row, plan } = moves;
	const ways = waysToPay(payBy, movable.plan.payBy);
	return {
		...{
			id: row.id,
			held: plan.name,
			to: shown(movable),
			seats: seats !== null && seats !== row.seats ? seats : null
		},
		seen: { at: now, revision: agreementRevision(row) },
		ways: ways.map((way) => ({ way, name: way === 'offline' ? offline.name : '' })),
		chosen: ways.includes(row.processor) ? row.processor : (ways[0] ?? 'card')
	};
}
