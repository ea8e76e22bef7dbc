import { IsIn, IsNotEmpty, IsUUID, Matches, MaxLength, ValidateIf } from 'class-validator';
import type { TypedOff } from '$core/billing/discount-typed';
import { CURRENCIES } from '$core/billing/money';

export class BatchForm {
	@MaxLength(120, { message: 'A name has at most 120 characters.' })
	@IsNotEmpty({ message: 'Name the codes, so that you find them again.' })
	name = '';

	@IsIn(['one', 'many'], { message: 'Choose one code or many.' })
	how = 'many' as 'one' | 'many';

	@ValidateIf((form: BatchForm) => form.how === 'one')
	@Matches(/^[A-Za-z0-9 -]{4,40}$/, { message: 'A code has 4 to 40 letters and digits.' })
	code = '';

	@ValidateIf((form: BatchForm) => form.how === 'many')
	@Matches(/^[1-9]\d{0,3}$/, { message: 'Make between 1 and 5000 codes.' })
	count = '10';

	@IsIn(['gives', 'opens', 'takes-off'], { message: 'Choose what a code does.' })
	does = 'gives' as 'gives' | 'opens' | 'takes-off';

	@ValidateIf((form: BatchForm) => form.does === 'gives')
	@IsUUID('all', { message: 'Choose a plan from the list.' })
	plan = '';

	@IsIn(['percent', 'amount'], { message: 'Choose percent or an amount.' })
	offKind = 'percent' as TypedOff['offKind'];

	@MaxLength(10, { message: 'A whole number from 1 to 100.' })
	percent = '';

	@MaxLength(20, { message: 'Write it in digits, such as 5 or 2.50.' })
	offAmount = '';

	@ValidateIf((form: BatchForm) => form.offKind === 'amount' && form.does === 'takes-off')
	@IsIn(CURRENCIES, { message: 'Choose a currency.' })
	offCurrency = '';

	@IsIn(['first', 'some', 'all'], { message: 'Choose of which payments.' })
	offOf = 'first' as TypedOff['offOf'];

	@MaxLength(4, { message: 'That is too many.' })
	offPayments = '';

	@IsIn(['', 'yes'], { message: 'Choose how often each buyer may use them.' })
	isOncePerBuyer = '';

	@ValidateIf((form: BatchForm) => form.does === 'gives' && form.days !== '')
	@Matches(/^[1-9]\d{0,4}$/, { message: 'Type a whole number of days, or leave it empty.' })
	days = '';

	@MaxLength(30, { message: 'This is no date.' })
	startsAt = '';

	@MaxLength(30, { message: 'This is no date.' })
	endsAt = '';

	@ValidateIf((form: BatchForm) => form.uses !== '')
	@Matches(/^[1-9]\d{0,5}$/, { message: 'Type a whole number of uses, or leave it empty for any number.' })
	uses = '1';
}
