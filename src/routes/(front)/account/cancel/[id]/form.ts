import { IsIn, MaxLength } from 'class-validator';
import { CANCEL_REASONS, type CancelReason } from '$server/usecases/sales/cancel-subscription';

export class CancelForm {
	@IsIn(CANCEL_REASONS, { message: 'Choose why you cancel; “something else” will do.' })
	reason = '' as CancelReason;

	@MaxLength(1000, { message: 'At most 1000 characters, please.' })
	words = '';
}
