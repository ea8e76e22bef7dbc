import { IsEmail, IsIn, IsNotEmpty, Length, MaxLength, registerDecorator } from 'class-validator';
import { MAX_PASSWORD_LENGTH, MIN_PASSWORD_LENGTH } from '$server/usecases/accounts/passwords';
import { CURRENCIES } from '$core/billing/money';
import { isZone } from '$core/time/calendar';

/** An IANA time zone name. */
export function IsZone(message: string) {
	return (target: object, propertyName: string) =>
		registerDecorator({
			name: 'isZone',
			target: target.constructor,
			propertyName,
			options: { message },
			validator: { validate: (value: unknown) => typeof value === 'string' && value !== '' && isZone(value) }
		});
}

export class FirstOwnerForm {
	@IsNotEmpty({ message: 'This page was opened without its token. Open the address from the log again.' })
	token = '';

	@MaxLength(80, { message: 'A site name has at most 80 characters.' })
	@IsNotEmpty({ message: 'Name your site: members see it on every page.' })
	siteName = '';

	@MaxLength(120, { message: 'A name has at most 120 characters.' })
	@IsNotEmpty({ message: 'Type your name.' })
	name = '';

	@MaxLength(254, { message: 'This address is too long.' })
	@IsEmail({}, { message: 'Type your e-mail address, such as name@host.example.' })
	email = '';

	@Length(MIN_PASSWORD_LENGTH, MAX_PASSWORD_LENGTH, { message: 'A password has 10 to 200 characters.' })
	password = '';

	@IsZone('Choose a time zone, such as Europe/Vienna.')
	zone = '';

	@IsIn(CURRENCIES, { message: 'Choose a currency.' })
	currency = '';
}
