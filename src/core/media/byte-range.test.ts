import fc from 'fast-check';
import parseRange from 'range-parser';
import { describe, expect, it, test } from 'vitest';
import { askedBytes, contentRange, lengthOf, type AskedBytes } from './byte-range';
import { runs } from '../../../tests/support/runs';

const part = (first: number, last: number): AskedBytes => ({ kind: 'part', range: { first, last } });
const whole: AskedBytes = { kind: 'whole' };
const none: AskedBytes = { kind: 'unsatisfiable' };

describe('the bytes that are asked for', () => {
	// RFC 9110 §14.1.2: its own examples, of 10,000 bytes.
	test.each<[string, AskedBytes]>([
		['bytes=0-499', part(0, 499)],
		['bytes=500-999', part(500, 999)],
		['bytes=-500', part(9500, 9999)],
		['bytes=9500-', part(9500, 9999)],
		[
			'bytes=0-0,-1',
			{
				kind: 'parts',
				ranges: [
					{ first: 0, last: 0 },
					{ first: 9999, last: 9999 }
				]
			}
		],
		[
			'bytes= 0-999, 4500-5499, -1000',
			{
				kind: 'parts',
				ranges: [
					{ first: 0, last: 999 },
					{ first: 4500, last: 5499 },
					{ first: 9000, last: 9999 }
				]
			}
		],
		// §15.3.7.2: in the order of the request; what is joined stands where its first part does.
		[
			'bytes=-1,0-0',
			{
				kind: 'parts',
				ranges: [
					{ first: 9999, last: 9999 },
					{ first: 0, last: 0 }
				]
			}
		],
		[
			'bytes=9000-9099,500-599,9100-9199,0-9',
			{
				kind: 'parts',
				ranges: [
					{ first: 9000, last: 9199 },
					{ first: 500, last: 599 },
					{ first: 0, last: 9 }
				]
			}
		],
		['bytes=500-600,601-999', part(500, 999)],
		['bytes=500-700,601-999', part(500, 999)]
	])('%s of 10,000', (header, expected) => {
		expect(askedBytes(header, 10_000)).toEqual(expected);
	});

	test.each<[string, number, AskedBytes]>([
		['bytes=0-0', 10, part(0, 0)],
		['bytes=-10', 10, part(0, 9)],
		['bytes=-500', 10, part(0, 9)],
		['bytes=-0', 10, none],
		['bytes=9-', 10, part(9, 9)],
		['bytes=10-', 10, none],
		['bytes=100-', 10, none],
		['bytes=5-99999999999999999999', 10, part(5, 9)],
		['bytes=9-2', 10, whole],
		['bytes=', 10, whole],
		['bytes=-', 10, whole],
		['bytes=a-b', 10, whole],
		['bytes=1-2x', 10, whole],
		['bytes=1.5-3', 10, whole],
		['bytes=+1-3', 10, whole],
		['bytes 0-3', 10, whole],
		['items=0-3', 10, whole],
		['BYTES=0-3', 10, part(0, 3)],
		['bytes=0-3,', 10, part(0, 3)],
		['bytes=0-3,20-30', 10, part(0, 3)],
		['bytes=0-', 0, none],
		['bytes=-1', 0, none]
	])('%s of %d', (header, size, expected) => {
		expect(askedBytes(header, size)).toEqual(expected);
	});

	it('ignores very many ranges', () => {
		const many = (count: number) => Array.from({ length: count }, (_, n) => `${n * 1000}-${n * 1000}`).join();
		expect(askedBytes(`bytes=${many(8)}`, 100_000).kind).toBe('parts');
		expect(askedBytes(`bytes=${many(9)}`, 100_000)).toEqual(whole);
		expect(askedBytes(`bytes=${'0-,'.repeat(100)}`, 100_000)).toEqual(whole);
	});

	it('is the whole without a header', () => {
		expect(askedBytes(undefined, 10)).toEqual(whole);
	});

	// Second opinion: the package range-parser, which joins overlapping ranges the same way.
	it('agrees with another reader on single ranges', () => {
		const edge = fc.option(fc.nat(30), { nil: null });
		fc.assert(
			fc.property(edge, edge, fc.integer({ min: 1, max: 20 }), (from, to, size) => {
				fc.pre(from !== null || to !== null);
				// It refuses an end that is longer than the whole, which RFC 9110 §14.1.2 takes as the whole.
				fc.pre(from !== null || (to ?? 0) <= size);
				const header = `bytes=${from ?? ''}-${to ?? ''}`;
				const theirs = parseRange(size, header);
				const ours = askedBytes(header, size);
				if (ours.kind === 'part') {
					expect(theirs).toHaveProperty('0', { start: ours.range.first, end: ours.range.last });
				} else expect(theirs === -1 || theirs === -2).toBe(true);
			}),
			{ seed: 9110, numRuns: runs(500) }
		);
	});

	it('never reaches outside, nor gives a byte twice', () => {
		const spec = fc.tuple(fc.option(fc.nat(300), { nil: '' }), fc.option(fc.nat(300), { nil: '' }));
		fc.assert(
			fc.property(fc.array(spec, { minLength: 1, maxLength: 6 }), fc.nat(250), (specs, size) => {
				const asked = askedBytes(`bytes=${specs.map(([a, b]) => `${a}-${b}`).join(', ')}`, size);
				const ranges = asked.kind === 'part' ? [asked.range] : asked.kind === 'parts' ? asked.ranges : [];
				let past = -1;
				for (const { first, last } of [...ranges].sort((a, b) => a.first - b.first)) {
					expect(first).toBeGreaterThan(past);
					expect(last).toBeGreaterThanOrEqual(first);
					expect(last).toBeLessThan(size);
					past = last;
				}
			}),
			{ seed: 14, numRuns: runs(500) }
		);
	});
});

it('says which bytes are sent', () => {
	// RFC 9110 §14.4
	expect(contentRange({ first: 42, last: 1233 }, 1234)).toBe('bytes 42-1233/1234');
	expect(lengthOf({ first: 0, last: 0 })).toBe(1);
});
