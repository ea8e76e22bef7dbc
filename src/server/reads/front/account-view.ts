import { OFFLINE_WAITS_DAYS } from '$core/billing/pay-by';
import { answerTo, outlookOf, owedNow } from '$core/billing/agreement-answers';
import { standingOf } from '$core/billing/payment';
import { sellsTo } from '$core/access/offers';
import { sellsAt } from '$core/billing/plan-access';
import { phaseOf } from '$core/billing/phases';
import type { Course } from '$core/billing/agreement-course';
import { mayMove } from '$core/billing/move';
import { givenTo } from './given';
import { giftsOf } from './gifts';
import { seatsWaiting } from './seats';
import { shownOfPlan } from './lists';
import type { Using } from '../../app';
import type { Look, Looking } from '../../rights/look';
import { itemsByIds } from '../../db/queries/items';
import {
	agreementsOf,
	courseNow,
	ownAgreement,
	stepsNow,
	type AgreementRow
} from '../../db/queries/agreements';
import { accountById } from '../../db/queries/members';
import { movesOf } from '../../db/queries/moves';
import { whyAddressHeld } from '../../db/queries/sent-mails';
import { askedOffline, cardsOf, paymentsOf, planById, waitingOrders } from '../../db/queries/sales';

/** What members see of their plans and payments; every row leads to the content. */
export async function accountView(app: Looking, look: Look, memberId: string) {
	const account = await accountById(app.db, memberId);
	const plans = [];
	const { mayPause } = await app.site();
	const cards = await cardsOf(app.db, memberId);
	const asked = await askedOffline(app.db, memberId);
	const { viewer } = look;
	const { grants } = viewer;
	// What somebody else has paid for stands with what is given: of its price nothing is said.
	const gave = new Set(grants.filter(({ source }) => source === 'gift').map(({ id }) => id));
	for (const row of await agreementsOf(app.db, memberId)) {
		if (gave.has(row.grantId)) continue;
		const plan = await planById(app.db, row.planId);
		if (!plan) continue;
		const course = await courseNow(app.db, row);
		const { open } = course;
		const terms = termsShown(course);
		const items = await itemsByIds(app.db, await shownOfPlan(app, look, plan.id));
		plans.push({
			id: row.id,
			name: plan.name,
			slug: plan.slug,
			seats: row.seats,
			isOnSale: sellsAt(plan, look.now) && sellsTo(look.policy, look.viewer, plan, look.now),
			state: row.state,
			isInstalments: terms.then.kind === 'more' && terms.then.times !== null,
			endReason: row.endReason,
			endedAt: row.endedAt,
			/** The end of what is paid; `null`: it has none. */
			paidThrough: row.paidThrough,
			/** Until when it is open, though nothing more is asked for; `null`: for good, or shut. */
			openUntil: open?.until ?? null,
			isOpen: open !== null && open.from <= look.now,
			/** When it begins, where that is still to come. */
			begins: open !== null && open.from > look.now ? open.from : null,
			terms,
			/** Whether the member may pause it now. */
			mayPause: mayPause && answerTo(course, { kind: 'rest', until: null }).kind === 'possible',
			owed: owedNow(course),
			/** What is charged next; `null`: nothing, or not before something else happens. */
			nextMinor: outlookOf(course).next?.amountMinor ?? null,
			/** To what it is moved with the next due. */
			later: await laterOf(app, course),
			mayMove: mayMove(course) && (await hasMoves(app, look, memberId, row.id)),
			/** What is due and paid by the member themselves. */
			toPay: asked.find(({ agreementId }) => agreementId === row.id)?.id ?? null,
			/** When the card that was declined is tried again, or a pause is over; `null`: not by itself. */
			tryAt: row.state === 'owing' || row.state === 'resting' ? row.nextAt : null,
			card: hasNext(row) ? cardOf(cards, row.cardRef) : null,
			items: items.map(({ id, title, address }) => ({ id, title, address }))
		});
	}
	const payments = (await paymentsOf(app.db, memberId)).map(({ documents, ...payment }) => ({
		id: payment.id,
		standing: standingOf(payment),
		amountMinor: payment.amountMinor,
		currency: payment.currency,
		at: payment.createdAt,
		documents: documents.map(({ number }) => number)
	}));
	const given = await givenTo(app, look);
	const gifts = await giftsOf(app, memberId);
	const seats = await seatsWaiting(app, memberId);
	const email = account?.email ?? null;
	const isHeld = email !== null && (await whyAddressHeld(app.db, email, look.now)) !== null;
	return {
		...{ plans, given, gifts, seats, payments },
		waiting: await waitingOrders(app.db, memberId),
		/** Where mails do not arrive; `null`: they do, as far as is known. */
		unreached: isHeld ? email : null
	};
}

