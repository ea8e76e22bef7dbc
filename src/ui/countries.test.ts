import { expect, it } from 'vitest';
import { countries, countryName, findCountries } from './countries';

it('has the 249 countries of ISO 3166-1 (their number from memory) and Kosovo, each name once', () => {
	const all = countries();
	expect(all).toHaveLength(250);
	expect(new Set(all.map(({ name }) => name)).size).toBe(250);
});

it('finds by a part of the name, and by the code', () => {
	expect(findCountries('aust').map(({ code }) => code)).toEqual(['AU', 'AT']);
	expect(findCountries('at').map(({ code }) => code)).toContain('AT');
	expect(findCountries('nowhere')).toEqual([]);
});

it('calls a code that it does not know by itself', () => {
	expect(countryName('AT')).toBe('Austria');
	expect(countryName('QQ')).toBe('QQ');
});
