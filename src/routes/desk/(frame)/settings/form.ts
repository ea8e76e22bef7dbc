import { IsEmail, IsIn, IsNotEmpty, Matches, MaxLength } from 'class-validator';
import { CURRENCIES } from '$core/billing/money';
import { STATEMENT_NAME } from '$core/billing/statement-name';
import { IsZone } from '../../first-owner/form';

export class SiteForm {
	@MaxLength(80, { message: 'A site name has at most 80 characters.' })
	@IsNotEmpty({ message: 'Name your site.' })
	siteName = '';

	@Matches(STATEMENT_NAME, {
		message: 'Card statements show 5 to 22 plain letters, digits, spaces, dots, stars or hyphens.'
	})
	statementName = '';

	@IsEmail({}, { message: 'Type the address that mails come from, such as desk@host.example.' })
	senderEmail = '';

	@IsZone('Choose a time zone, such as Europe/Vienna.')
	zone = '';

	@IsIn(CURRENCIES, { message: 'Choose a currency.' })
	currency = '';

	@MaxLength(2000, { message: 'A notice has at most 2000 characters.' })
	@IsNotEmpty({ message: 'Write a notice for those who are turned away.' })
	defaultNotice = '';
}

export class ClockForm {
	@Matches(/^\d{1,3}$/, { message: 'Type a whole number of days, from 1 to 370.' })
	days = '';
}
