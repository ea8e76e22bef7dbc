import { IsNotEmpty, Length, MaxLength } from 'class-validator';
import { MAX_PASSWORD_LENGTH, MIN_PASSWORD_LENGTH } from '$server/usecases/accounts/passwords';

export class NameForm {
	@MaxLength(120, { message: 'A name has at most 120 characters.' })
	@IsNotEmpty({ message: 'Type your name: it stands on receipts from now on.' })
	name = '';
}

export class PasswordForm {
	@MaxLength(200, { message: 'A password has at most 200 characters.' })
	current = '';

	@Length(MIN_PASSWORD_LENGTH, MAX_PASSWORD_LENGTH, { message: 'A password has 10 to 200 characters.' })
	password = '';
}
