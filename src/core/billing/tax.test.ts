import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { runs } from '../../../tests/support/runs';
import { UNION } from '../text/countries';
import { linesOf, orderTotal } from './order';
import {
	discountNet,
	priceOf,
	proofsOf,
	quartersOf,
	rateOn,
	rateProblems,
	readRate,
	taxedOn,
	taxIn,
	termsTax,
	UNTAXED,
	withTax,
	type Taxed,
	type TaxedBuyer,
	type TaxRate,
	type TaxRules
} from './tax';
import { amountDue, renewingTerms, taxedTerms, termsFrom, totalOf, type Terms } from './terms';

const rate = (country: string, percent: number, from = '2020-01-01', name = 'VAT'): TaxRate => ({
	...{ country, name, from },
	rate: percent * 1000
});

const RULES: TaxRules = {
	way: 'included',
	home: 'DE',
	isHomeRateInUnion: false,
	rates: [rate('DE', 19), rate('FR', 20), rate('FI', 24), rate('FI', 25.5, '2024-09-01'), rate('CH', 8.1)]
};
const added: TaxRules = { ...RULES, way: 'added' };
const consumer = (country: string | null): TaxedBuyer => ({ country, taxId: null });
const business = (country: string): TaxedBuyer => ({ country, taxId: `${country}123` });
const DAY = '2026-07-01';
const taxedAt = (percent: number, isIncluded = true): Taxed => ({
	...{ kind: 'taxed', country: 'DE', name: 'VAT', isIncluded },
	rate: percent * 1000
});

const reversedAt = (percent: number, isIncluded = true): Taxed => ({
	...{ kind: 'reversed', country: 'FR', name: 'VAT', isIncluded },
	rate: percent * 1000
});

/** In a line. */
function said(taxed: Taxed): string {
	return taxed.kind === 'none' ? 'none' : `${taxed.kind} ${taxed.country} ${taxed.rate / 1000}`;
}

describe('which tax somebody pays', () => {
	test.each([
		['a consumer at home', RULES, consumer('DE'), 'taxed DE 19'],
		['whoever was not asked where they are', RULES, consumer(null), 'taxed DE 19'],
		['a business at home', RULES, business('DE'), 'taxed DE 19'],
		['a consumer elsewhere in the Union', RULES, consumer('FR'), 'taxed FR 20'],
		['a business elsewhere in the Union', RULES, business('FR'), 'reversed FR 20'],
		['a business where no rate is known', RULES, business('IT'), 'reversed IT 0'],
		['a consumer where no rate is known', RULES, consumer('IT'), 'none'],
		['a consumer outside the Union, where there is a rate', RULES, consumer('CH'), 'taxed CH 8.1'],
		['a business there', RULES, business('CH'), 'taxed CH 8.1'],
		['a consumer outside, without one', RULES, consumer('US'), 'none'],
		[
			'little is sold abroad: a consumer elsewhere in the Union',
			{ ...RULES, isHomeRateInUnion: true },
			consumer('FR'),
			'taxed DE 19'
		],
		[
			'little is sold abroad: a consumer outside',
			{ ...RULES, isHomeRateInUnion: true },
			consumer('CH'),
			'taxed CH 8.1'
		],
		[
			'little is sold abroad: a business',
			{ ...RULES, isHomeRateInUnion: true },
			business('FR'),
			'reversed FR 20'
		],
		['from outside the Union to a business in it', { ...RULES, home: 'CH' }, business('FR'), 'taxed FR 20'],
		['a publisher that asks for none', { ...RULES, way: 'none' as const }, consumer('DE'), 'none'],
		['a publisher that is nowhere', { ...RULES, home: null }, consumer('DE'), 'none']
	])('%s', (_name, rules, buyer, expected) => {
		expect(said(taxedOn(rules, buyer, DAY))).toBe(expected);
	});

	test.each([
		['the day before a change', '2024-08-31', 24],
		['the day of it', '2024-09-01', 25.5],
		['long after', '2030-01-01', 25.5]
	])('takes the rate of the day: %s', (_name, day, percent) => {
		expect(said(taxedOn(RULES, consumer('FI'), day))).toBe(`taxed FI ${percent}`);
	});

	it('asks for none before the first rate', () => {
		expect(rateOn(RULES.rates, 'FI', '2019-12-31')).toBeNull();
	});

	it('keeps the way that was agreed to', () => {
		expect(taxedOn(added, consumer('DE'), DAY, 'included')).toMatchObject({ isIncluded: true });
		expect(taxedOn(RULES, consumer('DE'), DAY, 'added')).toMatchObject({ isIncluded: false });
	});

	it('is never asked of a business elsewhere in the Union, and always of a consumer in a country with a rate', () => {
		const rules = { ...RULES, rates: UNION.map((country) => rate(country, 20)) };
		for (const home of UNION)
			for (const at of UNION) {
				const own = { ...rules, home };
				expect(taxedOn(own, business(at), DAY).kind).toBe(home === at ? 'taxed' : 'reversed');
				expect(said(taxedOn(own, consumer(at), DAY))).toBe(`taxed ${at} 20`);
			}
	});
});

