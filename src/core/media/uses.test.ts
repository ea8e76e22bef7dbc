import { expect, test } from 'vitest';
import { askedBytes } from './byte-range';
import { isGivenBack, isProbe, looksAhead } from './uses';

test.each([
	['HEAD', undefined, true],
	['GET', 'bytes=0-0', true],
	['GET', 'bytes=0-1', true],
	['GET', 'bytes=0-2', false],
	['GET', 'bytes=5-5', false],
	['GET', 'bytes=-1', false],
	['GET', 'bytes=9999-', true],
	['GET', 'bytes=0-0,50-50', false],
	['GET', 'bytes=9-2', false],
	['GET', undefined, false]
])('%s with range %s is a probe: %s', (method, range, expected) => {
	expect(isProbe(method, askedBytes(range, 1000))).toBe(expected);
});

test.each([
	[0, true],
	[49, true],
	[50, false],
	[1000, false]
])('of 1000 bytes, %d sent give the use back: %s', (sent, expected) => {
	expect(isGivenBack(sent, 1000)).toBe(expected);
});

// Fetch Standard §3.8 and Resource Hints: what browsers send when nobody has asked to see it yet.
test.each([
	['prefetch', true],
	['Prefetch', true],
	['prefetch;prerender', true],
	['prefetch; anonymous-client-ip', true],
	['other, prefetch', true],
	['other;prefetch', true],
	['prefetched', false],
	['noprefetch', false],
	['', false],
	[undefined, false],
	[null, false]
])('Sec-Purpose %j looks ahead: %s', (header, expected) => {
	expect(looksAhead(header)).toBe(expected);
});
