import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { readCaptions, readTime, safeCueText, vttTime, writeVtt, type Cue } from './captions';

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
		]
	])('reads %s', (_what, text, cues) => {
		expect(readCaptions(text)).toEqual({ ok: true, cues, skipped: [] });
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
			{ seed: 3, numRuns: 200 }
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
	['1:60', null],
	['1:60:00', null],
	['', null],
	['-1', null],
	['soon', null]
])('%j typed is %s ms', (text, ms) => {
	expect(readTime(text)).toBe(ms);
});
