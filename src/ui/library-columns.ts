/** Columns of the Library's table beside the title, as its address names them: `columns=kind.state`. */
export const COLUMNS = ['kind', 'home', 'state', 'who', 'length', 'changed'] as const;
export type Column = (typeof COLUMNS)[number];

export const COLUMN_WORDS: Record<Column | 'title', string> = {
	title: 'Title',
	kind: 'Kind',
	home: 'Lives in',
	state: 'State',
	who: 'Who gets in',
	length: 'Length',
	changed: 'Changed'
};

/** Where something lives is seen by where it stands. */
export const USUAL: readonly Column[] = ['kind', 'state', 'who', 'length', 'changed'];

export function readColumns(text: string | null): readonly Column[] {
	if (text === null) return USUAL;
	const named = new Set(text.split('.'));
	return COLUMNS.filter((one) => named.has(one));
}

/** `null` for those that are shown anyhow. */
export function writeColumns(columns: readonly Column[]): string | null {
	const named = COLUMNS.filter((one) => columns.includes(one)).join('.');
	return named === USUAL.join('.') ? null : named;
}
