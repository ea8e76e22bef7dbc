import { describe, expect, it } from 'vitest';
import { charged, TEST_CARD_KINDS, TEST_CARDS, testCard, type TestCardKind } from './test-cards';

const at = (day: string) => Date.parse(`${day}T12:00:00Z`);

/** Which of the next charges work. */
function renewals(kind: TestCardKind, later: number, count: number): boolean[] {
	let { worksFor } = testCard(kind, later, at('2026-11-30'));
	return Array.from({ length: count }, () => {
		const next = charged({ worksFor });
		worksFor = next.worksFor;
		return next.works;
	});
}

describe('test cards', () => {
	it.each([
		['works', 1, [true, true, true]],
		['second-step', 1, [true, true, true]],
		['fails-on-renewal', 5, [false, false, false]],
		['fails-later', 2, [true, true, false]],
		['expires', 9, [true, false, false]]
	] as const)('%s, with %i renewals said, goes on like that', (kind, later, expected) => {
		expect(renewals(kind, later, expected.length)).toEqual(expected);
	});

	it('says the month a card is good to: the next one for a card that ends soon, years on for others', () => {
		expect(testCard('expires', 1, at('2026-11-30')).expires).toBe('2026-12');
		expect(testCard('expires', 1, at('2026-12-31')).expires).toBe('2027-01');
		expect(testCard('expires', 1, at('2027-01-31')).expires).toBe('2027-02');
		expect(testCard('works', 1, at('2026-12-31')).expires).toBe('2031-09');
	});

	it('tells cards apart by the last digits of their numbers', () => {
		expect(new Set(TEST_CARD_KINDS.map((kind) => TEST_CARDS[kind].ending)).size).toBe(TEST_CARD_KINDS.length);
	});
});
