/** What moves recurring income, and months, as the Desk says them. */
import type { Why } from '$core/measure/recurring';

export const WHY_WORDS: Record<Why, string> = {
	new: 'New',
	back: 'Came back',
	up: 'Moved up',
	down: 'Moved down',
	lost: 'Cancelled or paused',
	failed: 'Not paid',
	refunded: 'Refunded or disputed'
};

/** Such as “May” or, where a year begins or the list does, “Jan 2026”. */
export function monthWords(month: string, n: number): string {
	const [year, number] = month.split('-');
	const name = new Intl.DateTimeFormat('en', { month: 'short', timeZone: 'UTC' }).format(
		new Date(`${month}-01T00:00:00Z`)
	);
	return n === 0 || number === '01' ? `${name} ${year}` : name;
}

/** Such as “33 %”; nothing where there is no share. */
export function shareWords(share: number | null): string {
	return share === null ? '' : `${Math.round(share * 100)} %`;
}
