import { IsEmail, IsNotEmpty, Length, MaxLength, ValidateIf } from 'class-validator';
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
