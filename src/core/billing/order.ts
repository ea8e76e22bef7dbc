/**
 * What an order consists of, and the states it goes through.
 *
 * An order is a few lines, each with what it costs, what is taken off and what is to be paid; its total is theirs, and is summed
 * up here and nowhere else. Example: a plan for 12.00 with a code for a tenth off, and 5.00 once at joining: two lines, of 10.80
 * and 5.00, and a total of 15.80.
 */
import type { Terms } from './terms';

/** `plan`: what is paid first for it. `fee`: once at joining. `move`: from one rung to another. `extra`: taken after paying. */
export const LINE_KINDS = ['plan', 'fee', 'move', 'extra'] as const;
export type LineKind = (typeof LINE_KINDS)[number];

/** Amounts in minor units of one currency. */
export interface LineAmounts {
	kind: LineKind;
	amountMinor: number;
	discountMinor: number;
	/** Where tax comes on top, it is part of the total. */
	taxMinor: number;
	totalMinor: number;
}

/** What is paid at joining, a line for each thing. A plan that asks for nothing at first has its line all the same. */
export function linesOf({ firstMinor, feeMinor }: Terms): LineAmounts[] {
	const line = (kind: LineKind, amountMinor: number): LineAmounts => ({
		...{ kind, amountMinor, discountMinor: 0, taxMinor: 0 },
		totalMinor: amountMinor
	});
	return [line('plan', firstMinor), ...(feeMinor > 0 ? [line('fee', feeMinor)] : [])];
}

export function orderTotal(lines: readonly Pick<LineAmounts, 'totalMinor'>[]): number {
	return lines.reduce((sum, { totalMinor }) => sum + totalMinor, 0);
}
