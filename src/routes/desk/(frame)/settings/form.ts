import {
	ArrayNotEmpty,
	IsEmail,
	IsIn,
	IsNotEmpty,
	IsUUID,
	Matches,
	MaxLength,
	ValidateIf
} from 'class-validator';
import { CALL_EVENTS, type CallEvent } from '$core/listeners/listening';
import { LEGAL_ADDRESS } from '$core/looks/legal';
import { WAY_LISTS } from '$core/billing/pay-by';
import { CURRENCIES } from '$core/billing/money';
import { TAX_WAYS, type TaxWay } from '$core/billing/tax';
import { COUNTRIES } from '$core/text/countries';
import { STATEMENT_NAME } from '$core/billing/statement-name';
import { TELL_HOWS, type TellHow } from '$core/staff/telling';
import { LANGUAGE_CODES, type LanguageCode } from '$words/languages';
import { IsZone } from '../../first-owner/form';

const NO_ADDRESS =
	'Type a path of this site such as /imprint, an address with https:// in front, or mailto: and a mail address.';

function IsLegalAddress(): PropertyDecorator {
	return (target, name) => {
		MaxLength(300, { message: 'An address has at most 300 characters.' })(target, name);
		Matches(LEGAL_ADDRESS, { message: NO_ADDRESS })(target, name);
	};
}

export class SiteForm {
	@MaxLength(80, { message: 'A site name has at most 80 characters.' })
	@IsNotEmpty({ message: 'Name your site.' })
	siteName = '';

	@IsZone('Choose a time zone, such as Europe/Vienna.')
	zone = '';

	@IsIn(LANGUAGE_CODES, { message: 'Choose a language from the list.' })
	language: LanguageCode = 'en';

	@IsLegalAddress()
	imprint = '';

	@IsLegalAddress()
	terms = '';

	@IsLegalAddress()
	privacy = '';

	@IsLegalAddress()
	withdrawal = '';

	@IsLegalAddress()
	contact = '';
}

export const NO_COLOUR = 'Write a colour as # and six figures, such as #2c6650, or pick one.';

export class LooksForm {
	@IsIn(['', 'yes'], { message: 'Choose whether it has a colour of its own.' })
	hasColour: '' | 'yes' = '';

	@MaxLength(20, { message: NO_COLOUR })
	colour = '';
}

export class SenderForm {
	@IsEmail({}, { message: 'Type the address that mails come from, such as desk@host.example.' })
	senderEmail = '';
}

export class MoneyForm {
	@IsIn(CURRENCIES, { message: 'Choose a currency.' })
	currency = '';

	@Matches(STATEMENT_NAME, {
		message: 'Card statements show 5 to 22 plain letters, digits, spaces, dots, stars or hyphens.'
	})
	statementName = '';

	@MaxLength(120, { message: 'At most 120 characters.' })
	sellerName = '';

	@MaxLength(400, { message: 'At most 400 characters: as on a letter.' })
	sellerAddress = '';

	@MaxLength(60, { message: 'At most 60 characters: as the tax office writes it.' })
	taxNumber = '';

	@MaxLength(60, { message: 'At most 8 days, please.' })
	retryDays = '';

	@IsIn(['open', 'shut'], { message: 'Choose whether members may go on meanwhile.' })
	meanwhile: 'open' | 'shut' = 'open';

	@IsIn(['', 'yes'], { message: 'Choose whether members may pause.' })
	mayPause = '';

	@ValidateIf((form: MoneyForm) => form.remindsAfterHours !== '')
	@Matches(/^(?:[1-9]|[1-6]\d|7[0-2])$/, {
		message: 'Type a whole number of hours from 1 to 72. Empty: nobody is reminded.'
	})
	remindsAfterHours = '';

	@IsIn(WAY_LISTS, { message: 'Choose how is paid.' })
	payBy = 'card';

	@MaxLength(60, { message: 'At most 60 characters.' })
	offlineName = '';

	@ValidateIf((form: MoneyForm) => form.payBy !== 'card')
	@MaxLength(1000, { message: 'At most 1000 characters.' })
	@IsNotEmpty({ message: 'Write how it is paid, such as the account to transfer to: buyers read it.' })
	offlineHow = '';
}

export class TaxForm {
	@IsIn([...TAX_WAYS], { message: 'Choose whether prices have tax in them.' })
	way: TaxWay = 'none';

	@ValidateIf((form: TaxForm) => form.way !== 'none')
	@IsIn([...COUNTRIES], { message: 'Choose the country that you pay taxes in.' })
	home = '';

	@IsIn(['', 'yes'], { message: 'Choose whether buyers in the Union pay your own rate.' })
	isHomeRateInUnion = '';

	/** Made by the editor: JSON. */
	@MaxLength(60_000, { message: 'These are too many rates.' })
	rates = '[]';
}

export class AccessForm {
	@ValidateIf((form: AccessForm) => form.releaseHour !== '')
	@Matches(/^(?:\d|1\d|2[0-3])$/, {
		message: 'An hour of the day is between 0 and 23. Empty: the time of day of joining.'
	})
	releaseHour = '';

	@Matches(/^\d{1,3}$/, { message: 'Type a whole number of days; 0 makes every gap a lapse.' })
	lapseAfterDays = '';

	/** Made by the editor: JSON. */
	@IsNotEmpty({ message: 'Write what those get who are turned away.' })
	turnAway = '';

	@IsNotEmpty({ message: 'Choose the site’s limits.' })
	limits = '';
}

export class KeyForm {
	@MaxLength(120, { message: 'A name has at most 120 characters.' })
	@IsNotEmpty({ message: 'Name the key after the program that uses it.' })
	keyName = '';
}

export class CheckoutForm {
	@MaxLength(80, { message: 'A name has at most 80 characters.' })
	@IsNotEmpty({ message: 'Name the checkout: the list of grants says it.' })
	checkoutName = '';
}

export class ListenerForm {
	@MaxLength(80, { message: 'A name has at most 80 characters.' })
	@IsNotEmpty({ message: 'Name the program, such as “mailing list”.' })
	listenerName = '';

	@MaxLength(500, { message: 'An address has at most 500 characters.' })
	url = '';

	@IsIn(CALL_EVENTS, { each: true, message: 'Choose from the list.' })
	@ArrayNotEmpty({ message: 'Choose at least one thing that it is told.' })
	events: CallEvent[] = [];

	@IsUUID('all', { each: true, message: 'Choose plans from the list.' })
	planIds: string[] = [];
}

export class ClockForm {
	@Matches(/^\d{1,3}$/, { message: 'Type a whole number of days, from 1 to 370.' })
	days = '';
}

export class WishesForm {
	@IsIn(TELL_HOWS, { message: 'Choose at once, once a day, or never.' })
	joined: TellHow = 'never';

	@IsIn(TELL_HOWS, { message: 'Choose at once, once a day, or never.' })
	left: TellHow = 'never';

	@IsIn(TELL_HOWS, { message: 'Choose at once, once a day, or never.' })
	wrong: TellHow = 'never';
}
