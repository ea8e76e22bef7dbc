import { describe, expect, it } from 'vitest';
import { batchState, normaliseCode, type BatchState, type CodeBatchFacts } from './batches';

const NOW = Date.parse('2026-07-01T09:00Z');

describe('a batch of codes', () => {
	it.each([
		[{}, 'running'],
		[{ startsAt: NOW }, 'running'],
		[{ startsAt: NOW + 1 }, 'early'],
		[{ endsAt: NOW + 1 }, 'running'],
		[{ endsAt: NOW }, 'over'],
		[{ startsAt: NOW + 1, endsAt: NOW - 1 }, 'over'],
		[{ uses: 99 }, 'running'],
		[{ usesPerCode: 2, uses: 5 }, 'running'],
		[{ usesPerCode: 2, uses: 6 }, 'used-up'],
		[{ usesPerCode: 2, uses: 6, endsAt: NOW }, 'over'],
		[{ usesPerCode: 2, uses: 6, startsAt: NOW + 1 }, 'used-up']
	] satisfies [Partial<CodeBatchFacts>, BatchState][])('of %j is %s', (over, state) => {
		const facts = { startsAt: null, endsAt: null, usesPerCode: null, codes: 3, uses: 0, ...over };
		expect(batchState(facts, NOW)).toBe(state);
	});

	it.each([
		['FAIR26', 'FAIR26'],
		['fair-26', 'FAIR26'],
		[' Fa ir\t26 ', 'FAIR26']
	])('has a code that is typed %j', (typed, code) => {
		expect(normaliseCode(typed)).toBe(code);
	});
});
