import { IsEmail, MaxLength } from 'class-validator';

/** Who wants to be told when it can be bought. */
export class WaitingForm {
	@MaxLength(254, { message: 'form.address-too-long' })
	@IsEmail({}, { message: 'form.address' })
	email = '';
}
