import fc from 'fast-check';
import { expect, it, test } from 'vitest';
import { EXTRA_FOR_MS, NOT_OFFERED, whyNotOffered, type ExtraStanding } from './extra';

const PAID = 1_000_000;
const GOOD: ExtraStanding = {
	paidAt: PAID,
	hasCard: true,
	isAnswered: false,
	isSold: true,
	isHeld: false,
	isIncluded: false,
	hasQuestions: false
};

test.each<[string, Partial<ExtraStanding>, number, string | null]>([
	['is offered to whoever has just paid', {}, PAID, null],
	['is offered to the last moment of the hour', {}, PAID + EXTRA_FOR_MS - 1, null],
	['is not offered after the hour', {}, PAID + EXTRA_FOR_MS, 'too-late'],
	['is not offered where the money went back', { paidAt: null }, PAID, 'not-paid'],
	['is not offered without a card to charge', { hasCard: false }, PAID, 'no-card'],
	['is offered once', { isAnswered: true }, PAID, 'answered'],
	['is not offered where it is not sold', { isSold: false }, PAID, 'not-sold'],
	['is not offered to whoever has it', { isHeld: true }, PAID, 'held'],
	['is not offered where it opens nothing more', { isIncluded: true }, PAID, 'included'],
	['is not offered where one press would not do', { hasQuestions: true }, PAID, 'has-questions']
])('%s', (_, over, now, expected) => {
	expect(whyNotOffered({ ...GOOD, ...over }, now)).toBe(expected);
});

it('says the first reason of all that there are, and knows every one', () => {
	const WRONG: Partial<ExtraStanding>[] = [
		{ paidAt: null },
		{ paidAt: PAID - EXTRA_FOR_MS },
		{ hasCard: false },
		{ isAnswered: true },
		{ isSold: false },
		{ isHeld: true },
		{ isIncluded: true },
		{ hasQuestions: true }
	];
	expect(WRONG).toHaveLength(NOT_OFFERED.length);
	fc.assert(
		fc.property(fc.uniqueArray(fc.nat(WRONG.length - 1), { minLength: 1 }), (which) => {
			// What was never paid is not late.
			const wrong = which.sort((a, b) => b - a).reduce((all, n) => ({ ...all, ...WRONG[n] }), GOOD);
			expect(whyNotOffered(wrong, PAID)).toBe(NOT_OFFERED[Math.min(...which)]);
		}),
		{ seed: 20_261_130, numRuns: 300 }
	);
});
