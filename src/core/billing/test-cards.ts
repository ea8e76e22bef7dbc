/**
 * Cards that no bank knows, a story each: for whoever practises, and for the Till. What a card does at its charges is counted
 * on the card itself. Example: one that fails later works once when it is given, at as many renewals as was said, and at none
 * after them.
 */

export const TEST_CARDS = {
	works: { text: 'Works, now and at every renewal', ending: '4242' },
	declined: { text: 'Declined', ending: '0002' },
	'second-step': { text: 'Asks for a second step, and works', ending: '3220' },
	'fails-on-renewal': { text: 'Works now, declined at every renewal', ending: '0341' },
	'fails-later': {
		text: 'Works now and at the next renewals, then declined; renewals that work:',
		ending: '0259'
	},
	expires: { text: 'Works now, is over at the end of next month and declined from then on', ending: '0069' }
} as const;
export type TestCardKind = keyof typeof TEST_CARDS;

export const TEST_CARD_KINDS = Object.keys(TEST_CARDS) as TestCardKind[];

export interface TestCard {
	kind: TestCardKind;
	/** The month it is good to, such as 2028-09. */
	expires: string;
	/** Charges after the first that still work; `null`: all. */
	worksFor: number | null;
	/** Where its bank is (ISO 3166-1 alpha-2); missing: that is not said. */
	country?: string;
}

/** What another card is good for, so that it outlives whatever is tried with it. */
const YEARS_GOOD = 4;

/**
 * A card as it is when it is given.
 * @param later of those that fail later: how many renewals work
 * @param now ms since 1970, UTC
 */
export function testCard(kind: TestCardKind, later: number, now: number): TestCard {
	const renewals: Partial<Record<TestCardKind, number>> = {
		'fails-on-renewal': 0,
		'fails-later': later,
		expires: 1
	};
	const today = new Date(now);
	const nextMonth = new Date(Date.UTC(today.getUTCFullYear(), today.getUTCMonth() + 1, 1));
	const expires =
		kind === 'expires'
			? nextMonth.toISOString().slice(0, 7)
			: `${nextMonth.getUTCFullYear() + YEARS_GOOD}-09`;
	return { kind, worksFor: renewals[kind] ?? null, expires };
}

/** Whether a charge of a kept card works, and what is left of it after that. */
export function charged({ worksFor }: Pick<TestCard, 'worksFor'>): {
	works: boolean;
	worksFor: number | null;
} {
	return worksFor === null
		? { works: true, worksFor }
		: { works: worksFor > 0, worksFor: Math.max(0, worksFor - 1) };
}
