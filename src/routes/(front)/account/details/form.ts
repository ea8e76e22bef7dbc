import { IsEmail, IsIn, IsNotEmpty, Length, MaxLength } from 'class-validator';
import { MAX_PASSWORD_LENGTH, MIN_PASSWORD_LENGTH } from '$server/usecases/accounts/passwords';
import { LANGUAGE_CODES, type LanguageCode } from '$words/languages';

export class NameForm {
	@MaxLength(120, { message: 'form.name-too-long' })
	@IsNotEmpty({ message: 'form.own-name' })
	name = '';
}

export class LanguageForm {
	/** `''`: the site's. */
	@IsIn(['', ...LANGUAGE_CODES], { message: 'form.language' })
	language: LanguageCode | '' = '';
}

export class AddressForm {
	@MaxLength(254, { message: 'form.address-too-long' })
	@IsEmail({}, { message: 'form.address' })
	email = '';

	@MaxLength(200, { message: 'form.password-too-long' })
	currentForAddress = '';
}

export class TaxForm {
	@MaxLength(2, { message: 'checkout.unknown-country' })
	country = '';

	@MaxLength(40, { message: 'checkout.tax-id-not-its-form' })
	taxId = '';
}

export class PasswordForm {
	@MaxLength(200, { message: 'form.password-too-long' })
	current = '';

	@Length(MIN_PASSWORD_LENGTH, MAX_PASSWORD_LENGTH, { message: 'form.password-length' })
	password = '';
}
