import { IsEmail, IsNotEmpty, IsUUID, Matches, MaxLength, ValidateIf } from 'class-validator';

export class AddForm {
	@IsEmail({}, { message: 'Type an e-mail address such as name@host.example: the invitation is sent there.' })
	email = '';

	@MaxLength(120, { message: 'A name has at most 120 characters.' })
	name = '';

	@ValidateIf((form: AddForm) => form.plan !== '')
	@IsUUID('all', { message: 'Choose a plan from the list.' })
	plan = '';

	@MaxLength(30, { message: 'This is no date.' })
	until = '';
}

export class GiveForm {
	@IsUUID('all', { message: 'Choose a plan.' })
	plan = '';

	@MaxLength(30, { message: 'This is no date.' })
	from = '';

	@MaxLength(30, { message: 'This is no date.' })
	until = '';

	@MaxLength(500, { message: 'At most 500 characters.' })
	why = '';
}

export class EndForm {
	@IsUUID('all', { message: 'Choose a grant.' })
	grant = '';

	@MaxLength(500, { message: 'At most 500 characters.' })
	why = '';
}

export class FirstDayForm {
	@IsUUID('all', { message: 'Choose a plan.' })
	plan = '';

	@IsNotEmpty({ message: 'Type the day on which they first joined.' })
	day = '';

	/** What the rehearsal that somebody said yes to would do. */
	@Matches(/^(?:[0-9a-f]{64})?$/, { message: 'Look at what it would do once more.' })
	agreedTo = '';
}
