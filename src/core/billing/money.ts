/**
 * Money: integer minor units and a currency, never a fraction of one.
 *
 * The number of minor digits is ISO 4217's. Example: `12.5` EUR is 1250, `500` JPY is 500, `1.250` KWD is 1250.
 */

export interface Money {
	/** In the currency's minor unit. */
	minor: number;
	/** ISO 4217 code. */
	currency: string;
}

/** ISO 4217, amendment 176: currencies that Stile sells in, with their number of minor digits. */
export const MINOR_DIGITS: Readonly<Record<string, number>> = {
	AUD: 2,
	BRL: 2,
	CAD: 2,
	CHF: 2,
	CZK: 2,
	DKK: 2,
	EUR: 2,
	GBP: 2,
	HUF: 2,
	INR: 2,
	JPY: 0,
	KRW: 0,
	KWD: 3,
	MXN: 2,
	NOK: 2,
	NZD: 2,
	PLN: 2,
	RON: 2,
	SEK: 2,
	SGD: 2,
	TND: 3,
	USD: 2,
	ZAR: 2
};

export const CURRENCIES = Object.keys(MINOR_DIGITS);

/** Highest price, in major units: above it a typing error is likelier than a price. */
export const MAX_AMOUNT_MAJOR = 100_000;

export type AmountProblem =
	'not-a-number' | 'not-positive' | 'too-many-decimals' | 'too-large' | 'unknown-currency';

export type ParsedAmount = { ok: true; money: Money } | { ok: false; code: AmountProblem };

/**
 * Reads what a person typed as a price: digits with at most one decimal point or comma, no grouping.
 * @param leastMinor 0 where nothing is an amount, too
 */
export function parseAmount(text: string, currency: string, leastMinor: 0 | 1 = 1): ParsedAmount {
	if (!Object.hasOwn(MINOR_DIGITS, currency)) return { ok: false, code: 'unknown-currency' };
	const digits = MINOR_DIGITS[currency] ?? 2;
	const match = /^(-?)(\d{1,15})(?:[.,](\d{1,15}))?$/.exec(text.trim());
	if (!match) return { ok: false, code: 'not-a-number' };
	const [, sign, whole = '', fraction = ''] = match;
	if (fraction.length > digits) return { ok: false, code: 'too-many-decimals' };
	const minor = Number(whole) * 10 ** digits + Number(fraction.padEnd(digits, '0') || 0);
	if (sign || minor < leastMinor) return { ok: false, code: 'not-positive' };
	if (minor > MAX_AMOUNT_MAJOR * 10 ** digits) return { ok: false, code: 'too-large' };
	return { ok: true, money: { minor, currency } };
}

/** For a form field: `1250` EUR is `12.50`. */
export function plainAmount({ minor, currency }: Money): string {
	const digits = MINOR_DIGITS[currency] ?? 2;
	return (minor / 10 ** digits).toFixed(digits);
}

/** For people: `12.50 EUR`. The code, not a sign, because a dollar sign does not say which. */
export function formatMoney(money: Money): string {
	const [whole = '', fraction] = plainAmount(money).split('.');
	const grouped = whole.replace(/\B(?=(\d{3})+$)/g, ' ');
	return `${grouped}${fraction ? '.' + fraction : ''} ${money.currency}`;
}
