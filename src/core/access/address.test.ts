import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { isFree, isList, isReserved, MAX_PATH_LENGTH, normalisePath, readable, slugOf } from './address';
import { problemOf } from './pattern';
import { runs } from '../../../tests/support/runs';

describe('one spelling of an address', () => {
	test.each([
		['/', '/'],
		['//', '/'],
		['/a/b', '/a/b'],
		['/a/b/', '/a/b'],
		['/a//b', '/a/b'],
		['/%61', '/a'],
		// RFC 3986 §5.2.4, its two examples
		['/a/b/c/./../../g', '/a/g'],
		['/mid/content=5/../6', '/mid/6'],
		['/a/%2e%2e/b', '/b'],
		['/a%2Fb', '/a/b'],
		['/../../etc', '/etc'],
		['/100%25', '/100%25'],
		['/A/b', '/A/b'],
		['/caf%C3%A9', '/caf%C3%A9'],
		['/cafe%CC%81', '/caf%C3%A9'],
		['/a%3Fb%23c', '/a%3Fb%23c'],
		['/a;b=1,2@x', '/a;b=1,2@x']
	])('%s is %s', (raw, path) => {
		expect(normalisePath(raw)).toEqual({ ok: true, path });
	});

	test.each([
		['a/b', 'no-slash'],
		['', 'no-slash'],
		['https://clock.example/a', 'no-slash'],
		['/%', 'bad-escape'],
		['/%C3', 'bad-escape'],
		['/a\ud800b', 'bad-escape'],
		['/a%00', 'control-character'],
		['/a%5Cb', 'control-character'],
		['/' + 'x'.repeat(MAX_PATH_LENGTH), 'too-long']
	])('%s is refused as %s', (raw, code) => {
		expect(normalisePath(raw)).toEqual({ ok: false, code });
	});

	it('changes nothing when it is applied again', () => {
		fc.assert(
			fc.property(fc.webPath(), (raw) => {
				const once = normalisePath('/' + raw);
				if (once.ok) expect(normalisePath(once.path)).toEqual(once);
			}),
			{ seed: 20261124, numRuns: runs(500) }
		);
	});

	it('has a code for whatever it does not take, and throws at nothing', () => {
		const anything = fc.array(fc.integer({ min: 0, max: 0xffff }), { maxLength: 40 });
		fc.assert(
			fc.property(anything, (codes) => {
				const text = String.fromCharCode(...codes);
				const normal = normalisePath(`/${text}`);
				if (normal.ok)
					expect(normalisePath(readable(normal.path)).ok || normal.path.includes('%')).toBe(true);
				expect(() => slugOf(text)).not.toThrow();
				expect(() => problemOf(text)).not.toThrow();
			}),
			{ seed: 31, numRuns: runs(2000) }
		);
		expect(readable('/f%C3%BCr/a%20b')).toBe('/für/a b');
	});

	it('keeps its own segments, and only these', () => {
		expect(['/plans', '/plans/all', '/desk', '/_app/x.js'].every(isReserved)).toBe(true);
		expect(['/', '/plans-for-spring', '/videos/plans', '/Plans'].some(isReserved)).toBe(false);
	});

	// What Stile keeps for itself, what it makes lists at, and what items may have.
	test.each([
		['/', { reserved: false, list: true, free: false }],
		['/videos/wheel', { reserved: false, list: false, free: true }],
		['/wheel', { reserved: false, list: false, free: true }],
		['/plans', { reserved: true, list: false, free: false }],
		['/desk/library', { reserved: true, list: false, free: false }],
		['/categories/oil', { reserved: false, list: true, free: false }],
		['/tags/oil', { reserved: false, list: true, free: false }],
		['/categories', { reserved: false, list: false, free: false }],
		['/categories/oil/more', { reserved: false, list: false, free: false }],
		['/videos/categories', { reserved: false, list: false, free: true }],
		['/tags-of-old/oil', { reserved: false, list: false, free: true }]
	])('%s is %j', (path, is) => {
		expect({ reserved: isReserved(path), list: isList(path), free: isFree(path) }).toEqual(is);
	});

	it('takes what is as long as it may be, plain or not', () => {
		const longest = '/' + 'x'.repeat(MAX_PATH_LENGTH - 1);
		expect(normalisePath(longest)).toEqual({ ok: true, path: longest });
		expect(normalisePath('/é' + 'x'.repeat(MAX_PATH_LENGTH - 2)).ok).toBe(true);
		expect(normalisePath('/é' + 'x'.repeat(MAX_PATH_LENGTH - 1))).toMatchObject({ code: 'too-long' });
	});

	test.each([
		['-- a --', 'a'],
		['a' + ' '.repeat(3) + 'b', 'a-b'],
		['x'.repeat(80), 'x'.repeat(80)],
		['x'.repeat(81), 'x'.repeat(80)],
		['x'.repeat(78) + ' - y', 'x'.repeat(78) + '-y'],
		['Truing a Wheel – Part 2', 'truing-a-wheel-part-2'],
		['  Où est l’échappement?  ', 'ou-est-l-echappement'],
		['時計の修理', '時計の修理'],
		['…', ''],
		['振り子'.repeat(30), '振り子'.repeat(10)],
		['x'.repeat(79) + '𠮷', 'x'.repeat(79)],
		['x'.repeat(79) + ' y', 'x'.repeat(79)]
	])('makes an address word of %s', (title, slug) => {
		expect(slugOf(title)).toBe(slug);
	});
});
