import { IsEmail, IsNotEmpty } from 'class-validator';

const ADDRESS = 'Type your e-mail address, such as name@host.example.';

export class SignInForm {
	@IsEmail({}, { message: ADDRESS })
	email = '';

	@IsNotEmpty({ message: 'Type your password, or ask for a link by mail.' })
	password = '';
}

export class LinkForm {
	@IsEmail({}, { message: ADDRESS })
	email = '';
}
