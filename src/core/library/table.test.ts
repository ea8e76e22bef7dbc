import { describe, expect, it, test } from 'vitest';
import { groupedProblems, PROBLEM_COLUMN, rowsToMend } from '../text/columns';
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
			columns: [
				...['title', 'address', 'tags', 'shelf', 'base', 'position'].map((column, n) => ({
					name: n === 0 ? 'Title' : n === 1 ? 'ADDRESS' : column,
					column
				})),
				{ name: 'colour', column: null }
			],
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

	const GOOD: Record<string, string> = { title: 'Wheel', kind: 'page' };
	test.each([
		['kind', 'film', 'unknown-kind'],
		['base', 'ajar', 'unknown-base'],
		['state', 'scheduled', 'unknown-state'],
		['position', '-1', 'bad-position'],
		['address', 'videos/wheel', 'bad-address'],
		['title', 'x'.repeat(201), 'too-long']
	])('says what is wrong with %s “%s”', (column, text, code) => {
		const names = ['title', 'address', 'kind', 'base', 'state', 'position'];
		const read = readTable([names, names.map((name) => (name === column ? text : (GOOD[name] ?? '')))]);
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
				['nickname', 'colour'],
				['x', 'y']
			],
			'no-columns'
		],
		[[['title'], ...Array.from({ length: 5001 }, () => ['x'])], 'too-many']
	])('%# is refused', (cells, code) => {
		expect(readTable(cells)).toMatchObject({ ok: false, code });
	});

	it.each([
		[['Name', 'url'], {}, ['title', 'address']],
		// What is called so itself comes first.
		[['name', 'title', 'path'], {}, [null, 'title', 'address']],
		[['path', 'url', 'title'], {}, ['address', null, 'title']],
		[['what', 'title'], { 0: 'description' }, ['description', 'title']],
		[['type', 'title'], { 0: null }, [null, 'title']],
		[['title', 'name'], { 0: null }, [null, 'title']]
	] as const)('takes %j with %j for %j', (names, taken, columns) => {
		const read = readTable([[...names], names.map(() => '/x')], taken);
		expect(read.columns.map(({ column }) => column)).toEqual(columns);
	});

	it('is refused where two columns are taken for one, and told what they are', () => {
		const read = readTable(
			[
				['title', 'what'],
				['a', 'b']
			],
			{ 1: 'title' }
		);
		expect(read).toMatchObject({ ok: false, code: 'column-twice', seen: 'title' });
		expect(read.columns).toHaveLength(2);
	});

	it('gives rows that will not do back, each with what is wrong', () => {
		const cells = [
			['title', 'What is wrong', 'kind'],
			['Wheel', 'old words', 'film'],
			['Oil', '', 'page'],
			['Dial', '', 'disc']
		];
		const problems = [
			{ line: 2, words: 'No kind.' },
			{ line: 4, words: 'No kind.' },
			{ line: 4, words: 'No address.' }
		];
		const mended = rowsToMend(cells, problems);
		expect(mended).toEqual([
			['title', 'kind', PROBLEM_COLUMN],
			['Wheel', 'film', 'No kind.'],
			['Dial', 'disc', 'No kind. No address.']
		]);
		// What was said of them is no column when they come back.
		expect(readTable(mended)).toMatchObject({ ok: true, problems: [{ line: 2 }, { line: 3 }] });
	});

	it('says the same thing once, with all its lines', () => {
		const wrong = (line: number, code: string, column: string | null) => ({ line, code, column });
		expect(
			groupedProblems([
				wrong(2, 'unknown-kind', 'kind'),
				wrong(2, 'too-long', 'title'),
				wrong(7, 'unknown-kind', 'kind'),
				wrong(9, 'too-long', 'description')
			]).map(({ first, lines }) => [first.code, first.column, lines])
		).toEqual([
			['unknown-kind', 'kind', [2, 7]],
			['too-long', 'title', [2]],
			['too-long', 'description', [9]]
		]);
	});
});
