import { describe, expect, it } from 'vitest';
import { differing } from './what-changed';

const held = (of: Record<string, string[]>) => new Map(Object.entries(of));

describe('what differs between two states of a form', () => {
	it.each([
		['nothing', { a: ['1'], b: ['x', 'y'] }, { a: ['1'], b: ['x', 'y'] }, []],
		['a text', { a: ['1'] }, { a: ['2'] }, ['a']],
		['what is ticked now', { a: ['1'] }, { a: ['1'], b: ['yes'] }, ['b']],
		['what is ticked no more', { a: ['1'], b: ['yes'] }, { a: ['1'] }, ['b']],
		['one of several', { a: ['1', '2'] }, { a: ['1', '3'] }, ['a']],
		['one more of several', { a: ['1'] }, { a: ['1', '1'] }, ['a']],
		['the order of several does not', { a: ['1', '2'] }, { a: ['2', '1'] }, []],
		['an empty text beside none', {}, { a: [''] }, ['a']]
	])('%s', (_, before, now, wanted) => {
		expect(differing(held(before), held(now))).toEqual(wanted);
	});
});
