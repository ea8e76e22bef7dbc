import { IsIn, IsNotEmpty, MaxLength } from 'class-validator';
import { MAIL_KEYS, type MailKey } from '$words/en/mail';
import { LANGUAGE_CODES, type LanguageCode } from '$words/languages';

export class MailKeyForm {
	@IsIn(MAIL_KEYS, { message: 'Choose a mail from the list.' })
	occasion: MailKey = 'sign-in';

	@IsIn(LANGUAGE_CODES, { message: 'Choose a language from the list.' })
	language: LanguageCode = 'en';
}

export class MailTextForm extends MailKeyForm {
	@IsNotEmpty({ message: 'Write what stands in the subject.' })
	@MaxLength(200, { message: 'A subject has at most 200 characters.' })
	subject = '';

	@IsNotEmpty({ message: 'Write what the mail says.' })
	@MaxLength(4000, { message: 'At most 4000 characters.' })
	text = '';

	@IsNotEmpty({ message: 'Write what stands on the button.' })
	@MaxLength(80, { message: 'A button has at most 80 characters.' })
	button = '';
}

/** Words that are looked at, or sent to oneself. */
export class DraftForm extends MailTextForm {
	@MaxLength(40)
	number = '';
}
