import { IsEmail, IsNotEmpty, Length, MaxLength, ValidateIf } from 'class-validator';
import { MAX_PASSWORD_LENGTH, MIN_PASSWORD_LENGTH } from '$server/usecases/accounts/passwords';

const PASSWORD_RULE = 'A password has 10 to 200 characters. Or leave it empty: the mailed link is enough.';

/** Who buys, where nobody is signed in. */
export class BuyerForm {
	@MaxLength(254, { message: 'This address is too long.' })
	@IsEmail(
		{},
		{
			message: 'Type an e-mail address such as name@host.example: the receipt and the way in are sent there.'
		}
	)
	email = '';

	@MaxLength(120, { message: 'A name has at most 120 characters.' })
	@IsNotEmpty({ message: 'Type your name: it stands on the receipt.' })
	name = '';

	@ValidateIf((form: BuyerForm) => form.password !== '')
	@Length(MIN_PASSWORD_LENGTH, MAX_PASSWORD_LENGTH, { message: PASSWORD_RULE })
	password = '';
}
