/**
 * The double-entry ledger: every movement of money is a set of postings that sum to zero.
 *
 * A positive amount is a debit, a negative one a credit. Each line of what was paid for is posted by itself, with its plan, its
 * tax and what was taken off it apart. Example: 12.00 for a plan, 2.00 of them tax, and 5.00 once at joining: `processor` owes it
 * to us (1700), `sales` has 1000 of the plan and 500 of the fee, `tax` 200. With 3.00 taken off the plan it is `processor` 1400,
 * `discounts` 300 and the same sales. A refund stands in an account of its own, so that sales stay what was sold.
 */

import { split } from './allocation';

export const LEDGER_ACCOUNTS = [
	/** What processors hold for us. */
	'processor',
	/** What came in without one: by transfer, in cash. */
	'cash',
	/** At full prices. */
	'sales',
	/** What was taken off them. */
	'discounts',
	'refunds',
	/** Owed to the tax office. */
	'tax',
	/** Taken back by buyers' banks, and not won. */
	'disputes'
] as const;
export type LedgerAccount = (typeof LEDGER_ACCOUNTS)[number];

/** Where money lies that came in. */
export type HeldIn = Extract<LedgerAccount, 'processor' | 'cash'>;

/** What of a payment was for one thing; amounts in minor units, tax included. */
export interface LedgerLine {
	planId: string;
	lineId: string;
	amountMinor: number;
	taxMinor: number;
	/** What was taken off, so that it came to the amount. */
	discountMinor: number;
}

export interface Posting {
	account: LedgerAccount;
	/** Minor units; debits positive, credits negative. */
	amountMinor: number;
	currency: string;
	/** Of what it was for; `null`: of all of it. */
	planId: string | null;
	lineId: string | null;
}

/** `dispute`: taken back by the buyer's bank; `won`: it came back from there. */
export type LedgerKind = 'payment' | 'refund' | 'dispute' | 'won';

/** What is posted of a movement; what was won is the dispute `reversed`. */
export function postings(
	kind: Exclude<LedgerKind, 'won'>,
	currency: string,
	lines: readonly LedgerLine[],
	heldIn: HeldIn = 'processor'
): Posting[] {
	const total = lines.reduce((sum, { amountMinor }) => sum + amountMinor, 0);
	const amounts = lines.flatMap((line) => [line.amountMinor, line.taxMinor, line.discountMinor]);
	for (const value of [total, ...amounts])
		if (!Number.isSafeInteger(value) || value < 0)
			throw new RangeError(`A ledger amount is a whole number, not below 0: ${value}`);
	if (total === 0) throw new RangeError('Nothing is posted of nothing');
	const sign = kind === 'payment' ? -1 : 1;
	const all = lines.flatMap(({ planId, lineId, amountMinor, taxMinor, discountMinor }): Posting[] => {
		const of = { currency, planId, lineId };
		// What the bank has taken is one loss, whatever it was made of.
		if (kind === 'dispute') return [{ account: 'disputes', amountMinor, ...of }];
		const tax = { account: 'tax' as const, amountMinor: sign * taxMinor, ...of };
		if (kind === 'refund') return [{ account: 'refunds', amountMinor: amountMinor - taxMinor, ...of }, tax];
		return [
			{ account: 'sales', amountMinor: -(amountMinor - taxMinor + discountMinor), ...of },
			{ account: 'discounts', amountMinor: discountMinor, ...of },
			tax
		];
	});
	const held = { account: heldIn, amountMinor: -sign * total, currency, planId: null, lineId: null };
	return [held, ...all].filter(({ amountMinor }) => amountMinor !== 0);
}

/**
 * What a refund takes of each line: of what is left of it, in proportion, and of its tax likewise, so that the last refund
 * takes what is left to the minor unit.
 * @param left of each line, what came in and has not been refunded
 */
export function refundLines<L extends LedgerLine>(amountMinor: number, left: readonly L[]): L[] {
	const parts = split(
		amountMinor,
		left.map((line) => line.amountMinor)
	);
	return left
		.map((line, n) => {
			const part = parts[n] ?? 0;
			if (part > line.amountMinor) throw new RangeError('More is refunded than came in');
			const [taxMinor = 0] = split(part, [line.taxMinor, line.amountMinor - line.taxMinor]);
			return { ...line, amountMinor: part, taxMinor, discountMinor: 0 };
		})
		.filter((line) => line.amountMinor > 0);
}

/** What takes a movement back. */
export function reversed(all: readonly Posting[]): Posting[] {
	return all.map((posting) => ({ ...posting, amountMinor: -posting.amountMinor }));
}

/** Sum of the postings for each currency that is not zero: empty when the books are in balance. */
export function imbalance(
	all: readonly { amountMinor: number; currency: string }[]
): { minor: number; currency: string }[] {
	const sums = new Map<string, number>();
	for (const { currency, amountMinor } of all) sums.set(currency, (sums.get(currency) ?? 0) + amountMinor);
	return [...sums].filter(([, minor]) => minor !== 0).map(([currency, minor]) => ({ minor, currency }));
}
