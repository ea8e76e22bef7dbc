import { describe, expect, it } from 'vitest';
import { MAX_MEMBER_ROWS, readMembers, type MemberColumn } from './table';

const ZONE = 'Europe/Vienna';
const NOW = Date.parse('2026-03-01T12:00Z');
const read = (cells: string[][], taken: Record<number, MemberColumn | null> = {}) =>
	readMembers(cells, ZONE, NOW, taken);
const rows = (cells: string[][]) => {
	const table = read(cells);
	if (!table.ok) throw new Error(table.code);
	return table;
};
const wrong = (...cells: string[][]) =>
	rows(cells).problems.map(({ line, column, code, seen }) => [line, column, code, seen]);

describe('a table of members', () => {
	it('is read by the names of its columns, or by what else they are called', () => {
		const { rows: found, columns } = rows([
			['E-Mail', 'Full name', 'membership', 'Start date', 'expires', 'Joined on', 'Tags', 'colour'],
			[
				' Wren@Mail.example ',
				'Wren Alder',
				'Workshop',
				'2026-01-01',
				'2027-01-01 18:00',
				'2024-07-01',
				'bench; Evening ;bench',
				'green'
			],
			['', '', '', '', '', '', '', ''],
			['bram@mail.example']
		]);
		expect(found).toEqual([
			{
				line: 2,
				email: 'wren@mail.example',
				name: 'Wren Alder',
				plan: 'Workshop',
				from: Date.parse('2025-12-31T23:00Z'),
				until: Date.parse('2027-01-01T17:00Z'),
				joined: Date.parse('2024-06-30T22:00Z'),
				labels: ['bench', 'Evening']
			},
			{
				...{ line: 4, email: 'bram@mail.example', name: '', plan: '' },
				...{ from: null, until: null, joined: null, labels: [] }
			}
		]);
		expect(columns.map(({ column }) => column)).toEqual([
			...['email', 'name', 'plan', 'from', 'until', 'joined', 'labels'],
			null
		]);
	});

	it('takes columns for what somebody says that they are', () => {
		const cells = [
			['a', 'b'],
			['wren@mail.example', 'Wren']
		];
		expect(read(cells)).toMatchObject({ ok: false, code: 'no-columns', seen: 'a, b' });
		expect(read(cells, { 0: 'email', 1: 'name' })).toMatchObject({ ok: true, rows: [{ name: 'Wren' }] });
		expect(read(cells, { 0: 'email', 1: 'email' })).toMatchObject({ ok: false, code: 'column-twice' });
	});

	it.each<[string, string[][], string]>([
		['without a row', [], 'empty'],
		['with names alone', [['email']], 'empty'],
		['with empty rows', [['email'], [' ']], 'empty'],
		['without addresses', [['name'], ['Wren']], 'no-columns'],
		[
			'too long',
			[['email'], ...Array.from({ length: MAX_MEMBER_ROWS + 1 }, (_, n) => [`a${n}@b.example`])],
			'too-many'
		]
	])('is refused %s', (_, cells, code) => {
		expect(read(cells)).toMatchObject({ ok: false, code });
	});

	it('is taken at its longest', () => {
		const most = Array.from({ length: MAX_MEMBER_ROWS }, (_, n) => [`a${n}@b.example`]);
		expect(rows([['email'], ...most]).problems).toEqual([]);
	});

	it.each([
		'wren',
		'wren@',
		'@mail.example',
		'wren@mail',
		'wren alder@mail.example',
		'a@b@c.example',
		'a@b..example'
	])('says that %s is no address', (email) => {
		expect(wrong(['email'], [email])).toEqual([[2, 'email', 'bad-email', email]]);
	});

	it('says what is wrong at its cell', () => {
		expect(wrong(['email', 'name'], ['', 'Wren'])).toEqual([[2, 'email', 'no-email', '']]);
		expect(wrong(['email'], ['Wren@mail.example'], ['wren@mail.example'])).toEqual([
			[3, 'email', 'twice', 'wren@mail.example']
		]);
		expect(wrong(['email', 'name'], ['a@b.example', 'x'.repeat(121)])[0]?.slice(0, 3)).toEqual([
			2,
			'name',
			'too-long'
		]);
		expect(wrong(['email', 'labels'], ['a@b.example', 'x'.repeat(61)])[0]?.slice(0, 3)).toEqual([
			2,
			'labels',
			'too-long'
		]);
		expect(wrong(['email', 'plan', 'until'], ['a@b.example', 'Workshop', '31.12.2027'])).toEqual([
			[2, 'until', 'bad-date', '31.12.2027']
		]);
		expect(wrong(['email', 'joined'], ['a@b.example', '2024-01-01'])).toEqual([
			[2, 'joined', 'needs-plan', '2024-01-01']
		]);
	});

	it.each([
		['a day before it begins', '2026-03-02', '2026-03-01', true],
		['as it begins', '2026-03-02', '2026-03-02', true],
		['a day after it begins', '2026-03-02', '2026-03-03', false],
		['before now, where it begins now', '', '2026-03-01', true],
		['after now, where it begins now', '', '2026-03-02', false]
	])('says where a plan ends %s', (_, from, until, isWrong) => {
		const found = wrong(['email', 'plan', 'from', 'until'], ['a@b.example', 'Workshop', from, until]);
		expect(found.map(([, , code]) => code)).toEqual(isWrong ? ['ends-before-it-begins'] : []);
	});
});