describe('what is paid', () => {
	// Worked by hand: 11.90 / 1.19 = 10.00; 12.00 / 1.255 = 9.5618; 8.41 × 0.19 = 1.5979; 0.50 × 0.01 = half a cent.
	test.each<[string, number, Taxed, number, number]>([
		['in a price', 1190, taxedAt(19), 1190, 190],
		['in a price, rounded', 1200, taxedAt(25.5), 1200, 244],
		['on top of one', 1000, taxedAt(19, false), 1190, 190],
		['on top, rounded', 841, taxedAt(19, false), 1001, 160],
		['on top, half a minor unit', 50, taxedAt(1, false), 51, 1],
		['of nothing', 0, taxedAt(19, false), 0, 0],
		['a rate of nothing', 1000, taxedAt(0, false), 1000, 0],
		['taken out for a business', 1190, reversedAt(19), 1000, 0],
		['not put on top for a business', 1000, reversedAt(19, false), 1000, 0],
		['without tax', 1000, UNTAXED, 1000, 0]
	])('tax %s', (_name, price, taxed, paid, tax) => {
		expect(withTax(price, termsTax(taxed))).toBe(paid);
		expect(taxIn(paid, taxed)).toBe(tax);
	});

	const amount = fc.integer({ min: 0, max: 100_000_000 });
	const rates = fc.integer({ min: 0, max: 100_000 });

	it('on top of a price has in it the tax that came on top, to the minor unit, and leads back to the price', () => {
		fc.assert(
			fc.property(amount, rates, (price, of) => {
				const taxed: Taxed = { kind: 'taxed', country: 'DE', name: 'VAT', rate: of, isIncluded: false };
				const paid = withTax(price, termsTax(taxed));
				expect(paid - taxIn(paid, taxed)).toBe(price);
				expect(priceOf(paid, termsTax(taxed))).toBe(price);
				expect(Math.abs(paid - price - (price * of) / 100_000)).toBeLessThanOrEqual(0.5);
			}),
			{ seed: 20_261_128, numRuns: runs(1000) }
		);
	});

	it('asks of a business abroad for the price without its tax, whichever way prices are written', () => {
		fc.assert(
			fc.property(amount, rates, (net, of) => {
				const included: Taxed = { kind: 'reversed', country: 'FR', name: 'VAT', rate: of, isIncluded: true };
				const gross = withTax(net, { way: 'added', rate: of });
				expect(withTax(gross, termsTax(included))).toBe(net);
				expect(withTax(net, termsTax({ ...included, isIncluded: false }))).toBe(net);
			}),
			{ seed: 20_261_129, numRuns: runs(1000) }
		);
	});

	it('has of a discount what the publisher gets less, never below nothing, which with what is left is the full price', () => {
		fc.assert(
			fc.property(amount, amount, rates, fc.boolean(), (a, b, of, isIncluded) => {
				const [amountMinor, discountMinor] = [Math.max(a, b), Math.min(a, b)];
				const taxed: Taxed = { kind: 'taxed', country: 'DE', name: 'VAT', rate: of, isIncluded };
				const net = discountNet({ amountMinor, discountMinor }, taxed);
				expect(net).toBeGreaterThanOrEqual(0);
				const left = (minor: number) => {
					const paid = withTax(minor, termsTax(taxed));
					return paid - taxIn(paid, taxed);
				};
				expect(net + left(amountMinor - discountMinor)).toBe(left(amountMinor));
			}),
			{ seed: 20_261_204, numRuns: runs(500) }
		);
	});

	it('never falls when the price rises', () => {
		fc.assert(
			fc.property(
				amount,
				rates,
				fc.constantFrom('added' as const, 'taken-out' as const),
				(price, of, way) => {
					const tax = { way, rate: of };
					expect(withTax(price + 1, tax)).toBeGreaterThanOrEqual(withTax(price, tax));
				}
			),
			{ seed: 20_261_130, numRuns: runs(500) }
		);
	});
});

