import { describe, expect, it, test } from 'vitest';
import { readDeterrents, readOwnDeterrents } from './read-deterrents';

function form(fields: Record<string, string>): FormData {
	const data = new FormData();
	for (const [name, value] of Object.entries(fields)) data.set(name, value);
	return data;
}

const good = {
	embedSites: 'https://School.example/page\n*.partner.example, localhost:8080',
	blockedCountries: 'at; de\nat',
	blockedNetworks: '192.0.2.0/24\n2001:db8::/32'
};

describe('deterrents as they are sent', () => {
	it('are read into one spelling, once each', () => {
		expect(readDeterrents(form({ ...good, tiesLinks: 'yes' }))).toEqual({
			ok: true,
			value: {
				embedSites: ['school.example', '*.partner.example', 'localhost:8080'],
				blockedCountries: ['AT', 'DE'],
				blockedNetworks: ['192.0.2.0/24', '2001:db8::/32'],
				overlay: null,
				tiesLinks: true
			}
		});
		expect(readDeterrents(form({}))).toEqual({
			ok: true,
			value: { embedSites: [], blockedCountries: [], blockedNetworks: [], overlay: null, tiesLinks: false }
		});
	});

	test.each([
		['embedSites', 'school.example\nno site\nnor @this', /“no site” is no site/],
		['blockedCountries', 'AT\nAustria', /“Austria” is no country code/],
		['blockedNetworks', '192.0.2.0/240', /“192.0.2.0\/240” is no address or range/]
	])('name the first line of %s that is wrong, at its place', (field, text, message) => {
		const read = readDeterrents(form({ ...good, [field]: text }));
		expect(read.ok ? {} : read.errors).toEqual({ [field]: [expect.stringMatching(message)] });
	});

	it('tell every place that is wrong', () => {
		const read = readDeterrents(form({ embedSites: '@', blockedCountries: '1', blockedNetworks: '2' }));
		expect(Object.keys(read.ok ? {} : read.errors).sort()).toEqual([
			'blockedCountries',
			'blockedNetworks',
			'embedSites'
		]);
	});
});

describe('those of an item', () => {
	it('are those that are its own, and nothing where none are', () => {
		expect(readOwnDeterrents(form(good))).toEqual({ ok: true, value: null });
		expect(readOwnDeterrents(form({ ...good, ownSites: 'yes' }))).toEqual({
			ok: true,
			value: { embedSites: ['school.example', '*.partner.example', 'localhost:8080'] }
		});
		expect(readOwnDeterrents(form({ ownPlaces: 'yes', blockedCountries: 'at' }))).toEqual({
			ok: true,
			value: { blockedCountries: ['AT'], blockedNetworks: [] }
		});
		expect(readOwnDeterrents(form({ ownOverlay: 'yes' }))).toEqual({ ok: true, value: { overlay: null } });
		const overlay = { hasOverlay: 'yes', 'overlay-shows': 'name', 'overlay-size': '5' };
		expect(readOwnDeterrents(form({ ...overlay, ownOverlay: 'yes' }))).toMatchObject({
			value: { overlay: { shows: 'name', size: 5 } }
		});
		expect(readOwnDeterrents(form(overlay))).toEqual({ ok: true, value: null });
	});

	it('are not looked at where they do not count', () => {
		expect(readOwnDeterrents(form({ embedSites: '@' }))).toEqual({ ok: true, value: null });
		expect(readOwnDeterrents(form({ embedSites: '@', ownSites: 'yes' })).ok).toBe(false);
	});
});
