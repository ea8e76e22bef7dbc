/** Read back by poppler, which had no part in writing it. */
import { execFileSync } from 'node:child_process';
import { describe, expect, it } from 'vitest';
import type { Paper, Report } from '../ports/papers';
import { pdfkitPapers } from './pdfkit-papers';

const PAPER: Paper = {
	language: 'en-GB',
	colour: '#2f6650',
	from: {
		name: 'Fernhollow Clock School',
		lines: ['3 Escapement Lane', '9130 Fernhollow', 'Tax number 4711']
	},
	to: { label: 'Buyer', name: 'Wren Alder', lines: ['wren@mail.example'] },
	title: 'Receipt R-2026-00042',
	facts: [{ label: 'Day', value: '28 Nov 2026' }],
	rows: [
		{ text: 'Workshop', notes: ['28 Nov 2026 to 27 Dec 2026', '12.00 EUR less 3.00 EUR'], amount: '9.00 EUR' }
	],
	...{ sums: [], parts: [], notes: [] },
	total: { label: 'Paid', amount: '9.00 EUR' }
};
const AT = Date.parse('2026-11-28T10:00Z');
const made = async (over: Partial<Paper> = {}) =>
	Buffer.from(await pdfkitPapers().pdf({ ...PAPER, ...over }, AT));
const read = (pdf: Buffer, layout = '-layout') =>
	execFileSync('pdftotext', [layout, '-', '-'], { input: pdf, encoding: 'utf8' });
const facts = (pdf: Buffer) => execFileSync('pdfinfo', ['-'], { input: pdf, encoding: 'utf8' });

const REPORT: Report = {
	...{ language: 'en-GB', colour: '#2f6650', from: PAPER.from, title: 'Disputed payment, order 2026-00042' },
	facts: [{ label: 'Buyer', value: 'Wren Alder, wren@mail.example' }],
	sections: [
		{
			title: 'What was mailed',
			columns: [
				{ label: 'When', share: 0.4 },
				{ label: 'Subject', share: 0.6 }
			],
			rows: [['28 Nov 2026, 11:00', 'Your access to Workshop']],
			none: 'Nothing is written down.',
			note: 'The last 1 of 2.'
		},
		{ title: 'What was opened', columns: [{ label: 'When', share: 1 }], rows: [], none: 'Nothing yet.' }
	]
};
const reported = async (over: Partial<Report> = {}) =>
	Buffer.from(await pdfkitPapers().report({ ...REPORT, ...over }, AT));

describe('a report as PDF', () => {
	it('has its facts, and under each heading the rows of it or that there are none', async () => {
		const text = read(await reported());
		expect(text).toMatch(/Buyer +Wren Alder, wren@mail\.example/);
		expect(text).toMatch(/What was mailed\s+When +Subject\s+28 Nov 2026, 11:00 +Your access to Workshop/);
		expect(text).toContain('The last 1 of 2.');
		expect(text).toMatch(/What was opened\s+Nothing yet\./);
		expect(facts(await reported())).toMatch(/Pages: +1\n/);
	});

	it('goes on over pages with its columns named on each, every row there once, and the pages numbered', async () => {
		const rows = Array.from({ length: 120 }, (_, n) => [`row ${n} `, 'long words '.repeat(n % 30)]);
		const [first] = REPORT.sections;
		const pdf = await reported({ sections: [{ ...first!, rows }] });
		const text = read(pdf);
		const pages = Number(/Pages: +(\d+)/.exec(facts(pdf))?.[1]);
		expect(pages).toBeGreaterThan(2);
		expect(text.match(/When +Subject/g)).toHaveLength(pages);
		expect(text).toMatch(new RegExp(`${pages} ?/ ?${pages}`));
		for (const n of rows.keys()) expect(text.match(new RegExp(`row ${n}\\b`, 'g'))).toHaveLength(1);
		expect(await reported()).toEqual(await reported());
	});
});

describe('a paper as PDF', () => {
	it('has all that stands on it, each amount in the line of what it is for', async () => {
		const text = read(await made());
		for (const wanted of [
			...PAPER.from.lines,
			...['Fernhollow Clock School', 'Buyer', 'Wren Alder', 'wren@mail.example', 'Receipt R-2026-00042'],
			...['28 Nov 2026 to 27 Dec 2026', '12.00 EUR less 3.00 EUR']
		])
			expect(text).toContain(wanted);
		expect(text).toMatch(/Workshop +9\.00 EUR/);
		expect(text).toMatch(/Paid +9\.00 EUR/);
	});

	it('has its tax above or below the total, each amount in its line, and what is said of it', async () => {
		const text = read(
			await made({
				sums: [{ label: 'Without tax', amount: '7.56 EUR' }],
				parts: [{ label: 'VAT 19 %, Germany, in it', amount: '1.44 EUR' }],
				notes: ['Reverse charge: the tax is owed by the buyer.']
			})
		);
		expect(text).toMatch(
			/Without tax +7\.56 EUR[\s\S]+Paid +9\.00 EUR[\s\S]+VAT 19 %, Germany, in it +1\.44 EUR/
		);
		expect(text).toContain('Reverse charge: the tax is owed by the buyer.');
	});

	it('says what it is, of whom and from when, on one page of A4', async () => {
		const said = facts(await made());
		expect(said).toMatch(/Title: +Receipt R-2026-00042/);
		expect(said).toMatch(/Author: +Fernhollow Clock School/);
		expect(said).toMatch(/Pages: +1\n/);
		expect(said).toContain('(A4)');
	});

	it('writes names in the letters of many languages', async () => {
		const names = ['Łukasz Żółć', 'Ærø Ångström', 'Іван Ґалаґан', 'Ελένη Παππά', 'Đỗ Thị Ánh'];
		const text = read(await made({ to: { label: 'Buyer', name: 'Zoë', lines: names } }));
		for (const name of names) expect(text.normalize('NFC')).toContain(name);
	});

	it('goes on over several pages where there is much, and leaves nothing out', async () => {
		const rows = Array.from({ length: 90 }, (_, n) => ({
			text: `Thing ${n}`,
			notes: ['a note'],
			amount: `${n}.00 EUR`
		}));
		const pdf = await made({ rows });
		const text = read(pdf);
		for (const { text: wanted, amount } of rows) expect(text).toMatch(new RegExp(`${wanted} +${amount}`));
		expect(Number(/Pages: +(\d+)/.exec(facts(pdf))?.[1])).toBeGreaterThan(2);
	});

	it('keeps the total in one line, wherever the rows end', async () => {
		for (let count = 8; count < 24; count++) {
			const rows = Array.from({ length: count }, (_, n) => ({
				text: `Thing ${n}`,
				notes: [],
				amount: '1.00 EUR'
			}));
			const sums = [{ label: 'Without tax', amount: '7.56 EUR' }];
			expect(read(await made({ rows, sums }))).toMatch(/Without tax +7\.56 EUR\s+Paid +9\.00 EUR/);
		}
	});

	it('breaks a long name into lines, and lets no amount stand over it', async () => {
		const text = 'The escapement, slowly: '.repeat(12).trim();
		const lines = read(await made({ rows: [{ text, notes: [], amount: '123,456.78 EUR' }] }), '-raw');
		expect(lines.replace(/\s+/g, ' ')).toContain(text);
		expect(lines).toContain('123,456.78 EUR');
	});

	it('is the same, byte for byte, whenever it is made', async () => {
		expect((await made()).equals(await made())).toBe(true);
	});
});
