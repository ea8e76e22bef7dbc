/**
 * A plan may have prices in several currencies. Whoever looks is shown those of one of them, so that they choose between ways to pay
 * and not between currencies; amounts of different currencies are never compared.
 *
 * Example: 9.00 EUR a month, 90.00 EUR a year and 10.00 USD a month: in euro there are two prices, in dollars there is one.
 */

interface Priced {
	terms: { currency: string };
}

/**
 * @param wishes currencies in the order in which they are wanted: what was chosen, then the site's; `null`: none
 * @returns the prices in the first of those that there are, else in that of the first price; in their order
 */
export function pricesIn<P extends Priced>(prices: readonly P[], wishes: readonly (string | null)[]): P[] {
	const known = currenciesOf(prices);
	const currency = wishes.find((wish) => wish !== null && known.includes(wish)) ?? known[0];
	return prices.filter(({ terms }) => terms.currency === currency);
}

/** Each once, in the order of the prices. */
export function currenciesOf(prices: readonly Priced[]): string[] {
	return [...new Set(prices.map(({ terms }) => terms.currency))];
}
