/**
 * A table of members who are brought in: one a row, columns by their names in the first row.
 *
 * A row is for the member who has its address, or for a new one. Columns that are left out, and cells that are empty, change
 * nothing. Example: `email,plan,joined,labels` with `wren@mail.example,Workshop,2024-03-01,bench; evening` gives that member
 * the plan for good, with releases that count from that day, and two labels.
 */
import { readLocal } from '../time/calendar';
import type { Instant } from '../time/instant';
import { listed, matchColumns, type TakenAs, type TakenColumn } from '../text/columns';

export const MEMBER_COLUMNS = ['email', 'name', 'plan', 'from', 'until', 'joined', 'labels'] as const;
export type MemberColumn = (typeof MEMBER_COLUMNS)[number];

export interface MemberRow {
	/** In the file, counted from 1; the names are line 1. */
	line: number;
	/** Trimmed, in lower case. */
	email: string;
	name: string;
	/** The name of a plan, as it is written; empty: none is given. */
	plan: string;
	/** `null`: now. */
	from: Instant | null;
	/** `null`: for good. */
	until: Instant | null;
	/** The day they first joined the plan, from which its releases count; `null`: the day that it begins. */
	joined: Instant | null;
	labels: string[];
}

export interface MemberRowProblem {
	line: number;
	column: MemberColumn | null;
	code:
		| 'no-email'
		| 'bad-email'
		| 'twice'
		| 'too-long'
		| 'bad-date'
		| 'needs-plan'
		| 'ends-before-it-begins'
		| 'unknown-plan'
		| 'is-staff';
	seen: string;
}

export type ReadMembers =
	| { ok: true; rows: MemberRow[]; problems: MemberRowProblem[]; columns: TakenColumn<MemberColumn>[] }
	| {
			ok: false;
			code: 'empty' | 'no-columns' | 'column-twice' | 'too-many';
			seen: string;
			columns: TakenColumn<MemberColumn>[];
	  };

/** What else columns are called (common practice, no source). */
const ALSO_CALLED: Readonly<Record<string, MemberColumn>> = {
	'e-mail': 'email',
	'email address': 'email',
	mail: 'email',
	'full name': 'name',
	membership: 'plan',
	level: 'plan',
	start: 'from',
	'start date': 'from',
	end: 'until',
	'end date': 'until',
	expires: 'until',
	'joined on': 'joined',
	'first joined': 'joined',
	tags: 'labels',
	label: 'labels'
};

export const MAX_MEMBER_ROWS = 5000;
const MAX_EMAIL = 254;
const MAX_NAME = 120;
const MAX_LABEL = 60;
const EMAIL = /^[^\s@<>()[\]\\,;:"]+@(?:[^\s@<>()[\]\\,;:".]+\.)+[^\s@<>()[\]\\,;:".]+$/;

/**
 * @param cells rows of cells, the first with the names of the columns
 * @param zone in which dates without a time begin
 * @param now in whose place an empty `from` stands
 */
export function readMembers(
	cells: readonly (readonly string[])[],
	zone: string,
	now: Instant,
	taken: TakenAs<MemberColumn> = {}
): ReadMembers {
	const [names, ...rest] = cells;
	if (!names) return { ok: false, code: 'empty', seen: '', columns: [] };
	const columns = matchColumns(names, MEMBER_COLUMNS, ALSO_CALLED, taken);
	const told = names.map((name, n) => ({ name: name.trim(), column: columns[n] ?? null }));
	const refused = (code: Extract<ReadMembers, { ok: false }>['code'], seen = ''): ReadMembers => ({
		...{ ok: false, code, seen, columns: told }
	});
	if (!columns.includes('email')) return refused('no-columns', names.join(', ').slice(0, 200));
	const twice = columns.find((one, n) => one !== null && columns.indexOf(one) !== n);
	if (twice) return refused('column-twice', twice);
	if (rest.length > MAX_MEMBER_ROWS) return refused('too-many', String(rest.length));
	const rows: MemberRow[] = [];
	const problems: MemberRowProblem[] = [];
	const seen = new Set<string>();
	for (const [n, texts] of rest.entries()) {
		if (texts.every((text) => text.trim() === '')) continue;
		const said = (column: MemberColumn) => (texts[columns.indexOf(column)] ?? '').trim();
		const { row, wrong } = readRow(n + 2, said, zone, now);
		if (row.email !== '' && seen.has(row.email)) wrong.push({ column: 'email', code: 'twice' });
		seen.add(row.email);
		rows.push(row);
		for (const { column, code } of wrong)
			problems.push({ line: row.line, column, code, seen: column === null ? '' : said(column).slice(0, 60) });
	}
	return rows.length === 0 ? refused('empty') : { ok: true, rows, problems, columns: told };
}

type Wrong = Pick<MemberRowProblem, 'column' | 'code'>;

function readRow(
	line: number,
	said: (column: MemberColumn) => string,
	zone: string,
	now: Instant
): { row: MemberRow; wrong: Wrong[] } {
	const wrong: Wrong[] = [];
	const dated = (column: 'from' | 'until' | 'joined'): Instant | null => {
		if (said(column) === '') return null;
		const read = readLocal(said(column), zone);
		if (!read.ok) wrong.push({ column, code: 'bad-date' });
		return read.ok ? read.at : null;
	};
	const email = said('email').toLowerCase();
	const row: MemberRow = {
		...{ line, email, name: said('name'), plan: said('plan') },
		...{ from: dated('from'), until: dated('until'), joined: dated('joined') },
		labels: [...new Map(listed(said('labels'), ';').map((one) => [one.toLowerCase(), one])).values()]
	};
	if (email === '') wrong.push({ column: 'email', code: 'no-email' });
	else if (email.length > MAX_EMAIL || !EMAIL.test(email)) wrong.push({ column: 'email', code: 'bad-email' });
	if (row.name.length > MAX_NAME) wrong.push({ column: 'name', code: 'too-long' });
	if (row.labels.some((one) => one.length > MAX_LABEL)) wrong.push({ column: 'labels', code: 'too-long' });
	const dates = (['from', 'until', 'joined'] as const).find((column) => said(column) !== '');
	if (row.plan === '' && dates) wrong.push({ column: dates, code: 'needs-plan' });
	if (row.until !== null && row.until <= (row.from ?? now))
		wrong.push({ column: 'until', code: 'ends-before-it-begins' });
	return { row, wrong };
}
