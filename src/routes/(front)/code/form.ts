import { IsNotEmpty, MaxLength } from 'class-validator';

export class CodeForm {
	@MaxLength(60, { message: 'A code is shorter than that. Type it as it was given to you.' })
	@IsNotEmpty({ message: 'Type the code that you were given.' })
	code = '';
}
