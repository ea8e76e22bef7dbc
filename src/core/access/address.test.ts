import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { isReserved, MAX_PATH_LENGTH, normalisePath, readable, slugOf } from './address';
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

	test.each([
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
