/** Papers as PDF, in the letters of the front; what those lack is written in letters that reach further. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import * as fontkit from 'fontkit';
import PDFDocument from 'pdfkit';
import type { Paper, Papers, Report } from '../ports/papers';

const MARGIN = 56;
const PAGE = { width: 595.28, height: 841.89 };
const WIDTH = PAGE.width - 2 * MARGIN;
const AMOUNT_WIDTH = 110;
const INK = '#17221f';
const QUIET = '#52615c';
const LINE = '#c9d4d0';

const require = createRequire(import.meta.url);
const FACES = {
	plain: [
		'@expo-google-fonts/schibsted-grotesk/400Regular/SchibstedGrotesk_400Regular.ttf',
		'dejavu-fonts-ttf/ttf/DejaVuSans.ttf'
	],
	strong: [
		'@expo-google-fonts/schibsted-grotesk/600SemiBold/SchibstedGrotesk_600SemiBold.ttf',
		'dejavu-fonts-ttf/ttf/DejaVuSans-Bold.ttf'
	]
} as const;
type Face = keyof typeof FACES;

interface Letters {
	name: string;
	bytes: Buffer;
	has(text: string): boolean;
}

/** Read once, when the first paper is made. */
let known: Record<Face, Letters[]> | null = null;

function letters(): Record<Face, Letters[]> {
	known ??= {
		plain: FACES.plain.map(lettersIn),
		strong: FACES.strong.map(lettersIn)
	};
	return known;
}

function lettersIn(path: string): Letters {
	const bytes = readFileSync(require.resolve(path));
	const font = fontkit.create(bytes);
	if ('fonts' in font) throw new Error(`${path} is a collection of fonts`);
	return {
		...{ name: path, bytes },
		has: (text) => [...text].every((letter) => font.hasGlyphForCodePoint(letter.codePointAt(0) ?? 0))
	};
}

export function pdfkitPapers(): Papers {
	return {
		pdf: (paper, at) => printed(paper, at, (doc) => write(doc, paper)),
		report: (report, at) => printed(report, at, (doc) => writeReport(doc, report))
	};
}

function printed(
	{ language, title, from }: Pick<Paper, 'language' | 'title' | 'from'>,
	at: number,
	write: (doc: PDFKit.PDFDocument) => void
): Promise<Uint8Array> {
	const doc = new PDFDocument({
		...{ size: 'A4', margin: MARGIN, lang: language, displayTitle: true, bufferPages: true },
		info: { Title: title, Author: from.name, CreationDate: new Date(at) }
	});
	const whole = collected(doc);
	for (const face of Object.values(letters()).flat()) doc.registerFont(face.name, face.bytes);
	write(doc);
	doc.end();
	return whole;
}

function collected(doc: PDFKit.PDFDocument): Promise<Uint8Array> {
	return new Promise((resolve, reject) => {
		const pieces: Buffer[] = [];
		doc.on('data', (piece: Buffer) => pieces.push(piece));
		doc.on('end', () => resolve(Buffer.concat(pieces)));
		doc.on('error', reject);
	});
}

/** The first letters that have all of a text; where none have, the ones that reach furthest. */
function dress(doc: PDFKit.PDFDocument, text: string, face: Face, size: number, colour = INK) {
	const all = letters()[face];
	const fitting = all.find((one) => one.has(text)) ?? all[all.length - 1];
	return doc
		.font(fitting?.name ?? '')
		.fontSize(size)
		.fillColor(colour);
}

function write(doc: PDFKit.PDFDocument, paper: Paper): void {
	mark(doc, paper.colour);
	const half = WIDTH / 2;
	block(doc, MARGIN, half, [paper.from.name, ...paper.from.lines]);
	const left = doc.y;
	doc.y = MARGIN + 24;
	dress(doc, paper.to.label, 'plain', 9, QUIET).text(paper.to.label, MARGIN + half, doc.y, { width: half });
	block(doc, MARGIN + half, half, [paper.to.name, ...paper.to.lines], doc.y);
	doc.y = Math.max(left, doc.y) + 36;
	dress(doc, paper.title, 'strong', 20).text(paper.title, MARGIN, doc.y, { width: WIDTH });
	doc.moveDown(0.6);
	for (const fact of paper.facts) pair(doc, fact);
	doc.y += 18;
	for (const row of paper.rows) line(doc, row);
	// What is summed up stands together with its sum.
	roomFor(doc, 32 + 20 * (paper.sums.length + paper.parts.length));
	if (paper.sums.length > 0) rule(doc, LINE, 0.6);
	for (const of of paper.sums) sum(doc, of, 'plain');
	doc.y += paper.sums.length > 0 ? 8 : 0;
	rule(doc, INK, 1.2);
	sum(doc, paper.total, 'strong');
	for (const part of paper.parts) sum(doc, part, 'plain');
	for (const note of paper.notes) {
		doc.y += 14;
		roomFor(doc, 32);
		dress(doc, note, 'plain', 10).text(note, MARGIN, doc.y, { width: WIDTH });
	}
}

function writeReport(doc: PDFKit.PDFDocument, report: Report): void {
	mark(doc, report.colour);
	block(doc, MARGIN, WIDTH, [report.from.name, ...report.from.lines]);
	doc.y += 24;
	dress(doc, report.title, 'strong', 20).text(report.title, MARGIN, doc.y, { width: WIDTH });
	doc.moveDown(0.6);
	for (const fact of report.facts) pair(doc, fact);
	for (const section of report.sections) writeSection(doc, section);
	numberPages(doc);
}

