import { IsIn, MaxLength } from 'class-validator';
import { STEPS, type Step } from '$core/billing/agreement-foreseen';

export class RefundManyForm {
	@IsIn(['stays', 'ends'], { message: 'Choose what becomes of access.' })
	access = '';

	@MaxLength(500, { message: 'A reason has at most 500 characters.' })
	refundWhy = '';
}

export class AnswerManyForm {
	@IsIn(['came', 'not-came'], { message: 'Say whether it came in.' })
	do: 'came' | 'not-came' = 'came';

	@MaxLength(500, { message: 'A reason has at most 500 characters.' })
	why = '';
}

export class SteerManyForm {
	@IsIn(STEPS, { message: 'Choose what is to be done.' })
	step: Step = 'cancel';
}
