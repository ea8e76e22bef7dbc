import { IsIn, IsNotEmpty, Matches, MaxLength } from 'class-validator';

export class ItemForm {
	@MaxLength(200, { message: 'A title has at most 200 characters.' })
	@IsNotEmpty({ message: 'Give it a title.' })
	title = '';

	@MaxLength(20_000, { message: 'A description has at most 20 000 characters.' })
	description = '';

	@MaxLength(300, { message: 'An address has at most 300 characters.' })
	@Matches(/^\//, { message: 'An address begins with a slash, without the host: /videos/truing-a-wheel.' })
	address = '';

	@IsIn(['', 'yes'], { message: 'Choose whether the poster is shown.' })
	showsPoster = '';
}
