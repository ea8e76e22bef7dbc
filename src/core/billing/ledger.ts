/**
 * The double-entry ledger: every movement of money is a set of postings that sum to zero.
 *
 * A positive amount is a debit, a negative one a credit. Example: a payment of 12.00 debits `processor` (they owe it to
 * us) with 1200 and credits `sales` with 1200; its refund posts the reverse.
 */
import type { Money } from './money';

export const LEDGER_ACCOUNTS = ['processor', 'sales', 'refunds'] as const;
export type LedgerAccount = (typeof LEDGER_ACCOUNTS)[number];

export interface Posting {
	account: LedgerAccount;
	/** Minor units; debits positive, credits negative. */
	amountMinor: number;
	currency: string;
}

/** `dispute`: taken back by the buyer's bank; `won`: it came back from there. */
export type LedgerKind = 'payment' | 'refund' | 'dispute' | 'won';

export function postings(kind: LedgerKind, { minor, currency }: Money): Posting[] {
	if (!Number.isSafeInteger(minor) || minor <= 0)
		throw new RangeError(`A ledger amount is a positive integer, not ${minor}`);
	switch (kind) {
		case 'payment':
			return [
				{ account: 'processor', amountMinor: minor, currency },
				{ account: 'sales', amountMinor: -minor, currency }
			];
		case 'refund':
		case 'dispute':
			// A refund stands in an account of its own, so that sales stay what was sold.
			return [
				{ account: 'refunds', amountMinor: minor, currency },
				{ account: 'processor', amountMinor: -minor, currency }
			];
		case 'won':
			return [
				{ account: 'processor', amountMinor: minor, currency },
				{ account: 'refunds', amountMinor: -minor, currency }
			];
	}
}

/** Sum of the postings for each currency that is not zero: empty when the books are in balance. */
export function imbalance(all: readonly Posting[]): Money[] {
	const sums = new Map<string, number>();
	for (const p of all) sums.set(p.currency, (sums.get(p.currency) ?? 0) + p.amountMinor);
	return [...sums].filter(([, minor]) => minor !== 0).map(([currency, minor]) => ({ minor, currency }));
}
