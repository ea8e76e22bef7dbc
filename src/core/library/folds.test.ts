import { describe, expect, it, test } from 'vitest';
import { isFoldedIn, turned } from './folds';

describe('folds', () => {
	test.each([
		[null, 'a', false],
		['a.b', 'a', true],
		['a.b', 'c', false],
		['all', 'a', true],
		['all.a', 'a', false],
		['all.a', 'b', true]
	])('%j folds %s: %j', (folds, id, expected) => {
		expect(isFoldedIn(folds)(id)).toBe(expected);
	});

	test.each([
		[null, 'a', 'a'],
		['a', 'a', null],
		['all', 'a', 'all.a'],
		['all.a', 'a', 'all'],
		['b', 'a', 'b.a']
	])('%j with %s turned is %j', (folds, id, expected) => {
		expect(turned(folds, id)).toBe(expected);
	});

	it('turned about twice are what they were', () => {
		for (const folds of [null, 'b', 'all', 'all.b']) expect(turned(turned(folds, 'a'), 'a')).toBe(folds);
	});
});
