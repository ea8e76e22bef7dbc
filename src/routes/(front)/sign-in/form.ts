import { IsEmail, IsNotEmpty, MaxLength } from 'class-validator';

const ADDRESS = 'form.address';

export class SignInForm {
	@MaxLength(254, { message: 'form.address-too-long' })
	@IsEmail({}, { message: ADDRESS })
	email = '';

	@MaxLength(200, { message: 'form.password-too-long' })
	@IsNotEmpty({ message: 'form.password-or-link' })
	password = '';
}

export class LinkForm {
	@MaxLength(254, { message: 'form.address-too-long' })
	@IsEmail({}, { message: ADDRESS })
	email = '';
}
