import { describe, expect, it, test } from 'vitest';
import { readTable } from './table';

describe('a table of items', () => {
	it('is read by the names of its columns', () => {
		const read = readTable([
			['Title', 'ADDRESS', 'tags', 'shelf', 'base', 'position', 'colour'],
			['Wheel', '/videos/wheel', 'brass; wheels ;', 'tables / cutting', 'open', '3', 'gold'],
			['', '', '', '', '', '', '']
		]);
		expect(read).toEqual({
			ok: true,
			unknownColumns: ['colour'],
			problems: [],
			rows: [
				{
					line: 2,
					title: 'Wheel',
					address: '/videos/wheel',
					tags: ['brass', 'wheels'],
					shelf: ['tables', 'cutting'],
					base: 'open',
					position: 3
				}
			]
		});
	});

	test.each([
		['kind', 'film', 'unknown-kind'],
		['base', 'ajar', 'unknown-base'],
		['state', 'scheduled', 'unknown-state'],
		['position', '-1', 'bad-position'],
		['address', 'videos/wheel', 'bad-address'],
		['title', 'x'.repeat(201), 'too-long']
	])('says what is wrong with %s “%s”', (column, text, code) => {
		const read = readTable([
			['title', column],
			['Wheel', text]
		]);
		expect(read).toMatchObject({ ok: true, problems: [{ line: 2, column, code }] });
	});

	it('says that an address stands in it twice', () => {
		const read = readTable([['address'], ['/a'], ['/b'], ['/a']]);
		expect(read).toMatchObject({ problems: [{ line: 4, code: 'twice', seen: '/a' }] });
	});

	test.each([
		[[], 'empty'],
		[[['title']], 'empty'],
		[
			[
				['name', 'colour'],
				['x', 'y']
			],
			'no-columns'
		],
		[[['title'], ...Array.from({ length: 5001 }, () => ['x'])], 'too-many']
	])('%# is refused', (cells, code) => {
		expect(readTable(cells)).toMatchObject({ ok: false, code });
	});
});
