import { error, fail } from '@sveltejs/kit';
import { countriesByName } from '$core/text/countries';
import { formatMoney, parseAmount, type AmountProblem } from '$core/billing/money';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { begunWith, fieldError, parse, readForm } from '$server/http/parse';
import { postalIn, PostalForm } from '$server/http/postal-form';
import { orderPage } from '$server/reads/desk/sales';
import { revisionOf } from '$server/revision';
import { answerPayment } from '$server/usecases/sales/answer-payment';
import { changeGiftFromDesk, type ChangedGift } from '$server/usecases/sales/change-gift';
import { changePostal, type PostalChanged } from '$server/usecases/sales/change-postal';
import { moveFromDesk, type Moved } from '$server/usecases/sales/move-plan';
import { refundPayment, type Refunded } from '$server/usecases/sales/refund-payment';
import { steerAgreement, type Steered } from '$server/usecases/sales/steer-agreement';
import type { Actions, PageServerLoad } from './$types';
import { ANSWER_PROBLEMS, AnswerForm, answerOf } from '../../answer-form';
import { GiftForm, MoveForm, RefundForm, SteerForm } from './form';

const AMOUNT_PROBLEMS: Record<AmountProblem, string> = {
	'not-a-number': 'Type an amount such as 12.50.',
	'not-positive': 'Type more than 0.',
	'too-many-decimals': 'The currency has fewer decimal places than that.',
	'too-large': 'That is more than was paid.',
	'unknown-currency': 'That currency is not known.'
};

export const load: PageServerLoad = async ({ locals: { app }, params }) => {
	const page = await orderPage(app, params.id);
	if (!page) error(404, NO_SUCH_PAGE);
	const { postal } = page.order;
	return {
		...page,
		postalRevision: postal && revisionOf(postal),
		countries: postal ? countriesByName('en') : []
	};
};

const STEER_PROBLEMS: Record<Exclude<Steered, { ok: true }>['code'], string> = {
	unknown: 'There is no such agreement any more.',
	changed: 'It has changed since you opened the page. This is how it stands now: look again, then choose.',
	'not-allowed': 'That cannot be done.',
	'already-so': 'It is so already.',
	'has-ended': 'It has ended.',
	'all-paid': 'Everything is paid, so there is nothing to end or to pause.',
	instalments: 'Instalments are owed: they do not end or pause before the last.',
	'not-cancelled': 'It is not cancelled.',
	'not-running': 'Only what is paid can be paused.',
	'not-resting': 'It is not paused.',
	'too-soon': 'It would go on before the pause begins.'
};

/** Of what the page offers, nothing is refused unless it has changed. */
const MOVE_PROBLEMS: Partial<Record<Exclude<Moved, { ok: true }>['code'], string>> = {
	unknown: 'There is no such agreement or price any more.',
	'has-ended': 'It has ended.'
};

const GIFT_PROBLEMS: Record<Exclude<ChangedGift, { ok: true }>['code'], string> = {
	unknown: 'There is no such gift any more.',
	open: 'It was opened meanwhile.',
	'given-back': 'The money went back: it does not open any more.',
	own: 'This is the address of whoever gives it.',
	'too-many': 'It was sent often today. Try again tomorrow.'
};

const POSTAL_PROBLEMS: Record<Exclude<PostalChanged['kind'], 'saved'>, string> = {
	unknown: 'Nothing of this order is sent any more.',
	'not-whole': 'Type the name, the street, the town and the country, a line each.',
	changed: 'Somebody else has mended it meanwhile. Load the page again, and look at what it says now.'
};

