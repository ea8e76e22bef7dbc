import { PROCESSORS, type ProcessorName } from '$core/billing/pay-by';
import { IsIn, IsNotEmpty, Matches, ValidateIf } from 'class-validator';

/** What was shown of a move, and how what it asks for is paid. */
export class MoveForm {
	@Matches(/^\d{1,16}$/, { message: 'move.changed' })
	at = '';

	@IsNotEmpty({ message: 'move.changed' })
	revision = '';

	@ValidateIf((form: MoveForm) => form.asks !== '')
	@Matches(/^\d{1,12}$/, { message: 'move.changed' })
	asks = '';

	@IsIn(['', ...PROCESSORS], { message: 'checkout.unknown-way' })
	payBy: ProcessorName | '' = '';
}
