import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { readCaptions, readTime, safeCueText, vttTime, writeVtt, type Cue } from './captions';
import { runs } from '../../../tests/support/runs';

const cue = (startMs: number, endMs: number, text: string, settings = ''): Cue => ({
	startMs,
	endMs,
	text,
	settings
});
const read = (text: string) => {
	const found = readCaptions(text);
	if (!found.ok) throw new Error(found.problem.code);
	return found.cues;
};

describe('WebVTT', () => {
	// W3C, WebVTT §1.1: "A simple caption file", and §1.2's comments.
	it('is read as the specification’s first examples say', () => {
		const text = `WEBVTT

00:11.000 --> 00:13.000
<v Roger Bingham>We are in New York City

00:13.000 --> 00:16.000
<v Roger Bingham>We’re actually at the Lucern Hotel, just down the street

NOTE this is a comment

STYLE
::cue { color: red }

1
00:16.000 --> 00:18.000 line:0 align:start
from the American Museum of Natural History
`;
		expect(read(text)).toEqual([
			cue(11_000, 13_000, '<v Roger Bingham>We are in New York City'),
			cue(13_000, 16_000, '<v Roger Bingham>We’re actually at the Lucern Hotel, just down the street'),
			cue(16_000, 18_000, 'from the American Museum of Natural History', 'line:0 align:start')
		]);
	});

	it('takes a byte order mark, other line ends and words after its name', () => {
		expect(read('\uFEFFWEBVTT - clocks\r\n\r\n01:00:00.000 --> 01:00:01.500\r\ntick\r\n')).toEqual([
			cue(3_600_000, 3_601_500, 'tick')
		]);
	});

	test.each([
		['', 'empty'],
		['   \n', 'empty'],
		['WEBVTT', 'empty'],
		['WEBVTTX\n\nhello', 'not-captions'],
		['Some words', 'not-captions'],
		['WEBVTT\n\n00:01 --> 00:02.000\nno thousandths', 'bad-time'],
		['WEBVTT\n\n00:61.000 --> 00:62.000\nsixty-one', 'bad-time'],
		['WEBVTT\n\n00:02.000 --> 00:01.000\nbackwards', 'ends-before-it-begins'],
		['WEBVTT\n\n00:02.000 --> 00:02.000\nnothing', 'ends-before-it-begins']
	])('%j is refused: %s', (text, code) => {
		expect(readCaptions(text)).toMatchObject({ ok: false, problem: { code } });
	});

	it('names a cue that makes no sense by its line, and keeps the rest', () => {
		const text =
			'WEBVTT\n\n00:01.000 --> 00:02.000\nfine\n\nx --> 00:04.000\nwrong\n\n00:06.000 --> 00:05.000\nback\n\n00:07.000 --> 00:08.000\nfine, too\n';
		expect(readCaptions(text)).toEqual({
			ok: true,
			cues: [cue(1000, 2000, 'fine'), cue(7000, 8000, 'fine, too')],
			skipped: [
				{ code: 'bad-time', line: 6, seen: 'x --> 00:04.000' },
				{ code: 'ends-before-it-begins', line: 9, seen: '00:06.000 --> 00:05.000' }
			]
		});
		expect(readCaptions('WEBVTT\n\nx --> 00:04.000\nwrong\n')).toMatchObject({
			ok: false,
			problem: { code: 'bad-time', line: 3 }
		});
	});

	// W3C, WebVTT §6.1 "WebVTT parser algorithm" and "collect a WebVTT block", §6.3 "collect a WebVTT timestamp".
	test.each<[string, string, Cue[]]>([
		[
			'a header without an empty line',
			'WEBVTT\n00:01.000 --> 00:02.000\nat once',
			[cue(1000, 2000, 'at once')]
		],
		[
			'a header of several lines',
			'WEBVTT\nKind: captions\nLanguage: en\n\n00:01.000 --> 00:02.000\na',
			[cue(1000, 2000, 'a')]
		],
		[
			'an arrow that ends a block',
			'WEBVTT\n\n00:01.000 --> 00:02.000\none\n00:03.000 --> 00:04.000\ntwo',
			[cue(1000, 2000, 'one'), cue(3000, 4000, 'two')]
		],
		[
			'a line of spaces, which is not empty',
			'WEBVTT\n\n00:01.000 --> 00:02.000\nabove\n  \nbelow',
			[cue(1000, 2000, 'above\n  \nbelow')]
		],
		['hours of one digit', 'WEBVTT\n\n1:00:01.000 --> 1:00:02.000\na', [cue(3_601_000, 3_602_000, 'a')]],
		[
			'time stamps within the text',
			'WEBVTT\n\n00:01.000 --> 00:04.000\nTick <00:02.000>tock <00:00:03.000><b>tick</b>',
			[cue(1000, 4000, 'Tick tock <b>tick</b>')]
		],
		[
			'a comment behind which a cue follows at once',
			'WEBVTT\n\nNOTE\nof two lines\n00:01.000 --> 00:02.000\na',
			[cue(1000, 2000, 'a')]
		],
		[
			'a cue without text',
			'WEBVTT\n\n00:01.000 --> 00:02.000\n\n00:03.000 --> 00:04.000\nb',
			[cue(3000, 4000, 'b')]
		],
		[
			'cues in the order of their times, whichever stands first',
			'WEBVTT\n\n00:05.000 --> 00:06.000\nc\n\n00:01.000 --> 00:09.000\nb\n\n00:01.000 --> 00:02.000\na',
			[cue(1000, 2000, 'a'), cue(1000, 9000, 'b'), cue(5000, 6000, 'c')]
		],
		[
			'a number of its own before a cue, and one that stands a line too high, which is no cue',
			'WEBVTT\n\nname\n00:01.000 --> 00:02.000\na\n\nnot\na cue\n00:03.000 --> 00:04.000\nb',
			[cue(1000, 2000, 'a'), cue(3000, 4000, 'b')]
		],
		[
			'a null as the sign for what cannot be shown, and old line ends',
			'WEBVTT\r\r00:01.000 --> 00:02.000\rti\0ck',
			[cue(1000, 2000, 'ti\uFFFDck')]
		],
		[
			'settings behind tabs and spaces, without what follows them',
			'WEBVTT\n\n00:01.000\t-->\t\t00:02.000\t align:end line:1  \na',
			[cue(1000, 2000, 'a', 'align:end line:1')]
		],
		[
			'a header that ends the file with a cue',
			'WEBVTT\tclocks\n00:01.000 --> 00:02.000\na\n\n',
			[cue(1000, 2000, 'a')]
		]
	])('reads %s', (_what, text, cues) => {
		expect(readCaptions(text)).toEqual({ ok: true, cues, skipped: [] });
	});
});

