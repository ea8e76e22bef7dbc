import { IsIn, IsNotEmpty, IsUUID, Matches, MaxLength, ValidateIf } from 'class-validator';

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

	@ValidateIf((form: BatchForm) => form.plan !== '')
	@IsUUID('all', { message: 'Choose a plan from the list.' })
	plan = '';

	@ValidateIf((form: BatchForm) => form.days !== '')
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
