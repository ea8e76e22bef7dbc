import { IsUUID, MaxLength } from 'class-validator';

export class RefundForm {
	@IsUUID('all', { message: 'Choose a payment.' })
	payment = '';

	@MaxLength(500, { message: 'A reason has at most 500 characters.' })
	why = '';
}
