import { describe, expect, it } from 'vitest';
import { COLUMNS, readColumns, USUAL, writeColumns } from './library-columns';

describe('columns in an address', () => {
	it.each([
		[null, USUAL],
		['', []],
		['state.kind', ['kind', 'state']],
		['kind.nothing.of.the.sort', ['kind']]
	])('%j are %j', (text, columns) => {
		expect(readColumns(text)).toEqual(columns);
	});

	it('are not named where they are the usual ones, in whichever order', () => {
		expect(writeColumns([...USUAL].reverse())).toBeNull();
	});

	it('are read as they were written', () => {
		for (const columns of [[], ['home'], [...COLUMNS]] as const)
			expect(readColumns(writeColumns(columns))).toEqual(columns);
	});
});
