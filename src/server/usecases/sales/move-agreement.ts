/**
 * Hears what happened to an agreement, works out what has become of it, and carries out what is to be done now.
 *
 * Every fact is kept with the moment at which it happened; the row says what the core made of them last.
 */
import { and, eq, gte, isNull, or } from 'drizzle-orm';
import { courseOf, courseWith, type Beginning } from '$core/billing/agreement';
import { answerTo, outlookOf, type Answer } from '$core/billing/agreement-answers';
import type { Course } from '$core/billing/agreement-course';
import { effectsOf, type Effect } from '$core/billing/agreement-effects';
import { announcementOf } from '$core/billing/announcing';
import { ASKED_ONCE, BY_HAND } from '$core/billing/agreement-facts';
import type {
	AgreementCommand,
	AgreementEvent,
	AgreementFact,
	AgreementTurn,
	Charge,
	Collecting
} from '$core/billing/agreement-facts';
import { phaseOf } from '$core/billing/phases';
import { isSameTax, taxedAsAgreed, termsTax } from '$core/billing/tax';
import { localDay } from '$core/time/calendar';
import type { Actor, Using } from '../../app';
import { agreementById, type AgreementRow, factsOf, originOf, stateOf } from '../../db/queries/agreements';
import { lineById, mainLinesOf, paymentsOfOrder } from '../../db/queries/sales';
import { takenSeats } from '../../db/queries/seats';
import { siteSettings } from '../../db/queries/settings';
import { grants } from '../../db/schema/access';
import { payments, agreementFacts, agreements, seats } from '../../db/schema/sales';
import { keepIncome } from './keep-income';
import { transact, type Work, type Transacting } from '../../transact';
import { grantTo, revokeGrants } from '../access/granting';

export type Moved = { kind: 'moved' } | Exclude<Answer, { kind: 'possible' }>;

/** What the member says of a cancellation. */
export interface CancelWhy {
	cancelWhy: string;
	cancelWords: string;
}

/** What somebody wants of it, now. Inside a transaction. */
export async function commandAgreement(
	work: Work,
	id: string,
	command: AgreementCommand,
	why?: CancelWhy
): Promise<Moved> {
	const known = await behindLock(work, id);
	const answer = answerTo(known.course, command);
	if (answer.kind !== 'possible') return answer;
	await move(work, known, { ...command, at: work.now }, { why });
	return { kind: 'moved' };
}

/** What was agreed anew, now. Inside a transaction. @returns whether it changes anything */
export async function turnAgreement(work: Work, id: string, turn: AgreementTurn): Promise<boolean> {
	const known = await behindLock(work, id);
	return move(work, known, { ...turn, at: work.now });
}

/**
 * What a clock or the processor told. Inside a transaction that has locked the order.
 * @param at when it happened, by the business clock
 * @param source the refund or dispute that it is of: a payment may have several
 */
export async function hearOf(
	work: Work,
	id: string,
	event: AgreementEvent,
	at: number,
	source: string | null = null
): Promise<boolean> {
	const known = await behindLock(work, id, event);
	return move(work, known, { ...event, at: Math.min(at, work.now) }, { source });
}

interface Known {
	row: AgreementRow;
	beginning: Beginning;
	facts: AgreementFact[];
	course: Course;
}

/** Until the transaction ends, nobody else moves it. */
export async function lockAgreement({ tx }: Work, id: string): Promise<AgreementRow> {
	const [row] = await tx.select().from(agreements).where(eq(agreements.id, id)).for('update');
	if (!row) throw new Error(`There is no agreement ${id}`);
	return row;
}

/** For an agreement from before steps of recurring income were kept. */
export async function keepIncomeOf(app: Transacting, id: string): Promise<void> {
	await transact(app, null, async (work) => {
		const { row, beginning, facts } = await behindLock(work, id);
		await keepIncome(work, { ...row, beginning }, facts);
	});
}

async function behindLock(work: Work, id: string, event: AgreementEvent | null = null): Promise<Known> {
	const row = await lockAgreement(work, id);
	let { beginning } = row;
	if (!beginning) {
		beginning = await asItStands(work, row, event);
		await work.tx.update(agreements).set({ beginning }).where(eq(agreements.id, id));
	}
	const facts = await factsOf(work.tx, id);
	return { row, beginning, facts, course: courseOf(originOf(row), beginning, facts) };
}

