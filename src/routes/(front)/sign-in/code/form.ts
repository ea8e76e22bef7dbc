import { IsNotEmpty, MaxLength } from 'class-validator';

export class CodeForm {
	@MaxLength(40, { message: 'second.wrong-spend' })
	@IsNotEmpty({ message: 'second.wrong-spend' })
	code = '';
}
