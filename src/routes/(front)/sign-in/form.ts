import { IsEmail, IsNotEmpty, MaxLength } from 'class-validator';

const ADDRESS = 'Type your e-mail address, such as name@host.example.';

export class SignInForm {
	@MaxLength(254, { message: 'This address is too long.' })
	@IsEmail({}, { message: ADDRESS })
	email = '';

	@MaxLength(200, { message: 'A password has at most 200 characters.' })
	@IsNotEmpty({ message: 'Type your password, or ask for a link by mail.' })
	password = '';
}

export class LinkForm {
	@MaxLength(254, { message: 'This address is too long.' })
	@IsEmail({}, { message: ADDRESS })
	email = '';
}
