import { IsNotEmpty, MaxLength } from 'class-validator';

export class CodeForm {
	@MaxLength(60, { message: 'code.too-long' })
	@IsNotEmpty({ message: 'code.missing' })
	code = '';
}
