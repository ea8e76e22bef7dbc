/**
 * What something has earned in a span of time, from the ledger: what was sold at full prices, less what was taken off, what went
 * back and what banks took, each on the day on which it was booked, and without tax.
 *
 * Example: 12.00 sold with 2.00 off and 5.00 of it refunded leaves 5.00.
 */
import type { LedgerAccount } from '../billing/ledger';

/** A sum of one account of the ledger; debits positive, in minor units. */
export interface Booked {
	/** What it is counted under: a plan, a price, a code. */
	key: string;
	currency: string;
	account: LedgerAccount;
	amountMinor: number;
}

export interface Earned {
	key: string;
	currency: string;
	soldMinor: number;
	discountMinor: number;
	refundMinor: number;
	disputedMinor: number;
	/** What is left of it. */
	leftMinor: number;
	/** Beside it: what was collected for the tax office, less what was given back. */
	taxMinor: number;
}

/** The one that left most stands first, each currency by itself. */
export function earnedBy(all: readonly Booked[]): Earned[] {
	const rows = new Map<string, Earned>();
	for (const { key, currency, account, amountMinor } of all) {
		const id = `${currency} ${key}`;
		const row = rows.get(id) ?? nothing(key, currency);
		rows.set(id, row);
		switch (account) {
			case 'sales':
				row.soldMinor -= amountMinor;
				break;
			case 'discounts':
				row.discountMinor += amountMinor;
				break;
			case 'refunds':
				row.refundMinor += amountMinor;
				break;
			case 'disputes':
				row.disputedMinor += amountMinor;
				break;
			case 'tax':
				row.taxMinor -= amountMinor;
				break;
			case 'processor':
			case 'cash':
				break;
		}
	}
	for (const row of rows.values())
		row.leftMinor = row.soldMinor - row.discountMinor - row.refundMinor - row.disputedMinor;
	return [...rows.values()].sort(
		(a, b) => compare(a.currency, b.currency) || b.leftMinor - a.leftMinor || compare(a.key, b.key)
	);
}

function nothing(key: string, currency: string): Earned {
	return {
		...{ key, currency, soldMinor: 0, discountMinor: 0, refundMinor: 0, disputedMinor: 0 },
		...{ leftMinor: 0, taxMinor: 0 }
	};
}

function compare(a: string, b: string): number {
	return a < b ? -1 : Number(a > b);
}
