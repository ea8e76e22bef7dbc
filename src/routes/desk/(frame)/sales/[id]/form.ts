import { STEPS, type Step } from '$core/billing/agreement-foreseen';
import { IsEmail, IsIn, IsNotEmpty, IsUUID, MaxLength } from 'class-validator';

export class SteerForm {
	@IsUUID('all', { message: 'Choose what it is about.' })
	agreement = '';

	@IsIn(STEPS, { message: 'Choose what is to be done.' })
	step: Step = 'cancel';

	@IsNotEmpty({ message: 'Look at the page anew.' })
	seen = '';
}

export class MoveForm {
	@IsUUID('all', { message: 'Choose what it is about.' })
	agreement = '';

	@IsUUID('all', { message: 'Choose where it moves to.' })
	price = '';

	@IsNotEmpty({ message: 'Look at the page anew.' })
	seen = '';
}

export class GiftForm {
	@MaxLength(254, { message: 'This address is too long.' })
	@IsEmail({}, { message: 'Type the address that it is for, such as name@host.example.' })
	giftEmail = '';
}

export class RefundForm {
	/** Made with the dialog: sent twice, it is one refund. */
	@IsUUID('all', { message: 'Open the refund anew.' })
	refund = '';

	@IsUUID('all', { message: 'Choose a payment.' })
	payment = '';

	@IsNotEmpty({ message: 'Type how much goes back.' })
	amount = '';

	@IsIn(['stays', 'ends'], { message: 'Choose what becomes of access.' })
	access = '';

	@MaxLength(500, { message: 'A reason has at most 500 characters.' })
	why = '';
}
