import { IsIn, MaxLength } from 'class-validator';
import { CANCEL_REASONS, type CancelReason } from '$server/usecases/sales/steer-agreement';

export class CancelForm {
	@IsIn(CANCEL_REASONS, { message: 'cancel.choose' })
	reason = '' as CancelReason;

	@MaxLength(1000, { message: 'form.too-long' })
	words = '';
}