/** What it costs, as it goes on; of whoever has gone down, by the next due. */
function termsShown({ phases, state }: Course) {
	const present = phaseOf(phases, state.period);
	const next = phases.find(({ from }) => from > state.period);
	return (present.pricedAs === undefined ? present : (next ?? present)).terms;
}

async function laterOf(app: Using<'db'>, { phases, state }: Course) {
	if (phaseOf(phases, state.period).pricedAs !== undefined) return null;
	// Another price of the same is said by what is charged next.
	const later = phases.find(({ from, isRepriced }) => from > state.period && !isRepriced);
	const plan = later && (await planById(app.db, later.planId));
	return plan ? { at: later.start, name: plan.name } : null;
}

/** Whether there is anything to move to, or to be told why not. */
async function hasMoves(app: Looking, look: Look, memberId: string, agreementId: string): Promise<boolean> {
	const { zone, tax } = await app.site();
	const moves = await movesOf(app.db, memberId, agreementId, { now: look.now, zone, tax });
	return (moves?.to.length ?? 0) > 1;
}

/** Whether something may still be charged. */
function hasNext({ state, cardRef, processor }: AgreementRow): boolean {
	return (
		processor === 'card' &&
		cardRef !== null &&
		state !== 'ended' &&
		state !== 'finished' &&
		state !== 'ending'
	);
}

/** What may be shown of a card; of one from before cards were kept nothing is known. */
function cardOf(cards: Awaited<ReturnType<typeof cardsOf>>, ref: string | null) {
	const card = cards.find((one) => one.ref === ref);
	return { ending: card?.ending ?? null, expires: card?.expires?.split('-').reverse().join('/') ?? null };
}

/** What is due of a member who pays by themselves; `null`: it is none of theirs, or not waited for any more. */
export async function duePage(app: Using<'clock' | 'db' | 'site'>, memberId: string, paymentId: string) {
	const due = (await askedOffline(app.db, memberId)).find(({ id }) => id === paymentId);
	const row = due?.agreementId ? await ownAgreement(app.db, memberId, due.agreementId) : null;
	const plan = row && (await planById(app.db, row.planId));
	if (!due || !row || !plan) return null;
	const { open } = await courseNow(app.db, row);
	const { amountMinor, currency, number, createdAt } = due;
	return {
		...{ planName: plan.name, amountMinor, currency, number },
		openUntil: open?.until ?? null,
		until: createdAt + OFFLINE_WAITS_DAYS * 86_400_000,
		how: (await app.site()).offline.how
	};
}

/** How a member may pause a plan now, the shortest first; `null`: it is none of theirs. */
export async function pausesOf(app: Using<'clock' | 'db' | 'site'>, memberId: string, agreementId: string) {
	const row = await ownAgreement(app.db, memberId, agreementId);
	const plan = row && (await planById(app.db, row.planId));
	if (!row || !plan) return null;
	const { mayPause } = await app.site();
	const steps = mayPause ? await stepsNow(app.db, row, app.clock.business()) : [];
	const pauses = steps.filter(({ state }) => state.kind === 'resting');
	// A pause without an end comes last.
	const sorted = [...pauses].sort((a, b) => Number(a.step === 'rest') - Number(b.step === 'rest'));
	return { name: plan.name, paidThrough: row.paidThrough, pauses: sorted };
}
