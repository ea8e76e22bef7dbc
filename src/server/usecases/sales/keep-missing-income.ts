import type { Transacting } from '../../transact';
import { withoutIncome } from '../../db/queries/income';
import { keepIncomeOf } from './move-agreement';

const AT_ONCE = 200;

/** Works recurring income out of agreements that were there before it was kept: none is left when it is done. */
export async function keepMissingIncome(app: Transacting): Promise<void> {
	for (;;) {
		const ids = await withoutIncome(app.db, AT_ONCE);
		for (const id of ids) await keepIncomeOf(app, id);
		if (ids.length < AT_ONCE) return;
	}
}