function writeSection(doc: PDFKit.PDFDocument, section: Report['sections'][number]): void {
	doc.y += 22;
	// A heading is not left alone at the end of a page.
	roomFor(doc, 72);
	dress(doc, section.title, 'strong', 13).text(section.title, MARGIN, doc.y, { width: WIDTH });
	doc.y += 6;
	const { columns, rows, none, note } = section;
	if (rows.length === 0) dress(doc, none, 'plain', 10, QUIET).text(none, MARGIN, doc.y, { width: WIDTH });
	else {
		const labels = columns.map(({ label }) => label);
		cells(doc, labels, columns, 'plain', 8.5, QUIET);
		for (const row of rows) {
			if (doc.y + heightOf(doc, row, columns, 9.5) > PAGE.height - MARGIN) {
				doc.addPage();
				cells(doc, labels, columns, 'plain', 8.5, QUIET);
			}
			rule(doc, LINE, 0.6);
			doc.y += 4;
			cells(doc, row, columns, 'plain', 9.5, INK);
		}
	}
	if (note === undefined) return;
	doc.y += 6;
	roomFor(doc, 28);
	dress(doc, note, 'plain', 9, QUIET).text(note, MARGIN, doc.y, { width: WIDTH });
}

type Columns = Report['sections'][number]['columns'];

const GUTTER = 10;

function heightOf(doc: PDFKit.PDFDocument, texts: string[], columns: Columns, size: number): number {
	const heights = columns.map(({ share }, n) => {
		const text = texts[n] ?? '';
		return dress(doc, text, 'plain', size).heightOfString(text, { width: share * WIDTH - GUTTER });
	});
	return Math.max(...heights) + 10;
}

function cells(
	doc: PDFKit.PDFDocument,
	texts: string[],
	columns: Columns,
	face: Face,
	size: number,
	colour: string
): void {
	const top = doc.y;
	let [x, bottom] = [MARGIN, top];
	for (const [n, { share }] of columns.entries()) {
		const text = texts[n] ?? '';
		dress(doc, text, face, size, colour).text(text, x, top, { width: share * WIDTH - GUTTER });
		bottom = Math.max(bottom, doc.y);
		x += share * WIDTH;
	}
	doc.y = bottom + 4;
}

/** At the foot of each, where it is of several. */
function numberPages(doc: PDFKit.PDFDocument): void {
	const { start, count } = doc.bufferedPageRange();
	if (count < 2) return;
	for (let n = 0; n < count; n++) {
		doc.switchToPage(start + n);
		// Below the margin: else a page is begun for it.
		doc.page.margins.bottom = 0;
		const text = `${n + 1} / ${count}`;
		const at = { width: WIDTH, align: 'right' as const, lineBreak: false };
		dress(doc, text, 'plain', 8.5, QUIET).text(text, MARGIN, PAGE.height - MARGIN + 16, at);
	}
}

function sum(doc: PDFKit.PDFDocument, { label, amount: of }: Paper['total'], face: Face): void {
	const y = doc.y + 8;
	amount(doc, of, face, y);
	dress(doc, label, face, 11).text(label, MARGIN, y, { width: WIDTH - AMOUNT_WIDTH });
}

/** The two bars that stand on every sheet of the front. */
function mark(doc: PDFKit.PDFDocument, colour: string): void {
	doc.rect(MARGIN, MARGIN, 34, 3).fill(colour);
	doc.rect(MARGIN + 10, MARGIN + 6, 14, 3).fill(colour);
}

function block(doc: PDFKit.PDFDocument, x: number, width: number, texts: string[], y = MARGIN + 24): void {
	doc.y = y;
	texts.forEach((text, n) =>
		dress(doc, text, n === 0 ? 'strong' : 'plain', 10).text(text, x, doc.y, { width: width - 12, lineGap: 2 })
	);
}

function pair(doc: PDFKit.PDFDocument, { label, value }: { label: string; value: string }): void {
	const y = roomFor(doc, 16);
	dress(doc, label, 'plain', 10, QUIET).text(label, MARGIN, y, { width: 130 });
	const under = doc.y;
	dress(doc, value, 'plain', 10).text(value, MARGIN + 140, y, { width: WIDTH - 140 });
	doc.y = Math.max(under, doc.y) + 3;
}

function line(doc: PDFKit.PDFDocument, { text, notes, amount: of }: Paper['rows'][number]): void {
	roomFor(doc, 24 + 12 * notes.length);
	rule(doc, LINE, 0.6);
	const y = doc.y + 8;
	amount(doc, of, 'plain', y);
	const width = WIDTH - AMOUNT_WIDTH - 12;
	dress(doc, text, 'plain', 11).text(text, MARGIN, y, { width });
	for (const note of notes) dress(doc, note, 'plain', 9, QUIET).text(note, MARGIN, doc.y + 1, { width });
	doc.y += 8;
}

function amount(doc: PDFKit.PDFDocument, text: string, face: Face, y: number): void {
	const at = { width: AMOUNT_WIDTH, align: 'right' as const };
	dress(doc, text, face, 11).text(text, MARGIN + WIDTH - AMOUNT_WIDTH, y, at);
}

function rule(doc: PDFKit.PDFDocument, colour: string, width: number): void {
	doc
		.moveTo(MARGIN, doc.y)
		.lineTo(MARGIN + WIDTH, doc.y)
		.lineWidth(width)
		.strokeColor(colour)
		.stroke();
}

/** What belongs together is not cut by the end of a page. */
function roomFor(doc: PDFKit.PDFDocument, height: number): number {
	if (doc.y + height > PAGE.height - MARGIN) doc.addPage();
	return doc.y;
}
