import { IsIn, Matches } from 'class-validator';
import { BANK_DEEDS, type BankDeed } from '$server/usecases/practice/practice-processor';

export class BankForm {
	@Matches(/^practice-[0-9a-f-]{36}$/, { message: 'Choose a payment.' })
	ref = '';

	@IsIn(BANK_DEEDS, { message: 'Choose what the bank does.' })
	deed = 'dispute' as BankDeed;
}
