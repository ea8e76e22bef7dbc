import { IsEmail, MaxLength } from 'class-validator';

/** Where a gift goes. */
export class GiftForm {
	@MaxLength(254, { message: 'form.address-too-long' })
	@IsEmail({}, { message: 'form.gift-address' })
	giftEmail = '';
}