type Collected = Transacting & Using<'site'>;

/** What is due and stands in no job any more is done. @returns whether there was something */
export async function wakeAgreement(app: Collected, id: string): Promise<boolean> {
	const site = await app.site();
	return transact(app, null, async (work) => {
		const known = await behindLock(work, id);
		const collecting = collectingOf(known.row, site.collecting);
		const { charge, due, state } = known.course;
		const asked = charge ?? (state.kind === 'renewing' ? { period: state.period, attempt: 1 } : null);
		if (asked) {
			await work.queue('charge', { agreementId: id, ...asked }, { subjectId: id });
			return true;
		}
		return (
			due !== null &&
			due.at <= work.now &&
			(await move(work, known, { ...withCollecting(due.event, collecting), at: work.now }))
		);
	});
}

/** The job: a mail before what is due for a period is charged, if it still is. */
export async function tellOfRenewal(app: Transacting, id: string, period: number): Promise<void> {
	await transact(app, null, async (work) => {
		const { row, course } = await behindLock(work, id);
		const coming = announcementOf(course);
		// It was charged or cancelled since, or is due later by now: then another job tells of it.
		const isNow = coming !== null && coming.at <= work.now && work.now < coming.dueAt;
		if (!isNow || coming.period !== period) return;
		const about = { occasion: 'renews-soon' as const, agreementId: id, period };
		await work.queue('mail', about, {
			...{ key: `mail:renews-soon:${id}:${period}`, memberId: row.memberId }
		});
	});
}

/**
 * For rows from before facts were kept: what the row says, and of its payments those that came in.
 * @param event what is just being heard of, and is no part of what was
 */
async function asItStands(work: Work, row: AgreementRow, event: AgreementEvent | null): Promise<Beginning> {
	const line = await lineById(work.tx, row.orderLineId);
	const known = line ? await paymentsOfOrder(work.tx, line.orderId) : [];
	const isHeard = ({ period, attempt }: Charge) =>
		event?.kind === 'captured' && event.period === period && event.attempt === attempt;
	const paid = known
		.filter(({ state, settledAt }) => settledAt !== null && state !== 'declined' && state !== 'expired')
		.map(({ period, attempt }) => ({ period, attempt }))
		.filter((charge) => !isHeard(charge));
	return { state: stateOf(row), at: work.now, paid };
}

/** What falls due now, or after a rest, is taxed as the law says now. */
async function withTaxNow({ tx, now }: Work, known: Known, told: AgreementFact): Promise<AgreementFact> {
	if (told.kind !== 'period-over' && told.kind !== 'rest-over' && told.kind !== 'wake') return told;
	const { row, course } = known;
	// Of a period that is over already nothing is asked for any more.
	if ('period' in told && told.period !== course.state.period) return told;
	const { tax: rules, zone } = await siteSettings(tx);
	const tax = termsTax(taxedAsAgreed(rules, row.tax, localDay(now, zone)));
	const next = phaseOf(course.phases, course.state.period + 1);
	return isSameTax(next.terms.tax, tax) ? told : { ...told, tax };
}

