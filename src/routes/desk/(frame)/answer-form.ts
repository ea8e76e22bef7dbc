import { IsIn, IsUUID, MaxLength } from 'class-validator';
import type { Answer } from '$server/usecases/sales/answer-payment';

/** What somebody says of money that is paid without a card. */
export class AnswerForm {
	@IsUUID('all', { message: 'Choose what it is about.' })
	payment = '';

	@IsIn(['captured', 'declined'], { message: 'Say whether it came in.' })
	answer: Answer['state'] = 'captured';

	@MaxLength(500, { message: 'A reason has at most 500 characters.' })
	why = '';
}

export function answerOf({ payment: paymentId, answer: state, why }: AnswerForm): Answer {
	return { paymentId, state, why: why.trim() };
}
