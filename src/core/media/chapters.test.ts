import { describe, expect, it, test } from 'vitest';
import { clock, readChapters, withChapterAt, writeLines, type Chapter } from './chapters';

const chapters = [
	{ startSeconds: 0, title: 'The tray' },
	{ startSeconds: 90, title: 'The escapement' },
	{ startSeconds: 3723.5, title: 'Strike' }
];

function readRight(text: string): Chapter[] {
	const read = readChapters(text);
	if (!read.ok) throw new Error(read.problem.code);
	return read.chapters;
}

describe('chapters', () => {
	it('are read as people type them, in whatever order', () => {
		expect(readChapters('1:30 The escapement\n\n1:02:03.5  Strike\n0:00 The tray')).toEqual({
			ok: true,
			chapters
		});
	});

	it('are written as they are read', () => {
		expect(readChapters(writeLines(chapters))).toEqual({ ok: true, chapters });
	});

	it('are read from WebVTT', () => {
		const text =
			'WEBVTT\n\n00:00.000 --> 01:30.000\nThe tray\n\n01:30.000 --> 02:00.000\n<b>The escapement</b>\n';
		expect(readChapters(text)).toEqual({ ok: true, chapters: chapters.slice(0, 2) });
	});

	// W3C, WebVTT §4.2.2: character references of cue text.
	it('have titles with their characters written out, and without tags', () => {
		const text = 'WEBVTT\n\n00:00.000 --> 00:10.000\n<b>Tick &amp; tock</b>, 3 &lt; 4 &amp;lt;&nbsp;5\n';
		expect(readChapters(text)).toEqual({
			ok: true,
			chapters: [{ startSeconds: 0, title: 'Tick & tock, 3 < 4 &lt; 5' }]
		});
	});

	it('of WebVTT are taken whole or not at all', () => {
		const text = 'WEBVTT\n\n00:00.000 --> 00:10.000\nOne\n\nx --> 00:20.000\nTwo\n';
		expect(readChapters(text)).toMatchObject({ ok: false, problem: { code: 'not-chapters' } });
	});

	it.each(['1e400', '-1', '4000000', '"10"', 'null'])('of JSON begin at a time: %s is none', (startTime) => {
		const text = `{"version":"1.2.0","chapters":[{"startTime":0,"title":"One"},{"startTime":${startTime},"title":"Two"}]}`;
		expect(readChapters(text)).toEqual({ ok: true, chapters: [{ startSeconds: 0, title: 'One' }] });
	});

	// The podcast namespace's "JSON Chapters Format" 1.2.0: its example's fields.
	it('are read from JSON chapters, without those that are not listed', () => {
		const text = JSON.stringify({
			version: '1.2.0',
			title: 'The Escapement Hour',
			chapters: [
				{ startTime: 90, title: 'The escapement', img: 'https://clock.example/wheel.jpg' },
				{ startTime: 0, title: 'The tray' },
				{ startTime: 168, title: 'Hidden', toc: false },
				{ startTime: 200 }
			]
		});
		expect(readChapters(text)).toEqual({ ok: true, chapters: chapters.slice(0, 2) });
	});

	it('have titles in one line, of at most 200 letters, and one for each start: the last that is given', () => {
		const [first, second, ...more] = readRight(
			`0:00   The \t tray \n0:00 The other tray\n 1:30   ${'a '.repeat(150)}\n\n  \n`
		);
		expect(first).toEqual({ startSeconds: 0, title: 'The other tray' });
		expect(second?.title).toBe('a '.repeat(100));
		expect(more).toEqual([]);
	});

	it('are at most five hundred', () => {
		const lines = Array.from({ length: 510 }, (_, n) => `${n} Chapter ${n}`).reverse();
		const read = readRight(lines.join('\n'));
		expect(read).toHaveLength(500);
		expect(read.at(-1)).toEqual({ startSeconds: 499, title: 'Chapter 499' });
	});

	it('are read behind a byte order mark, in every form', () => {
		for (const text of ['0:00 The tray', '{"chapters":[{"startTime":0,"title":"The tray"}]}'])
			expect(readRight(`\uFEFF  ${text}`)).toEqual(chapters.slice(0, 1));
		expect(readRight('\uFEFFWEBVTT\n\n00:00.000 --> 01:30.000\nThe tray\n')).toEqual(chapters.slice(0, 1));
	});

	// Character references of WebVTT §4.2.2, all six.
	it('of WebVTT have all characters that may be written out', () => {
		expect(readRight('WEBVTT\n\n00:00.000 --> 00:10.000\na&gt;b&lrm;c&rlm;d&quot;')).toEqual([
			{ startSeconds: 0, title: 'a>b\u200Ec\u200Fd&quot;' }
		]);
	});

	it('of JSON may be empty things, and begin as late as there is time', () => {
		const text = `{"chapters":[null,{"startTime":3600000,"title":" Late "},{"startTime":5,"title":"  "},{"startTime":6,"title":7}]}`;
		expect(readRight(text)).toEqual([{ startSeconds: 3_600_000, title: 'Late' }]);
		expect(readChapters('{"chapters":[null]}')).toEqual({ ok: false, problem: { code: 'empty' } });
	});

	it('name a line that says no time, by its number and its beginning', () => {
		expect(readChapters(`0:00 The tray\n\n   soon ${'x'.repeat(80)}`)).toEqual({
			ok: false,
			problem: { code: 'bad-line', line: 3, seen: `soon ${'x'.repeat(55)}` }
		});
		expect(readChapters('at 1:30 The tray')).toMatchObject({ problem: { code: 'bad-line', line: 1 } });
		expect(readChapters('1:99 The tray')).toMatchObject({ problem: { code: 'bad-line', line: 1 } });
	});

	test.each([
		['', 'empty'],
		['  \n ', 'empty'],
		['WEBVTT\n\nx --> y\nThe tray', 'not-chapters'],
		['{"chapters": 3}', 'not-chapters'],
		['{', 'not-chapters'],
		['WEBVTT\n\nnonsense', 'empty'],
		['The tray', 'bad-line'],
		['1:30', 'bad-line']
	])('in %j are refused: %s', (text, code) => {
		expect(readChapters(text)).toMatchObject({ ok: false, problem: { code } });
	});
});

