/** Reads a table as people bring it: cells by rows, in pieces, so that requests go on beside a large one. */
import { setImmediate as pause } from 'node:timers/promises';
import { Readable } from 'node:stream';
import { parse } from 'csv-parse';

/** Between so many rows other requests have their turn. */
export const ROWS_AT_ONCE = 250;

/** Told how far it is, row by row. */
export interface Counting {
	expect(steps: number): void;
	step(): void;
}

export async function cellsOf(csv: string) {
	// RFC 4180, and what spreadsheets make of it: a byte order mark, and semicolons where the comma parts decimals.
	const [names = ''] = csv.split('\n', 1);
	const delimiter = names.split(';').length > names.split(',').length ? ';' : ',';
	const parser = parse({ bom: true, relax_column_count: true, skip_empty_lines: true, delimiter });
	const cells: string[][] = [];
	try {
		for await (const row of Readable.from(chunksOf(csv)).pipe(parser)) {
			cells.push(row as string[]);
			if (cells.length % ROWS_AT_ONCE === 0) await pause();
		}
	} catch (error) {
		return {
			ok: false as const,
			code: 'not-a-table' as const,
			columns: [],
			seen: error instanceof Error ? error.message : ''
		};
	}
	return { ok: true as const, cells };
}

const CHUNK_LETTERS = 16_384;

function* chunksOf(text: string): Generator<string> {
	for (let n = 0; n < text.length; n += CHUNK_LETTERS) yield text.slice(n, n + CHUNK_LETTERS);
}
