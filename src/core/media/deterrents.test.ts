import { describe, expect, it, test } from 'vitest';
import {
	deterrentsOf,
	frameAncestors,
	isSite,
	mayEmbed,
	NO_DETERRENTS,
	placeOf,
	placesMoved,
	readOverlay,
	readSite
} from './deterrents';

describe('a site', () => {
	test.each([
		['school.example', 'school.example'],
		['https://School.Example/films?x', 'school.example'],
		['*.school.example', '*.school.example'],
		['localhost:8080', 'localhost:8080'],
		// IDNA (UTS 46): Unicode becomes punycode.
		['bücher.example', 'xn--bcher-kva.example'],
		['  school.example  ', 'school.example'],
		['http://school.example', 'school.example'],
		['ftp://school.example', null],
		['xhttp://school.example', null],
		['school.example/a\nb', null],
		['*.', null],
		['bad-.example', null],
		['[::1', null],
		['*.example', null],
		['*', null],
		['school .example', null],
		['a@school.example', null],
		['-bad.example', null],
		['', null]
	])('%j is written %j', (typed, written) => {
		expect(readSite(typed)).toBe(written);
	});

	test.each([
		['school.example', 'https://school.example', true],
		['school.example', 'https://www.school.example', false],
		['*.school.example', 'https://www.school.example', true],
		['*.school.example', 'https://a.b.school.example', true],
		// The apex stands apart, as in Content Security Policy.
		['*.school.example', 'https://school.example', false],
		['*.school.example', 'https://evilschool.example', false],
		['school.example', 'https://school.example:8443', false],
		['school.example:8443', 'https://school.example:8443', true],
		['school.example', 'https://school.example.evil.example', false],
		['school.example', 'null', false]
	])('%s allows %s: %s', (site, origin, expected) => {
		expect(isSite([site], origin)).toBe(expected);
	});
});

it('is one of many', () => {
	expect(isSite(['other.example', 'school.example'], 'https://school.example')).toBe(true);
	expect(isSite([], 'https://school.example')).toBe(false);
});

describe('a request from a page', () => {
	const own = 'https://clock.example';
	test.each([
		[undefined, true],
		['', true],
		['https://clock.example/videos/wheel', true],
		['https://school.example/page', true],
		['https://other.example/', false],
		['nonsense', false]
	])('that is %j is let through: %s', (referer, expected) => {
		expect(mayEmbed(['school.example'], own, referer)).toBe(expected);
	});
});

it('lists the frames that may hold a film', () => {
	expect(frameAncestors([])).toBe("'self'");
	expect(frameAncestors(['school.example', '*.partner.example'])).toBe(
		"'self' school.example *.partner.example"
	);
});

test.each([
	['192.0.2.7', 'AT', 'country'],
	['203.0.113.9', null, 'network'],
	['203.0.113.9', 'DE', 'network'],
	['198.51.100.1', 'DE', 'free'],
	[null, null, 'free'],
	['unknown', null, 'free']
])('from %s in %s it is %s', (address, country, expected) => {
	const rules = { blockedCountries: ['AT'], blockedNetworks: ['203.0.113.0/24', 'nonsense'] };
	expect(placeOf(rules, address, country)).toBe(expected);
});

it('lets an item differ in one thing and keep the rest', () => {
	const site = { ...NO_DETERRENTS, embedSites: ['school.example'], blockedCountries: ['AT'] };
	expect(deterrentsOf(site, { embedSites: [] })).toMatchObject({ embedSites: [], blockedCountries: ['AT'] });
	expect(deterrentsOf(site, null)).toBe(site);
});

it('keeps an overlay within what can be read', () => {
	expect(
		readOverlay({ shows: 'email', size: 99, opacity: -3, colour: 'red', text: 'x'.repeat(500) })
	).toEqual({
		shows: 'email',
		text: 'x'.repeat(120),
		isMoving: false,
		size: 20,
		opacity: 5,
		colour: '#ffffff'
	});
	expect(readOverlay(null)).toBeNull();
});

test.each([
	[
		{ shows: 'text', text: 'Clock school' },
		{ shows: 'text', text: 'Clock school' }
	],
	[{ shows: 'name' }, { shows: 'name', text: '' }],
	[
		{ shows: 'everything', text: 7 },
		{ shows: 'name', text: '' }
	],
	[{ isMoving: true }, { isMoving: true }],
	[{ isMoving: 'yes' }, { isMoving: false }],
	[
		{ size: 'large', opacity: 'thin' },
		{ size: 4, opacity: 30 }
	],
	[
		{ size: 7, opacity: 50 },
		{ size: 7, opacity: 50 }
	],
	[
		{ size: 0, opacity: 500 },
		{ size: 2, opacity: 100 }
	],
	[{ colour: '#AABBCC' }, { colour: '#aabbcc' }],
	[{ colour: 'x#aabbcc' }, { colour: '#ffffff' }],
	[{ colour: '#aabbccd' }, { colour: '#ffffff' }],
	[{ colour: '#ggggGG' }, { colour: '#ffffff' }],
	[{ colour: ['#aabbcc'] }, { colour: '#ffffff' }]
])('an overlay of %j is read as %j', (typed, expected) => {
	expect(readOverlay(typed)).toMatchObject(expected);
	expect(readOverlay('overlay')).toBeNull();
});

it('begins with nothing against anybody', () => {
	expect(NO_DETERRENTS).toEqual({
		embedSites: [],
		blockedCountries: [],
		blockedNetworks: [],
		overlay: null,
		tiesLinks: false
	});
	expect(placeOf(NO_DETERRENTS, '192.0.2.7', null)).toBe('free');
	expect(
		placeOf({ blockedCountries: [], blockedNetworks: ['192.0.2.0/24', '203.0.113.0/24'] }, '192.0.2.7', null)
	).toBe('network');
});

describe('a change of what is blocked', () => {
	it('names the places that are kept out from now on, and those that are let in again', () => {
		const before = { blockedCountries: ['AT', 'CH'], blockedNetworks: ['192.0.2.0/24'] };
		const after = { blockedCountries: ['DE', 'CH', 'BE'], blockedNetworks: [] };
		expect(placesMoved(before, after)).toEqual({ keptOut: ['BE', 'DE'], letIn: ['192.0.2.0/24', 'AT'] });
		expect(placesMoved(before, { ...before, blockedCountries: ['CH', 'AT'] })).toEqual({
			keptOut: [],
			letIn: []
		});
	});
});