// Limits of our own.
describe('what is too much', () => {
	const many = (count: number) =>
		['WEBVTT', ...Array.from({ length: count }, () => '00:01.000 --> 00:02.000\na')].join('\n\n');

	it('is more than twenty thousand cues', () => {
		expect(readCaptions(many(20_001))).toEqual({ ok: false, problem: { code: 'too-long', cues: 20_001 } });
		expect(readCaptions(many(20_000)).ok).toBe(true);
	});

	it('is cut off a cue, and off what is repeated of a line that says nothing', () => {
		const [long] = read(`WEBVTT\n\n00:01.000 --> 00:02.000\n  ${'a'.repeat(2100)}  `);
		expect(long?.text).toBe('a'.repeat(2000));
		const refused = readCaptions(`WEBVTT\n\n   x --> ${'9'.repeat(100)}  \na`);
		expect(refused).toEqual({
			ok: false,
			problem: { code: 'bad-time', line: 3, seen: `x --> ${'9'.repeat(54)}` }
		});
	});

	test.each([
		['a start with more before it', 'WEBVTT\n\nat 00:01.000 --> 00:02.000\na'],
		['an end with more digits', 'WEBVTT\n\n00:01.000 --> 00:02.0000\na'],
		['an end that is none', 'WEBVTT\n\n00:01.000 --> \na'],
		['the time of SubRip', 'WEBVTT\n\n00:00:01,000 --> 00:00:02,000\na'],
		['a SubRip start with more before it', '1\n0000:00:01,000 --> 00:00:02,000\na'],
		['a SubRip end with more digits', '1\n00:00:01,000 --> 00:00:02,0000\na']
	])('%s is no time', (_, text) => {
		expect(readCaptions(text)).toMatchObject({ ok: false, problem: { code: 'bad-time' } });
	});
});

