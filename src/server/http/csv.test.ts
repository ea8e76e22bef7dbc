import { parse } from 'csv-parse/sync';
import { describe, expect, it } from 'vitest';
import { toCsv } from './csv';

describe('a table', () => {
	// RFC 4180 §2: lines end in CRLF (1), quotes around commas, line breaks and quotes (6), which are doubled (7).
	it.each([
		['plain', 'plain\r\n'],
		['x,y', '"x,y"\r\n'],
		['says "tick"', '"says ""tick"""\r\n'],
		['two\nlines', '"two\nlines"\r\n'],
		['two\r\nlines', '"two\r\nlines"\r\n'],
		['alone\rhere', '"alone\rhere"\r\n'],
		['', '\r\n']
	])('writes %j as RFC 4180 has it', (field, line) => {
		expect(toCsv([[field]])).toBe(line);
	});

	// Common practice, no source: an apostrophe makes it text.
	it.each(['=1+1', '+4', '-3+2', '@sum', '\tx', '\rx'])('makes %j text for a spreadsheet', (field) => {
		expect(parse(toCsv([[field]]))).toEqual([[`'${field}`]]);
	});

	it('leaves amounts below zero the numbers that they are', () => {
		expect(toCsv([['-1.92', '-3']])).toBe('-1.92,-3\r\n');
	});

	it('is read back as it was', () => {
		const rows = [
			['Ökonomie, "Räder"', 'two\nlines', ''],
			['振り子', ' spaces ', 'x']
		];
		expect(parse(toCsv(rows))).toEqual(rows);
	});
});