/** Whether it changes anything. */
async function move(
	work: Work,
	known: Known,
	told: AgreementFact,
	{ why, source = null }: { why?: CancelWhy | undefined; source?: string | null } = {}
): Promise<boolean> {
	const { row, beginning, facts, course: before } = known;
	const fact = await withTaxNow(work, known, told);
	const course = courseWith(originOf(row), beginning, facts, before, fact);
	const hasChanged = JSON.stringify(spread(course)) !== JSON.stringify(spread(before));
	const isToldOnce = 'attempt' in fact && fact.kind !== 'retry-due';
	// What a clock says and changes nothing is of no use later.
	if (!hasChanged && !isToldOnce) return false;
	const [written] = await work.tx
		.insert(agreementFacts)
		.ignore()
		.values({
			agreementId: row.id,
			at: fact.at,
			heardAt: work.now,
			fact,
			onceKey: isToldOnce ? `${fact.kind}:${source ?? `${fact.period}:${fact.attempt}`}` : null
		});
	if (written.affectedRows === 0 || !hasChanged) return false;
	const { state } = course;
	await work.tx
		.update(agreements)
		.set({
			...outcomeOf(course),
			endedAt: state.kind === 'ended' ? (row.endedAt ?? work.now) : null,
			...(fact.kind === 'cancel' ? { cancelledAt: work.now, ...why } : {}),
			...(fact.kind === 'resume' ? { cancelledAt: null, cancelWhy: null, cancelWords: null } : {})
		})
		.where(eq(agreements.id, row.id));
	await keepIncome(work, { ...row, beginning }, [...facts, fact]);
	await work.note({
		action: `subscription-${fact.kind}`,
		subject: { kind: 'subscription', id: row.id },
		memberId: row.memberId,
		before: before.state,
		// Of a turn, what it is of: lists say it.
		after: 'planId' in fact ? { ...state, planId: fact.planId } : state,
		...(why ? { why: [why.cancelWhy, why.cancelWords].filter(Boolean).join(': ') } : {})
	});
	// The front says on each page what is owed.
	if (before.state.kind !== state.kind) work.standingChanged(row.memberId);
	if (isAsked(before) && !isAsked(course)) await endAsked(work, row.id);
	await carryOut(work, { ...row, period: state.period }, effectsOf(before, course), state.kind === 'ended');
	return true;
}

function isAsked({ state }: Course): boolean {
	return state.kind === 'renewing' || state.kind === 'owing';
}

/** What could still be paid by hand, or by transfer: nobody is to pay it twice, or for nothing. */
async function endAsked(work: Work, agreementId: string): Promise<void> {
	const open = await work.tx
		.select({ id: payments.id })
		.from(payments)
		.where(
			and(
				eq(payments.agreementId, agreementId),
				eq(payments.state, 'pending'),
				or(gte(payments.attempt, BY_HAND), eq(payments.processor, 'offline'))
			)
		);
	for (const { id } of open)
		await work.queue('end-pay-page', { paymentId: id }, { key: `end-pay-page:${id}` });
}

/** What the row says for lists. */
export function outcomeOf(course: Course) {
	const { state, phases } = course;
	const { paidThrough, next } = outlookOf(course);
	const { planId, terms } = phaseOf(phases, state.period);
	const step = terms.then.kind === 'more' ? terms.then.every : null;
	return {
		planId,
		state: state.kind,
		period: state.period,
		attempt: (state.kind === 'renewing' || state.kind === 'owing') && state.attempt ? state.attempt : 0,
		endReason: state.kind === 'ended' ? state.why : null,
		periodUnit: step?.unit ?? null,
		periodCount: step?.count ?? null,
		paidThrough,
		nextAt: next?.at ?? null,
		nextMinor: next?.amountMinor ?? null
	};
}

/** A course with its maps and sets as lists, to be compared. */
function spread({ paid, refunded, disputed, ...rest }: Course) {
	return { ...rest, paid: [...paid], refunded: [...refunded], disputed: [...disputed] };
}

/** An agreement whose first period was just paid, with its row written. */
export async function beginAgreement(work: Work, row: AgreementRow): Promise<void> {
	if (!row.beginning) throw new Error(`Agreement ${row.id} does not begin`);
	await keepIncome(work, row, []);
	await carryOut(work, row, effectsOf(null, courseOf(originOf(row), row.beginning, [])));
}

/** A card is tried again; who pays by themselves is asked once. */
function collectingOf({ processor }: AgreementRow, site: Collecting): Collecting {
	return processor === 'card' ? site : ASKED_ONCE;
}

/** What falls due now is asked for as the site says now. */
function withCollecting(event: AgreementEvent, collecting: Collecting): AgreementEvent {
	return event.kind === 'period-over' ? { ...event, collecting } : event;
}

/** One event that a clock told, in a transaction of its own. */
export async function handleAgreementEvent(
	app: Collected,
	actor: Actor,
	id: string,
	event: AgreementEvent
): Promise<boolean> {
	const row = await agreementById(app.db, id);
	if (!row) return false;
	const told = withCollecting(event, collectingOf(row, (await app.site()).collecting));
	return transact(app, actor, (work) => hearOf(work, id, told, work.now));
}

