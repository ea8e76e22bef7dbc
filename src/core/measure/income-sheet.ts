/**
 * Recurring income month by month: what it began with, what moved it and how, and what it ended with.
 *
 * Example: 3 agreements of 12.00 at the beginning of May; one is new, one is lost: it ends with 3 of 36.00, and a third of those
 * who paid at its beginning has left in it.
 */
import { WHYS, type Why } from './recurring';

/** How many agreements, and how much they bring in by the month, in minor units of one currency. */
export interface Paying {
	minor: number;
	count: number;
}

/** All steps of one kind in one month; `minor`: what they change it by. */
export interface StepSum extends Paying {
	/** Such as 2026-05. */
	month: string;
	why: Why;
}

export interface IncomeMonth {
	month: string;
	start: Paying;
	moved: Record<Why, Paying>;
	end: Paying;
	/** Of those that paid at its beginning the part that stopped in it, from 0 on; `null`: nobody paid then. */
	left: number | null;
}

const COUNTED: Record<Why, -1 | 0 | 1> = {
	new: 1,
	back: 1,
	up: 0,
	down: 0,
	lost: -1,
	failed: -1,
	refunded: -1
};

/** How a number of steps of one kind changes how many agreements pay. */
export function payingBy(why: Why, steps: number): number {
	return COUNTED[why] * steps;
}

/**
 * @param start before the first month
 * @param months in their order, without a gap
 */
export function incomeSheet(
	start: Paying,
	months: readonly string[],
	sums: readonly StepSum[]
): IncomeMonth[] {
	let held = start;
	return months.map((month) => {
		const own = sums.filter((sum) => sum.month === month);
		const moved = Object.fromEntries(WHYS.map((why) => [why, summed(own.filter((sum) => sum.why === why))]));
		const began = held;
		held = {
			minor: began.minor + own.reduce((sum, { minor }) => sum + minor, 0),
			count: began.count + own.reduce((sum, { why, count }) => sum + payingBy(why, count), 0)
		};
		const gone = own.filter(({ why }) => COUNTED[why] < 0).reduce((sum, { count }) => sum + count, 0);
		return {
			...{ month, start: began, moved: moved as IncomeMonth['moved'], end: held },
			left: began.count === 0 ? null : gone / began.count
		};
	});
}

function summed(all: readonly Paying[]): Paying {
	return all.reduce((sum, one) => ({ minor: sum.minor + one.minor, count: sum.count + one.count }), {
		minor: 0,
		count: 0
	});
}
