import { expect, test } from 'vitest';
import { afterWords, formatBytes, formatDay, formatLength, formatMoment } from './time';

test.each([
	[0, '0:00'],
	[75, '1:15'],
	[3599, '59:59'],
	[3675, '1:01:15']
])('%d seconds are %s', (seconds, text) => {
	expect(formatLength(seconds)).toBe(text);
});

test.each([
	[0, '0 bytes'],
	[1023, '1023 bytes'],
	[1536, '1.5 KB'],
	[200 * 1024 ** 2, '200 MB'],
	[5 * 1024 ** 4, '5.0 TB']
])('%d bytes are %s', (bytes, text) => {
	expect(formatBytes(bytes)).toBe(text);
});

test.each([
	[1, 'after 1 hour'],
	[5, 'after 5 hours'],
	[24, 'after 1 day'],
	[10 * 24, 'after 10 days'],
	[7 * 24, 'after 1 week'],
	[14 * 24 - 1, 'after 2 weeks'],
	[14 * 24 + 1, 'after 2 weeks']
])('a wait of %d hours is %s', (hours, text) => {
	expect(afterWords(hours * 3_600_000)).toBe(text);
});

test('moments stand in the publisher’s zone', () => {
	const at = Date.parse('2026-03-31T23:30Z');
	expect(formatDay(at, 'Europe/Vienna')).toBe('1 Apr 2026');
	expect(formatMoment(at, 'America/New_York')).toBe('31 Mar 2026, 19:30');
});