export const actions: Actions = {
	steer: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(SteerForm, await readForm(request));
		if (!parsed.ok) return fail(400, { problem: Object.values(parsed.errors).flat()[0] ?? '' });
		const { agreement: agreementId, step, seen } = parsed.data;
		const steered = await steerAgreement(app, viewer, { agreementId, step, seen });
		if (!steered.ok) return fail(409, { problem: STEER_PROBLEMS[steered.code] });
		return { saved: 'Done. Where it concerns the member, a mail tells them.' };
	},
	move: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(MoveForm, await readForm(request));
		if (!parsed.ok) return fail(400, { problem: Object.values(parsed.errors).flat()[0] ?? '' });
		const { agreement: agreementId, price: priceId, seen } = parsed.data;
		const moved = await moveFromDesk(app, viewer, { agreementId, priceId, seen });
		if (!moved.ok) return fail(409, { problem: MOVE_PROBLEMS[moved.code] ?? STEER_PROBLEMS.changed });
		return { saved: 'Done. A mail tells the member.' };
	},
	gift: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const parsed = await parse(GiftForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const giftId = String(form.get('gift') ?? '');
		const changed = await changeGiftFromDesk(app, viewer, { giftId, email: parsed.data.giftEmail });
		if (changed.ok) return { saved: changed.told ? 'Sent there.' : 'Kept. The mail goes out on its day.' };
		return fail(409, fieldError(form, 'giftEmail', GIFT_PROBLEMS[changed.code]));
	},
	postal: async ({ locals: { app, viewer }, params, request }) => {
		const form = await readForm(request);
		const parsed = await parse(PostalForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const wish = { postal: postalIn(parsed.data), revision: begunWith(form) };
		const changed = await changePostal(app, viewer, params.id, wish);
		if (changed.kind === 'saved')
			return { saved: 'Mended. Programs that were told of it know the address before.' };
		return fail(409, fieldError(form, 'postalName', POSTAL_PROBLEMS[changed.kind]));
	},
	answer: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(AnswerForm, await readForm(request));
		if (!parsed.ok) return fail(400, { problem: Object.values(parsed.errors).flat()[0] ?? '' });
		const answer = answerOf(parsed.data);
		if (typeof answer === 'string') return fail(400, { problem: answer });
		const answered = await answerPayment(app, viewer, answer);
		if (!answered.ok) return fail(409, { problem: ANSWER_PROBLEMS[answered.code] });
		return { saved: 'Done. The member is told by mail.' };
	},
	refund: async ({ locals: { app, viewer }, params, request }) => {
		const form = await readForm(request);
		const parsed = await parse(RefundForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const { refund: id, payment: paymentId, amount, access, why } = parsed.data;
		const payment = (await orderPage(app, params.id))?.payments.find((one) => one.id === paymentId);
		if (!payment) return fail(409, fieldError(form, 'amount', 'This payment is not of this order.'));
		const typed = parseAmount(amount, payment.currency);
		if (!typed.ok) return fail(400, fieldError(form, 'amount', AMOUNT_PROBLEMS[typed.code]));
		const endsAccess = access === 'ends';
		const { minor: amountMinor } = typed.money;
		const refunded = await refundPayment(app, viewer, { id, paymentId, amountMinor, endsAccess, why });
		if (!refunded.ok) return fail(409, fieldError(form, 'amount', whyNot(refunded)));
		const money = formatMoney(typed.money);
		return {
			saved: refunded.isDone
				? payment.processor === 'card'
					? `${money} went back to the card, and the member is told by mail.`
					: `Written down: you send ${money} back yourself. The member is told by mail.`
				: `${money} are to go back: the processor is asked until it answers. Nothing is lost.`
		};
	}
};

function whyNot(refused: Extract<Refunded, { ok: false }>): string {
	switch (refused.code) {
		case 'unknown':
			return 'This payment is not known to the processor.';
		case 'nothing-left':
			return 'Nothing of this payment is left to refund: look at the page anew.';
		case 'part-paid':
			return 'The rest of this order is waited for. Refuse it, and what came in goes back.';
		case 'refused':
			return 'The processor refuses: so much is not there any more. Look at the page anew.';
		case 'too-much': {
			const left = formatMoney({ minor: refused.leftMinor, currency: refused.currency });
			return `At most ${left} of it are left.`;
		}
	}
}
