import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { currenciesOf, pricesIn } from './currencies';

const price = (name: string, currency: string) => ({ name, terms: { currency } });
const [MONTH, YEAR, DOLLAR, FRANC] = [
	price('month', 'EUR'),
	price('year', 'EUR'),
	price('dollar', 'USD'),
	price('franc', 'CHF')
] as const;
const ALL = [MONTH, DOLLAR, YEAR, FRANC];

describe('whoever looks is shown', () => {
	test.each([
		['the prices of the currency that they chose', ['USD', 'EUR'], [DOLLAR]],
		['several of it, in their order', ['EUR', 'USD'], [MONTH, YEAR]],
		['those of the site’s, where there are none of that', ['JPY', 'CHF'], [FRANC]],
		['those of the site’s, where nothing was chosen', [null, 'USD'], [DOLLAR]],
		['those of the first price’s, where there are none of either', ['JPY', 'GBP'], [MONTH, YEAR]],
		['those of the first price’s, where nothing is wanted', [], [MONTH, YEAR]]
	])('%s', (_, wishes, expected) => {
		expect(pricesIn(ALL, wishes)).toEqual(expected);
	});

	it('nothing of what has no price', () => {
		expect([pricesIn([], ['EUR']), currenciesOf([])]).toEqual([[], []]);
	});

	it('one currency, and every price of it, whatever is wanted', () => {
		const currency = fc.constantFrom('EUR', 'USD', 'CHF', 'JPY');
		fc.assert(
			fc.property(
				fc.array(currency, { minLength: 1, maxLength: 6 }),
				fc.array(fc.option(currency), { maxLength: 3 }),
				(of, wishes) => {
					const prices = of.map((one, n) => price(String(n), one));
					const shown = pricesIn(prices, wishes);
					expect(currenciesOf(shown)).toHaveLength(1);
					expect(prices.filter(({ terms }) => terms.currency === currenciesOf(shown)[0])).toEqual(shown);
					const wanted = wishes.find((wish) => wish !== null && of.includes(wish));
					if (wanted) expect(currenciesOf(shown)).toEqual([wanted]);
				}
			),
			{ seed: 20_261_130, numRuns: 500 }
		);
	});
});