// Common practice, no source: SubRip as it is met.
describe('SubRip', () => {
	it('is read without blank lines between its cues', () => {
		expect(read('1\n00:00:01,000 --> 00:00:02,000\none\n2\n00:00:03,000 --> 00:00:04,000\ntwo')).toEqual([
			cue(1000, 2000, 'one'),
			cue(3000, 4000, 'two')
		]);
	});

	it('keeps a line that only ends or begins with a number, and ends a cue at a line of spaces', () => {
		expect(
			read(
				'1\n00:00:01,000 --> 00:00:02,000\none\nroom 12\n00:00:03,000 --> 00:00:04,000\n7 bells\n00:00:05,000 --> 00:00:06,000\nthree\n 14 \n00:00:07,000 --> 00:00:08,000\nfour\n  \nnot said'
			)
		).toEqual([
			cue(1000, 2000, 'one\nroom 12'),
			cue(3000, 4000, '7 bells'),
			cue(5000, 6000, 'three'),
			cue(7000, 8000, 'four')
		]);
	});

	it('has no settings, and words that are not WebVTT before its first cue', () => {
		expect(read('not WEBVTT\n\n1\n00:00:01,000 --> 00:00:02,000 X1:0\na')).toEqual([cue(1000, 2000, 'a')]);
	});

	it('names a cue by its line', () => {
		expect(readCaptions('1\n00:00:01,000 --> 00:00:02,000\na\n\n2\nx --> y\nb')).toMatchObject({
			skipped: [{ code: 'bad-time', line: 6, seen: 'x --> y' }]
		});
	});

	it('is read with its commas, numbers and tags', () => {
		const text =
			'1\n00:00:01,000 --> 00:00:02,500\n<font color="red">Tick</font>\ntock & chime\n\n2\n0:0:3,5 --> 0:0:4,0\n{\\an8}up';
		expect(read(text)).toEqual([cue(1000, 2500, 'Tick\ntock &amp; chime'), cue(3500, 4000, 'up')]);
	});
});

describe('what is written', () => {
	it('is read back as it was', () => {
		const cues = fc.array(
			fc.record({
				startMs: fc.nat(10_000_000),
				length: fc.integer({ min: 1, max: 60_000 }),
				text: fc.stringMatching(/^[a-zé振 ,.!?]{1,40}$/).filter((text) => text.trim() !== '')
			}),
			{ minLength: 1, maxLength: 20 }
		);
		fc.assert(
			fc.property(cues, (some) => {
				const own = some
					.map(({ startMs, length, text }) => cue(startMs, startMs + length, text.trim()))
					.sort((a, b) => a.startMs - b.startMs || a.endMs - b.endMs);
				expect(read(writeVtt(own))).toEqual(own);
			}),
			{ seed: 3, numRuns: runs(200) }
		);
	});

	test.each([
		['<b>bold</b> <i>it</i>', '<b>bold</b> <i>it</i>'],
		['<v Roger>words', '<v Roger>words'],
		['<script>alert(1)</script>', 'alert(1)'],
		['a < b > c', 'a &lt; b &gt; c'],
		['<img src=x onerror=y>', '']
	])('of %j is %j', (text, safe) => {
		expect(safeCueText(text)).toBe(safe);
	});

	it('is the format, to the letter', () => {
		expect(writeVtt([cue(0, 1000, 'a\n \n\nb --> c'), cue(1000, 2500, 'd', 'line:0')])).toBe(
			'WEBVTT\n\n00:00:00.000 --> 00:00:01.000\na\nb --&gt; c\n\n00:00:01.000 --> 00:00:02.500 line:0\nd\n'
		);
	});

	it('cannot begin another cue', () => {
		const trick = [cue(0, 1000, 'one\n\n00:05.000 --> 00:06.000\ntwo')];
		expect(read(writeVtt(trick))).toHaveLength(1);
	});
});

test.each([
	[0, '00:00:00.000'],
	[3_723_004, '01:02:03.004'],
	[360_000_000, '100:00:00.000']
])('%d ms is %s', (ms, text) => {
	expect(vttTime(ms)).toBe(text);
});

test.each([
	['1:30', 90_000],
	['90', 90_000],
	['1:02:03.5', 3_723_500],
	['00:00:01,250', 1250],
	[' 1:59 ', 119_000],
	['59:59', 3_599_000],
	['1:59:59', 7_199_000],
	['61:00', 3_660_000],
	['2,5', 2500],
	['1:30 or so', null],
	['1:60', null],
	['1:60:00', null],
	['', null],
	['-1', null],
	['soon', null]
])('%j typed is %s ms', (text, ms) => {
	expect(readTime(text)).toBe(ms);
});
