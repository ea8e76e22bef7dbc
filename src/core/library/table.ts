/**
 * A table that describes many items: one a row, columns by their names in the first row.
 *
 * A row is for the item that has its address, or for a new one. Columns that are left out change nothing. Example:
 * `title,address,tags` with `Wheel,/videos/wheel,brass; wheels` gives that video a title and two tags.
 */
import { listed, matchColumns, type TakenAs, type TakenColumn } from '../text/columns';
import { RESOURCE_KINDS, type ResourceKind } from '../access/model';

export const COLUMNS = [
	'kind',
	'title',
	'address',
	'description',
	'shelf',
	'category',
	'tags',
	'base',
	'state',
	'position',
	'target'
] as const;
export type Column = (typeof COLUMNS)[number];

export interface TableRow {
	/** In the file, counted from 1; the names are line 1. */
	line: number;
	kind?: ResourceKind;
	title?: string;
	address?: string;
	description?: string;
	/** Names of shelves from the outside in; empty for none. */
	shelf?: string[];
	/** Empty for none. */
	category?: string;
	tags?: string[];
	base?: 'open' | 'closed';
	state?: 'draft' | 'published' | 'archived';
	position?: number;
	target?: string;
}

export interface RowProblem {
	line: number;
	column: Column | null;
	code:
		| 'unknown-kind'
		| 'unknown-base'
		| 'unknown-state'
		| 'bad-position'
		| 'bad-address'
		| 'no-title'
		| 'too-long'
		| 'twice';
	seen: string;
}

export type ReadTable =
	| { ok: true; rows: TableRow[]; problems: RowProblem[]; columns: TakenColumn<Column>[] }
	| {
			ok: false;
			code: 'empty' | 'no-columns' | 'column-twice' | 'too-many';
			seen: string;
			columns: TakenColumn<Column>[];
	  };

/** What else columns are called (common practice, no source). */
const ALSO_CALLED: Readonly<Record<string, Column>> = {
	name: 'title',
	url: 'address',
	path: 'address',
	slug: 'address',
	type: 'kind',
	text: 'description',
	folder: 'shelf',
	series: 'shelf',
	keywords: 'tags',
	labels: 'tags',
	status: 'state',
	order: 'position'
};

export const MAX_ROWS = 5000;
const MAX_TITLE = 200;
const MAX_TEXT = 20_000;

/**
 * @param cells rows of cells, the first with the names of the columns
 * @param taken what somebody took columns for, by their place; `null`: for nothing
 */
export function readTable(cells: readonly (readonly string[])[], taken: TakenAs<Column> = {}): ReadTable {
	const [names, ...rest] = cells;
	if (!names) return { ok: false, code: 'empty', seen: '', columns: [] };
	const columns = matchColumns(names, COLUMNS, ALSO_CALLED, taken);
	const told = names.map((name, n) => ({ name: name.trim(), column: columns[n] ?? null }));
	const refused = (code: Extract<ReadTable, { ok: false }>['code'], seen = ''): ReadTable => ({
		...{ ok: false, code, seen, columns: told }
	});
	if (!columns.includes('address') && !columns.includes('title'))
		return refused('no-columns', names.join(', ').slice(0, 200));
	const twice = columns.find((one, n) => one !== null && columns.indexOf(one) !== n);
	if (twice) return refused('column-twice', twice);
	if (rest.length > MAX_ROWS) return refused('too-many', String(rest.length));
	const rows: TableRow[] = [];
	const problems: RowProblem[] = [];
	const addresses = new Set<string>();
	for (const [n, texts] of rest.entries()) {
		if (texts.every((text) => text.trim() === '')) continue;
		const row: TableRow = { line: n + 2 };
		for (const [at, column] of columns.entries()) {
			if (column === null) continue;
			const code = readCell(row, column, (texts[at] ?? '').trim());
			if (code) problems.push({ line: row.line, column, code, seen: (texts[at] ?? '').trim().slice(0, 60) });
		}
		if (row.address !== undefined && row.address !== '') {
			if (addresses.has(row.address))
				problems.push({ line: row.line, column: 'address', code: 'twice', seen: row.address });
			addresses.add(row.address);
		}
		rows.push(row);
	}
	return rows.length === 0 ? refused('empty') : { ok: true, rows, problems, columns: told };
}

function readCell(row: TableRow, column: Column, text: string): RowProblem['code'] | null {
	switch (column) {
		case 'kind':
			if (text === '') return null;
			row.kind = RESOURCE_KINDS.find((kind) => kind === text.toLowerCase());
			return row.kind ? null : 'unknown-kind';
		case 'title':
			if (text === '') return null;
			row.title = text;
			return text.length > MAX_TITLE ? 'too-long' : null;
		case 'address':
			row.address = text;
			return text === '' || text.startsWith('/') ? null : 'bad-address';
		case 'description':
			row.description = text;
			return text.length > MAX_TEXT ? 'too-long' : null;
		case 'shelf':
			row.shelf = listed(text, '/');
			return null;
		case 'category':
			row.category = text;
			return null;
		case 'tags':
			row.tags = listed(text, ';');
			return null;
		case 'base':
			if (text === '') return null;
			row.base = text === 'open' || text === 'closed' ? text : undefined;
			return row.base ? null : 'unknown-base';
		case 'state':
			if (text === '') return null;
			row.state = text === 'draft' || text === 'published' || text === 'archived' ? text : undefined;
			return row.state ? null : 'unknown-state';
		case 'position':
			if (text === '') return null;
			row.position = /^\d{1,6}$/.test(text) ? Number(text) : undefined;
			return row.position === undefined ? 'bad-position' : null;
		case 'target':
			row.target = text;
			return null;
	}
}
