import { stringify } from 'csv-stringify/sync';

/**
 * Tables as RFC 4180 has them. What a spreadsheet would take for a formula has an apostrophe in front, which makes it text
 * (common practice, no source).
 */
export function toCsv(rows: readonly (readonly string[])[]): string {
	return stringify([...rows], {
		...{ record_delimiter: 'windows', escape_formulas: true, quoted_match: /[\r\n]/ },
		// An amount below zero begins like a formula, and is none.
		cast: { string: (value) => (NUMBER.test(value) ? { value, escape_formulas: false } : value) }
	});
}

const NUMBER = /^-?\d+(?:\.\d+)?$/;

export function csv(name: string, rows: readonly (readonly string[])[]): Response {
	return new Response(toCsv(rows), {
		headers: {
			'content-type': 'text/csv; charset=utf-8; header=present',
			'content-disposition': `attachment; filename="${name}.csv"`
		}
	});
}
