import { IsEmail, IsNotEmpty, MaxLength, ValidateIf } from 'class-validator';

export class CodeForm {
	@MaxLength(60, { message: 'code.too-long' })
	@IsNotEmpty({ message: 'code.missing' })
	code = '';

	/** Empty where somebody is signed in, or wants it here alone. */
	@ValidateIf(({ email }: CodeForm) => email !== '')
	@IsEmail({}, { message: 'form.address' })
	@MaxLength(254)
	email = '';
}
