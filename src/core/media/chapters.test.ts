import { describe, expect, it, test } from 'vitest';
import { clock, readChapters, writeLines } from './chapters';

const chapters = [
	{ startSeconds: 0, title: 'The tray' },
	{ startSeconds: 90, title: 'The escapement' },
	{ startSeconds: 3723.5, title: 'Strike' }
];

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

	test.each([
		['', 'empty'],
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
	[0.0004, '0:00']
])('%d seconds are %s', (seconds, text) => {
	expect(clock(seconds)).toBe(text);
});