test.each([
	[0, '0:00'],
	[65, '1:05'],
	[3600, '1:00:00'],
	[1.25, '0:01.25'],
	[4.9996, '0:05'],
	[59.9999, '1:00'],
	[3599.9995, '1:00:00'],
	[0.0004, '0:00'],
	[10.1, '0:10.1'],
	[0.05, '0:00.05'],
	[100.101, '1:40.101'],
	[36_005, '10:00:05']
])('%d seconds are %s', (seconds, text) => {
	expect(clock(seconds)).toBe(text);
});

describe('a chapter that begins where the player is', () => {
	test.each([
		['', 75, '1:15 ', 5],
		['0:00 The tray', 75, '0:00 The tray\n1:15 ', 19],
		['0:00 The tray\n1:30 The escapement', 75, '0:00 The tray\n1:15 \n1:30 The escapement', 19],
		['1:30 The escapement', 0, '0:00 \n1:30 The escapement', 5],
		['0:00 The tray\n\n 1:15.4  Strike\n2:00 End', 75, '0:00 The tray\n 1:15.4  Strike\n2:00 End', 29],
		['no time\n1:30 The escapement', 75, 'no time\n1:15 \n1:30 The escapement', 13]
	])('%j with one at %d s is %j, its title at %d', (text, seconds, lines, caret) => {
		expect(withChapterAt(text, seconds)).toEqual({ text: lines, caret });
	});

	it('is one more, in order, whatever there is', () => {
		const put = withChapterAt(writeLines(chapters), 600);
		expect(readRight(`${put.text.slice(0, put.caret)}New${put.text.slice(put.caret)}`)).toEqual([
			chapters[0],
			chapters[1],
			{ startSeconds: 600, title: 'New' },
			chapters[2]
		]);
	});
});
