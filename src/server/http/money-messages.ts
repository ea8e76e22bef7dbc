/** What is said of amounts that somebody typed at the Desk. */
import type { OffProblem } from '$core/billing/discount-typed';
import { MAX_AMOUNT_MAJOR, type AmountProblem } from '$core/billing/money';

export function amountMessage(code: AmountProblem, currency: string): string {
	switch (code) {
		case 'not-a-number':
			return 'Write the amount in digits, such as 12 or 12.50.';
		case 'not-positive':
			return 'An amount is more than 0.';
		case 'too-many-decimals':
			return `${currency} has no amounts that small. Write it with fewer decimals.`;
		case 'too-large':
			return `That is more than ${MAX_AMOUNT_MAJOR.toLocaleString('en-GB')} ${currency}, the most a price can be.`;
		case 'unknown-currency':
			return 'Choose a currency.';
		default:
			return code satisfies never;
	}
}

export function offMessage(problem: OffProblem, currency: string): string {
	switch (problem.code) {
		case 'not-a-percentage':
			return 'A whole number from 1 to 100.';
		case 'not-a-count':
			return `A whole number from 1 to ${problem.most}.`;
		default:
			return amountMessage(problem.code, currency);
	}
}
