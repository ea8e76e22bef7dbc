import { MaxLength } from 'class-validator';

export class TurnOnForm {
	@MaxLength(1000, { message: 'second.offer-over' })
	offer = '';

	@MaxLength(40, { message: 'second.wrong-code' })
	code = '';

	@MaxLength(200, { message: 'form.password-too-long' })
	current = '';
}

export class SpendForm {
	@MaxLength(40, { message: 'second.wrong-spend' })
	code = '';
}
