import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { CURRENCIES, formatMoney, parseAmount, plainAmount } from './money';

describe('amounts as people type them', () => {
	test.each([
		['12', 'EUR', 1200],
		['12.5', 'EUR', 1250],
		['12,50', 'EUR', 1250],
		[' 0.01 ', 'EUR', 1],
		['500', 'JPY', 500],
		['1.250', 'KWD', 1250],
		['100000', 'EUR', 10_000_000]
	])('%s %s', (text, currency, minor) => {
		expect(parseAmount(text, currency)).toEqual({ ok: true, money: { minor, currency } });
	});

	test.each([
		['0', 'EUR', 'not-positive'],
		['0.00', 'EUR', 'not-positive'],
		['-5', 'EUR', 'not-positive'],
		['1.234', 'EUR', 'too-many-decimals'],
		['1.5', 'JPY', 'too-many-decimals'],
		['1e9', 'EUR', 'not-a-number'],
		['1000000000', 'EUR', 'too-large'],
		['100000.01', 'EUR', 'too-large'],
		['', 'EUR', 'not-a-number'],
		['1.2.3', 'EUR', 'not-a-number'],
		['Infinity', 'EUR', 'not-a-number'],
		['12', 'XXX', 'unknown-currency'],
		['12', 'toString', 'unknown-currency']
	])('%s %s is refused as %s', (text, currency, code) => {
		expect(parseAmount(text, currency)).toEqual({ ok: false, code });
	});

	it('reads back what it writes', () => {
		fc.assert(
			fc.property(fc.integer({ min: 1, max: 1e8 }), fc.constantFrom(...CURRENCIES), (minor, currency) => {
				fc.pre(parseAmount(plainAmount({ minor, currency }), currency).ok);
				expect(parseAmount(plainAmount({ minor, currency }), currency)).toEqual({
					ok: true,
					money: { minor, currency }
				});
			}),
			{ seed: 20261124 }
		);
	});

	// Second opinion: the built-in Intl data, for the number of minor digits (CLDR follows ISO 4217 for these).
	test.each(CURRENCIES.filter((code) => code !== 'HUF'))(
		'%s has the minor digits that Intl knows',
		(currency) => {
			const digits = new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions()
				.maximumFractionDigits;
			expect(plainAmount({ minor: 0, currency }).split('.')[1]?.length ?? 0).toBe(digits);
		}
	);

	it('writes amounts for people', () => {
		expect(formatMoney({ minor: 123_456_700, currency: 'EUR' })).toBe('1 234 567.00 EUR');
		expect(formatMoney({ minor: 500, currency: 'JPY' })).toBe('500 JPY');
	});
});
