/** Tables that people bring in: which column of a file is what, and what is said of rows that will not do. */

/** What a column of a file is taken for; `null`: it is left out. */
export interface TakenColumn<C extends string> {
	name: string;
	column: C | null;
}

/** What somebody took columns for, by their place in the file. */
export type TakenAs<C extends string> = Readonly<Record<number, C | null>>;

/** What is said of rows that will not do, in a file that Stile gave out to be mended: nobody's column. */
export const PROBLEM_COLUMN = 'what is wrong';

/**
 * What each column of a file is. A name that is a column's own comes before one that it is also called by: that one is left
 * out then.
 *
 * @param names of the file's columns
 * @param alsoCalled other names of columns, in lower case
 */
export function matchColumns<C extends string>(
	names: readonly string[],
	columns: readonly C[],
	alsoCalled: Readonly<Record<string, C>>,
	taken: TakenAs<C>
): (C | null)[] {
	const own = names.map((name, n) =>
		n in taken ? (taken[n] ?? null) : (columns.find((one) => one === name.trim().toLowerCase()) ?? null)
	);
	const found = new Set(own);
	return names.map((name, n) => {
		const key = name.trim().toLowerCase();
		const guess = Object.hasOwn(alsoCalled, key) ? alsoCalled[key] : undefined;
		if (own[n] !== null || n in taken || guess === undefined || found.has(guess)) return own[n] ?? null;
		found.add(guess);
		return guess;
	});
}

/** Rows that will not do as a table of their own, each with what is wrong; the first names the columns as before. */
export function rowsToMend(
	cells: readonly (readonly string[])[],
	problems: readonly { line: number; words: string }[]
): string[][] {
	const [names = [], ...rest] = cells;
	const kept = names.flatMap((name, n) => (isProblemColumn(name) ? [] : [n]));
	const byLine = new Map<number, string[]>();
	for (const { line, words } of problems) byLine.set(line, [...(byLine.get(line) ?? []), words]);
	const row = (texts: readonly string[], last: string) => [...kept.map((n) => texts[n] ?? ''), last];
	return [
		row(names, PROBLEM_COLUMN),
		...rest.flatMap((texts, n) => {
			const wrong = byLine.get(n + 2);
			return wrong ? [row(texts, wrong.join(' '))] : [];
		})
	];
}

export function isProblemColumn(name: string): boolean {
	return name.trim().toLowerCase() === PROBLEM_COLUMN;
}

export interface ProblemGroup<P> {
	/** One of them, to say what is wrong. */
	first: P;
	/** In their order. */
	lines: number[];
}

/** The same thing wrong in many rows is said once. */
export function groupedProblems<P extends { line: number; column: string | null; code: string }>(
	problems: readonly P[]
): ProblemGroup<P>[] {
	const groups = new Map<string, ProblemGroup<P>>();
	for (const problem of problems) {
		const key = `${problem.code} ${problem.column}`;
		const known = groups.get(key);
		if (known) known.lines.push(problem.line);
		else groups.set(key, { first: problem, lines: [problem.line] });
	}
	return [...groups.values()];
}

/** Several in one cell: `brass; wheels`. */
export function listed(text: string, separator: string): string[] {
	return text
		.split(separator)
		.map((one) => one.trim())
		.filter((one) => one !== '');
}