describe('terms with tax', () => {
	const monthly = renewingTerms({ minor: 1000, currency: 'EUR' }, { count: 1, unit: 'month' });
	const withFee: Terms = { ...monthly, feeMinor: 500 };
	const onTop = taxedAt(19, false);

	// By hand: 10.00 and 5.00, with 19 % on top 11.90 and 5.95; with a tenth off the first 9.00, on top 10.71.
	it('ask for it with each payment, of the plan and of the fee', () => {
		const terms = taxedTerms(withFee, termsTax(onTop));
		expect([0, 1, 2].map((due) => amountDue(terms, due))).toEqual([1785, 1190, 1190]);
		const off = { off: { kind: 'percent' as const, percent: 10 }, payments: 1 };
		const less = { ...terms, discount: off };
		expect([0, 1].map((due) => amountDue(less, due))).toEqual([1666, 1190]);
		expect(linesOf(less, onTop)).toEqual([
			{ kind: 'plan', amountMinor: 1000, discountMinor: 100, taxMinor: 171, totalMinor: 1071 },
			{ kind: 'fee', amountMinor: 500, discountMinor: 0, taxMinor: 95, totalMinor: 595 }
		]);
	});

	it('ask for the same where it is in the price, and say how much it is', () => {
		const lines = linesOf({ ...monthly, firstMinor: 1190 }, taxedAt(19));
		expect(lines).toMatchObject([{ amountMinor: 1190, taxMinor: 190, totalMinor: 1190 }]);
	});

	it('keep it for what is left of instalments', () => {
		const then = { kind: 'more' as const, times: 3, amountMinor: 1000, every: monthlyStep, firstLasts: null };
		const terms = taxedTerms({ currency: 'EUR', firstMinor: 1000, feeMinor: 0, then }, termsTax(onTop));
		expect(totalOf(terms)).toBe(4 * 1190);
		expect(totalOf(termsFrom(terms, 2)!)).toBe(2 * 1190);
	});

	const monthlyStep = { count: 1, unit: 'month' as const };

	it('ask for as much as the lines of the first order say', () => {
		const whole = fc.integer({ min: 0, max: 1_000_000 });
		fc.assert(
			fc.property(whole, whole, fc.integer({ min: 0, max: 40_000 }), fc.boolean(), (first, fee, of, isIn) => {
				const taxed: Taxed = { kind: 'taxed', country: 'DE', name: 'VAT', rate: of, isIncluded: isIn };
				const price: Terms = { currency: 'EUR', firstMinor: first, feeMinor: fee, then: { kind: 'nothing' } };
				const terms = taxedTerms(price, termsTax(taxed));
				expect(orderTotal(linesOf(terms, taxed))).toBe(amountDue(terms, 0));
			}),
			{ seed: 20_261_201, numRuns: runs(500) }
		);
	});
});

describe('a table of rates', () => {
	test.each([
		['nothing', rate('DE', 19), null],
		['a country that is none', rate('XX', 19), 'not-a-country'],
		['small letters', rate('de', 19), 'not-a-country'],
		['no name', rate('DE', 19, DAY, ' '), 'name-missing'],
		['a long name', rate('DE', 19, DAY, 'x'.repeat(21)), 'name-too-long'],
		['below nothing', rate('DE', -1), 'not-a-rate'],
		['over the whole', rate('DE', 100.001), 'not-a-rate'],
		['half of a thousandth', { ...rate('DE', 19), rate: 0.5 }, 'not-a-rate'],
		['no day', rate('DE', 19, '2026-02-30'), 'not-a-day'],
		['another way to write days', rate('DE', 19, '1.7.2026'), 'not-a-day']
	])('says what is wrong with a row: %s', (_name, row, expected) => {
		expect(rateProblems([row])).toEqual([expected]);
	});

	it('has one row for a country and a day', () => {
		const rows = [rate('DE', 19), rate('FR', 19), rate('DE', 16, '2020-07-01'), rate('DE', 7)];
		expect(rateProblems(rows)).toEqual([null, null, null, 'twice']);
	});

	test.each([
		['19', 19_000],
		['25,5', 25_500],
		['8.875 %', 8875],
		['0', 0],
		['100', 100_000],
		['100.001', null],
		['-1', null],
		['1.2345', null],
		['', null],
		['a fifth', null]
	])('reads “%s”', (typed, expected) => {
		expect(readRate(typed)).toBe(expected);
	});
});

describe('the proofs of a country', () => {
	test.each([
		['two that agree', ['DE', 'DE'], 'two'],
		['two that agree, beside one that does not', ['DE', 'DE', 'FR'], 'two'],
		['one', ['DE'], 'one'],
		['one, and another country', ['DE', 'FR'], 'differ'],
		['none', [], 'none'],
		['another country alone', ['FR'], 'differ']
	])('%s', (_name, countries, expected) => {
		const proofs = countries.map((country, n) => ({
			from: (['said', 'card', 'network'] as const)[n]!,
			country
		}));
		expect(proofsOf('DE', proofs)).toBe(expected);
	});
});

describe('the quarters of a year', () => {
	it('follow each other without a gap, from the first day of the year to the first of the next', () => {
		const quarters = quartersOf(2026);
		expect(quarters.map(({ from }) => from)).toEqual([
			'2026-01-01',
			'2026-04-01',
			'2026-07-01',
			'2026-10-01'
		]);
		expect(quarters.map(({ before }) => before)).toEqual([
			'2026-04-01',
			'2026-07-01',
			'2026-10-01',
			'2027-01-01'
		]);
	});
});
