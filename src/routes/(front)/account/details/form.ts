import { IsNotEmpty, Length, MaxLength } from 'class-validator';

export class NameForm {
	@MaxLength(120, { message: 'A name has at most 120 characters.' })
	@IsNotEmpty({ message: 'Type your name: it stands on receipts from now on.' })
	name = '';
}

export class PasswordForm {
	@MaxLength(200, { message: 'A password has at most 200 characters.' })
	current = '';

	@Length(10, 200, { message: 'A password has 10 to 200 characters.' })
	password = '';
}
