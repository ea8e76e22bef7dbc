import { describe, expect, it } from 'vitest';
import { nextOrder, tableOf } from './table';

const COLUMNS = [
	{ id: 'title', header: 'Title' },
	{ id: 'kind', header: 'Kind' },
	{ id: 'length', header: 'Length' }
];

describe('a table', () => {
	it('has the columns that are not hidden, in their order', () => {
		const shown = tableOf(COLUMNS, '', ['kind']).getVisibleLeafColumns();
		expect(shown.map(({ id, columnDef }) => [id, columnDef.header])).toEqual([
			['title', 'Title'],
			['length', 'Length']
		]);
	});

	it.each([
		['', [false, false, false]],
		['kind', [false, 'asc', false]],
		['-kind', [false, 'desc', false]]
	])('in the order of %j is marked so', (order, wanted) => {
		const columns = tableOf(COLUMNS, order).getVisibleLeafColumns();
		expect(columns.map((column) => column.getIsSorted())).toEqual(wanted);
	});

	it.each([
		['', 'kind'],
		['title', 'kind'],
		['kind', '-kind'],
		['-kind', null]
	])('in the order of %j comes into that of %j by a press on kind', (order, wanted) => {
		expect(nextOrder(order, 'kind')).toBe(wanted);
	});
});
