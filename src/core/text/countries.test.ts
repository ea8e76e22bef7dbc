import { describe, expect, it } from 'vitest';
import { COUNTRIES, countriesByName, countryName, isCountry, UNION } from './countries';

describe('the countries', () => {
	// ISO 3166-1 has 249 entries; the Union has 27 members since 2020-02-01.
	it('are as many as the standard has, and one more, and known to the language data', () => {
		expect(COUNTRIES.filter((code) => code !== 'XK')).toHaveLength(249);
		expect(new Set(COUNTRIES).size).toBe(250);
		for (const code of COUNTRIES) expect(countryName(code, 'en')).not.toBe(code);
	});

	it('of the Union are among them', () => {
		expect(UNION).toHaveLength(27);
		expect(UNION.every(isCountry)).toBe(true);
		expect(UNION).not.toContain('GB');
	});

	it('stand in the order of the language', () => {
		const german = countriesByName('de').map(({ name }) => name);
		expect(german.indexOf('Österreich')).toBeLessThan(german.indexOf('Polen'));
		expect(countriesByName('en').find(({ code }) => code === 'AT')?.name).toBe('Austria');
	});
});
