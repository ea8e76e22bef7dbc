import fresh from 'fresh';
import { describe, expect, it, test } from 'vitest';
import { heedsRange, precondition } from './conditional';

const CHANGED = 'Tue, 15 Nov 1994 12:45:26 GMT';
const BEFORE = 'Tue, 15 Nov 1994 12:45:25 GMT';
const AFTER = 'Tue, 15 Nov 1994 12:45:27 GMT';
const ours = { etag: '"xyzzy"', changedAt: Date.parse(CHANGED) + 300 };

describe('preconditions', () => {
	// The forms of RFC 9110 §13.1.1 to §13.1.4.
	test.each([
		[{}, 'go-on'],
		[{ ifMatch: '"xyzzy"' }, 'go-on'],
		[{ ifMatch: '"r2d2xxxx", "xyzzy"' }, 'go-on'],
		[{ ifMatch: '*' }, 'go-on'],
		[{ ifMatch: '"other"' }, 412],
		[{ ifMatch: 'W/"xyzzy"' }, 412],
		[{ ifNoneMatch: '"xyzzy"' }, 304],
		[{ ifNoneMatch: 'W/"xyzzy"' }, 304],
		[{ ifNoneMatch: '"xyzzy", "r2d2xxxx", "c3piozzzz"' }, 304],
		[{ ifNoneMatch: '*' }, 304],
		[{ ifNoneMatch: '"other"' }, 'go-on'],
		[{ ifModifiedSince: BEFORE }, 'go-on'],
		[{ ifModifiedSince: CHANGED }, 304],
		[{ ifModifiedSince: AFTER }, 304],
		[{ ifModifiedSince: 'last week' }, 'go-on'],
		[{ ifUnmodifiedSince: BEFORE }, 412],
		[{ ifUnmodifiedSince: CHANGED }, 'go-on'],
		// §13.2.2: a tag counts for more than a date.
		[{ ifNoneMatch: '"other"', ifModifiedSince: AFTER }, 'go-on'],
		[{ ifMatch: '"xyzzy"', ifUnmodifiedSince: BEFORE }, 'go-on']
	] as const)('%j gives %s', (asked, expected) => {
		expect(precondition(asked, ours)).toBe(expected);
	});

	// RFC 9110 §5.6.7: its own example, in all three forms.
	test.each(['Sun, 06 Nov 1994 08:49:37 GMT', 'Sunday, 06-Nov-94 08:49:37 GMT', 'Sun Nov  6 08:49:37 1994'])(
		'read %s as the same moment',
		(date) => {
			const at = Date.UTC(1994, 10, 6, 8, 49, 37);
			expect(precondition({ ifModifiedSince: date }, { ...ours, changedAt: at })).toBe(304);
			expect(precondition({ ifModifiedSince: date }, { ...ours, changedAt: at + 1000 })).toBe('go-on');
			expect(heedsRange(date, { ...ours, changedAt: at })).toBe(true);
		}
	);

	// §5.6.7: a year of two digits that would lie more than 50 years ahead has passed.
	test.each([
		['Sunday, 06-Nov-94 08:49:37 GMT', 2026, 1994],
		['Friday, 06-Nov-26 08:49:37 GMT', 2026, 2026],
		['Thursday, 06-Nov-70 08:49:37 GMT', 2026, 2070],
		['Friday, 06-Nov-99 08:49:37 GMT', 1999, 1999],
		['Monday, 06-Nov-00 08:49:37 GMT', 1999, 2000],
		['Saturday, 06-Nov-49 08:49:37 GMT', 1999, 2049],
		['Sunday, 06-Nov-50 08:49:37 GMT', 1999, 1950]
	])('take the year of %s in %i for %i', (date, ours, year) => {
		const at = (of: number) => Date.UTC(of, 10, 6, 8, 49, 37);
		const changedAt = Date.UTC(ours, 11, 1);
		const same = precondition({ ifUnmodifiedSince: date }, { etag: '"a"', changedAt });
		expect(same).toBe(changedAt > at(year) ? 412 : 'go-on');
		expect(heedsRange(date, { etag: '"a"', changedAt: at(year) })).toBe(true);
	});

	test.each([
		'Sun, 31 Feb 2024 08:49:37 GMT',
		'Sun, 00 Nov 2024 08:49:37 GMT',
		'Sun, 06 Foo 2024 08:49:37 GMT',
		'Sun, 06 Nov 2024 24:49:37 GMT',
		'Sun, 06 Nov 2024 08:60:37 GMT',
		'Sun, 06 Nov 2024 08:49:61 GMT',
		'Sun, 06 Nov 2024 08:49:37 CET',
		'x Sun, 06 Nov 2024 08:49:37 GMT',
		'Sun, 06 Nov 2024 08:49:37 GMT x',
		'Sun Nov 06 08:49:37 94'
	])('pass over %s, which is no date', (date) => {
		// As a date it would lie behind ours, and nothing would have changed since.
		expect(precondition({ ifModifiedSince: date }, ours)).toBe('go-on');
		expect(precondition({ ifUnmodifiedSince: date }, { ...ours, changedAt: Date.UTC(2030, 0, 1) })).toBe(
			'go-on'
		);
		expect(heedsRange(date, ours)).toBe(false);
	});

	// The edges of what is a date; a leap second counts as the second after it.
	test.each([
		['Sat, 01 Jan 2000 00:00:00 GMT', Date.UTC(2000, 0, 1)],
		['Sun, 31 Dec 2000 23:59:59 GMT', Date.UTC(2000, 11, 31, 23, 59, 59)],
		['Sat, 31 Dec 2016 23:59:60 GMT', Date.UTC(2017, 0, 1)],
		['Thu, 29 Feb 2024 12:00:00 GMT', Date.UTC(2024, 1, 29, 12)],
		['  Sat, 01 Jan 2000 00:00:00 GMT ', Date.UTC(2000, 0, 1)]
	])('take %j as the moment that it is', (date, at) => {
		expect(heedsRange(date, { ...ours, changedAt: at })).toBe(true);
		expect(heedsRange(date, { ...ours, changedAt: at + 1000 })).toBe(false);
		expect(heedsRange(date, { ...ours, changedAt: at - 1000 })).toBe(false);
	});

	it('take a list of tags with space around it, and an asterisk likewise', () => {
		expect(precondition({ ifNoneMatch: ' * ' }, ours)).toBe(304);
		expect(precondition({ ifMatch: ' "xyzzy" ' }, ours)).toBe('go-on');
		expect(precondition({ ifMatch: '"a", W/"xyzzy"' }, ours)).toBe(412);
		expect(precondition({ ifMatch: 'xyzzy' }, ours)).toBe(412);
		// Only the sign in front says that a tag is weak.
		expect(precondition({ ifNoneMatch: '"W/xyzzy"' }, ours)).toBe('go-on');
	});

	// Second opinion: the package fresh.
	test.each<Record<string, string>>([
		{ 'if-none-match': '"xyzzy"' },
		{ 'if-none-match': '"a", W/"xyzzy"' },
		{ 'if-none-match': '"other"' },
		{ 'if-modified-since': CHANGED },
		{ 'if-modified-since': BEFORE }
	])('agree with another reader on %j', (headers) => {
		const theirs = fresh(headers, { etag: ours.etag, 'last-modified': CHANGED });
		const asked = { ifNoneMatch: headers['if-none-match'], ifModifiedSince: headers['if-modified-since'] };
		expect(precondition(asked, ours) === 304).toBe(theirs);
	});
});

describe('a range', () => {
	// RFC 9110 §13.1.5
	test.each([
		[undefined, true],
		['"xyzzy"', true],
		['"other"', false],
		['W/"xyzzy"', false],
		['  "xyzzy" ', true],
		['"xyzzy', false],
		['xyzzy"', false],
		[CHANGED, true],
		[BEFORE, false],
		[AFTER, false],
		['nonsense', false]
	])('with If-Range %s is heeded: %s', (ifRange, expected) => {
		expect(heedsRange(ifRange, ours)).toBe(expected);
	});

	it('is not heeded by an empty If-Range', () => {
		expect(heedsRange('', ours)).toBe(false);
	});
});
