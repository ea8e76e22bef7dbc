import { IsIn, IsUUID, Matches, MaxLength } from 'class-validator';
import { parseAmount } from '$core/billing/money';
import type { Answer, AnswerProblem } from '$server/usecases/sales/answer-payment';

/** What somebody says of money that is paid without a card. */
export class AnswerForm {
	@IsUUID('all', { message: 'Choose what it is about.' })
	payment = '';

	@IsIn(['captured', 'declined'], { message: 'Say whether it came in.' })
	answer: Answer['state'] = 'captured';

	/** What came in, where it was not all; empty: all of it. */
	@MaxLength(20, { message: 'Type an amount such as 12.50.' })
	amount = '';

	@Matches(/^([A-Z]{3})?$/, { message: 'That currency is not known.' })
	currency = '';

	@MaxLength(500, { message: 'A reason has at most 500 characters.' })
	why = '';
}

export const ANSWER_PROBLEMS: Record<AnswerProblem, string> = {
	'not-waiting': 'Somebody has said so already, or nobody waits for it any more.',
	'too-much':
		'That is more than was asked for. Where more came in, say that it came in, and send the rest back.',
	'whole-only': 'Of this no part is taken: say that it came in when all of it is there.'
};

/** @returns a sentence where the amount cannot be read */
export function answerOf(form: AnswerForm): Answer | string {
	const { payment: paymentId, answer: state, amount, currency } = form;
	const answer = { paymentId, state, why: form.why.trim() };
	if (currency === '') return answer;
	const part = parseAmount(amount, currency);
	return part.ok ? { ...answer, amountMinor: part.money.minor } : 'Type how much came in, such as 12.50.';
}
