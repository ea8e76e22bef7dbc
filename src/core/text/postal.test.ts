import { describe, expect, it } from 'vitest';
import {
	isWholePostal,
	MOST_OF_POSTAL_PART,
	NEEDED_OF_POSTAL,
	POSTAL_PARTS,
	postalLines,
	type Postal
} from './postal';

const WREN: Postal = {
	...{ name: 'Wren Alder', street: 'Millrace 4', more: '', postcode: '1070' },
	...{ city: 'Vienna', region: '', country: 'AT' }
};

describe('a postal address', () => {
	it('is whole without what some have none of', () => {
		expect(isWholePostal(WREN)).toBe(true);
		expect(isWholePostal({ ...WREN, postcode: '', region: '', more: '' })).toBe(true);
	});

	it.each(NEEDED_OF_POSTAL)('is not whole without its %s', (part) => {
		expect(isWholePostal({ ...WREN, [part]: '' })).toBe(false);
		expect(isWholePostal({ ...WREN, [part]: '  ' })).toBe(false);
	});

	it.each(POSTAL_PARTS.filter((part) => part !== 'country'))(
		'has one line as its %s, and no letter',
		(part) => {
			expect(isWholePostal({ ...WREN, [part]: 'a\nb' })).toBe(false);
			expect(isWholePostal({ ...WREN, [part]: 'a'.repeat(MOST_OF_POSTAL_PART) })).toBe(true);
			expect(isWholePostal({ ...WREN, [part]: 'a'.repeat(MOST_OF_POSTAL_PART + 1) })).toBe(false);
		}
	);

	it.each(['XX', 'at', 'Austria'])('is in a country, and “%s” is none', (country) => {
		expect(isWholePostal({ ...WREN, country })).toBe(false);
	});

	// As post offices commonly ask for it (common practice, no source).
	it.each([
		[WREN, 'Austria', ['Wren Alder', 'Millrace 4', '1070 Vienna', 'AUSTRIA']],
		[
			{ ...WREN, more: '2nd floor', region: 'Ulster', postcode: '', city: 'Strabane', country: 'GB' },
			'United Kingdom',
			['Wren Alder', '2nd floor', 'Millrace 4', 'Strabane', 'Ulster', 'UNITED KINGDOM']
		]
	])('of %o is written in lines', (postal, country, lines) => {
		expect(postalLines(postal, country)).toEqual(lines);
	});
});
