import { IsEmail, IsIn, IsISO8601, IsNotEmpty, IsUUID, Length, MaxLength, ValidateIf } from 'class-validator';
import { PROCESSORS, type ProcessorName } from '$core/billing/pay-by';
import { MAX_PASSWORD_LENGTH, MIN_PASSWORD_LENGTH } from '$server/usecases/accounts/passwords';

/** Who buys, where nobody is signed in. */
export class BuyerForm {
	@MaxLength(254, { message: 'form.address-too-long' })
	@IsEmail({}, { message: 'form.buyer-address' })
	email = '';

	@MaxLength(120, { message: 'form.name-too-long' })
	@IsNotEmpty({ message: 'form.name' })
	name = '';

	@ValidateIf((form: BuyerForm) => form.password !== '')
	@Length(MIN_PASSWORD_LENGTH, MAX_PASSWORD_LENGTH, { message: 'form.password-or-none' })
	password = '';
}

/** For whom it is, where it is bought for somebody else. */
export class GiftForm {
	@MaxLength(254, { message: 'form.address-too-long' })
	@IsEmail({}, { message: 'form.gift-address' })
	giftEmail = '';

	@MaxLength(500, { message: 'form.gift-words' })
	giftWords = '';

	@IsISO8601({ strict: true }, { message: 'form.gift-day' })
	@Length(10, 10, { message: 'form.gift-day' })
	giftDay = '';
}

/** What is bought, and how it is paid. */
export class ChoiceForm {
	@ValidateIf((form: ChoiceForm) => form.price !== '')
	@IsUUID('all', { message: 'checkout.unknown-price' })
	price = '';

	@IsIn(['', ...PROCESSORS], { message: 'checkout.unknown-way' })
	payBy: ProcessorName | '' = '';

	@MaxLength(60, { message: 'checkout.code-unknown' })
	code = '';

	@MaxLength(2, { message: 'checkout.unknown-country' })
	country = '';

	@MaxLength(40, { message: 'checkout.tax-id-not-its-form' })
	taxId = '';
}
