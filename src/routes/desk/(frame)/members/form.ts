import { IsEmail, IsIn, IsNotEmpty, IsUUID, Matches, MaxLength, ValidateIf } from 'class-validator';

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

export class AddressForm {
	@IsEmail({}, { message: 'Type an e-mail address such as name@host.example.' })
	@MaxLength(254, { message: 'This address is too long.' })
	email = '';
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

	/** What the rehearsal that somebody said yes to would do. */
	@Matches(/^(?:[0-9a-f]{64})?$/, { message: 'Look at what it would do once more.' })
	agreedTo = '';
}

export class EndForm {
	@IsUUID('all', { message: 'Choose a grant.' })
	grant = '';

	/** The rehearsal that somebody said yes to. */
	@MaxLength(64)
	agreedTo = '';

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

const ofPlan = (form: RunForm) => form.do === 'give' || form.do === 'end';
const ofLabel = (form: RunForm) => form.do === 'label' || form.do === 'unlabel';

/** What is to become of members that were chosen. */
export class RunForm {
	@IsIn(['give', 'end', 'label', 'unlabel', 'new-label'], { message: 'Choose what is to become of them.' })
	do: 'give' | 'end' | 'label' | 'unlabel' | 'new-label' = 'give';

	@ValidateIf(ofPlan)
	@IsUUID('all', { message: 'Choose a plan.' })
	plan = '';

	@ValidateIf(ofLabel)
	@IsUUID('all', { message: 'Choose a label.' })
	label = '';

	@ValidateIf((form: RunForm) => form.do === 'new-label')
	@Matches(/\S/, { message: 'Say what the label is called.' })
	@MaxLength(60, { message: 'A label has at most 60 characters.' })
	newLabel = '';

	@MaxLength(30, { message: 'This is no date.' })
	until = '';
}

export class LabelForm {
	@Matches(/\S/, { message: 'Say what the label is called.' })
	@MaxLength(60, { message: 'A label has at most 60 characters.' })
	name = '';
}