async function carryOut(
	work: Work,
	row: AgreementRow,
	effects: readonly Effect[],
	hasEnded = false
): Promise<void> {
	for (const effect of effects) {
		switch (effect.kind) {
			case 'charge': {
				const { period, attempt } = effect;
				await work.queue(
					'charge',
					{ agreementId: row.id, period, attempt },
					{ key: `charge:${row.id}:${period}:${attempt}`, subjectId: row.id }
				);
				break;
			}
			case 'schedule':
				await work.queue(
					'agreement-event',
					{ agreementId: row.id, event: effect.event },
					{
						key: `event:${row.id}:${effect.event.kind}:${JSON.stringify(effect.event)}`.slice(0, 160),
						runAt: effect.at,
						subjectId: row.id
					}
				);
				break;
			case 'announce':
				// What was said a moment ago needs no saying.
				if (effect.at > work.now)
					await work.queue(
						'renews-soon',
						{ agreementId: row.id, period: effect.period },
						{
							key: `renews-soon:${row.id}:${effect.period}:${effect.at}`,
							...{ runAt: effect.at, subjectId: row.id, memberId: row.memberId }
						}
					);
				break;
			case 'open-until':
				await work.tx.update(grants).set({ until: effect.until }).where(grantsWith(row));
				work.standingChanged(row.memberId);
				for (const { memberId } of await seatsTaken(work, row)) work.standingChanged(memberId);
				break;
			case 'open-anew':
				await openAnew(work, row, effect);
				break;
			case 'shut':
				await revokeGrants(work, grantsWith(row));
				break;
			case 'give-back':
				await giveBack(work, row, effect);
				break;
			case 'tell':
				await work.queue(
					'mail',
					{
						occasion: 'subscription',
						agreementId: row.id,
						message: effect.message,
						period: row.period,
						hasEnded
					},
					{ memberId: row.memberId }
				);
				break;
		}
	}
}

/** A grant that was revoked or has run out stays so, because it was: what opens again is another one. */
async function openAnew(
	work: Work,
	row: AgreementRow,
	{ planId, from: opensAt, until }: Extract<Effect, { kind: 'open-anew' }>
): Promise<void> {
	const { id: agreementId, memberId } = row;
	const from = Math.max(opensAt, work.now);
	const given = { memberId, planId, from, until, source: 'subscription' as const, by: null };
	const [grantId = ''] = await grantTo(work, [given]);
	await work.tx.update(agreements).set({ grantId }).where(eq(agreements.id, agreementId));
	work.standingChanged(memberId);
	for (const { id, memberId } of await seatsTaken(work, row)) {
		const seat = { ...given, memberId, source: 'seat' as const, seatOf: grantId };
		const [own = ''] = await grantTo(work, [seat]);
		await work.tx.update(seats).set({ grantId: own }).where(eq(seats.id, id));
	}
}

/** What it gives whoever has bought it, and what goes with that: of seats that others have. */
function grantsWith({ grantId, seats: bought }: AgreementRow) {
	const own = eq(grants.id, grantId);
	return bought === 1 ? own : or(own, and(eq(grants.seatOf, grantId), isNull(grants.revokedAt)));
}

async function seatsTaken({ tx }: Work, { id, seats: bought }: AgreementRow) {
	return bought === 1 ? [] : takenSeats(tx, id);
}

async function giveBack(work: Work, row: AgreementRow, { period, attempt }: Charge): Promise<void> {
	const line = await lineById(work.tx, row.orderLineId);
	const ofOrder = line && and(eq(payments.orderId, line.orderId), isNull(payments.agreementId));
	const paid = await work.tx
		.select({ id: payments.id, agreementId: payments.agreementId })
		.from(payments)
		.where(
			and(
				or(eq(payments.agreementId, row.id), ofOrder ?? undefined),
				eq(payments.period, period),
				eq(payments.attempt, attempt),
				eq(payments.state, 'captured')
			)
		);
	const isOneOfSeveral = line !== null && (await mainLinesOf(work.tx, line.orderId)).length > 1;
	for (const { id, agreementId } of paid) {
		// What else the order has paid for stays.
		if (isOneOfSeveral && agreementId === null)
			await work.queue(
				'give-back',
				{ paymentId: id, lineId: line.id },
				{ key: `give-back:${id}:${line.id}` }
			);
		else await work.queue('give-back', { paymentId: id }, { key: `give-back:${id}` });
	}
}
