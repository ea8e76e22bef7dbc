import { describe, expect, it, test } from 'vitest';
import { frontWords } from './front';
import { pricePieces, priceText, type PriceTerms } from './price';

const month = { count: 1, unit: 'month' as const };
const price = (firstMinor: number, then: object | null, feeMinor = 0): PriceTerms => ({
	...{ currency: 'EUR', firstMinor, feeMinor },
	then: then
		? { kind: 'more', times: null, amountMinor: firstMinor, every: month, firstLasts: null, ...then }
		: { kind: 'nothing' }
});

describe('a price in words', () => {
	test.each([
		[price(1200, {}), '12.00 EUR a month', '12,00 EUR im Monat'],
		[
			price(1200, { every: { count: 3, unit: 'week' } }),
			'12.00 EUR every 3 weeks',
			'12,00 EUR alle 3 Wochen'
		],
		[price(4900, null), '49.00 EUR once', 'einmalig 49,00 EUR'],
		[price(0, null), 'free', 'kostenlos'],
		[
			price(0, null, 500),
			'free, and 5.00 EUR once at joining',
			'kostenlos, dazu einmalig 5,00 EUR zu Beginn'
		],
		[
			price(100, { amountMinor: 1200, firstLasts: { count: 2, unit: 'week' } }),
			'1.00 EUR for 2 weeks, then 12.00 EUR a month',
			'1,00 EUR für 2 Wochen, dann 12,00 EUR im Monat'
		],
		[
			price(0, { amountMinor: 1200, firstLasts: { count: 14, unit: 'day' } }),
			'free for 14 days, then 12.00 EUR a month',
			'kostenlos für 14 Tage, dann 12,00 EUR im Monat'
		],
		[
			price(500, { amountMinor: 1200 }),
			'5.00 EUR first, then 12.00 EUR a month',
			'zuerst 5,00 EUR, dann 12,00 EUR im Monat'
		],
		[
			price(4900, { times: 3 }),
			'4 payments of 49.00 EUR, one a month',
			'4 Zahlungen zu 49,00 EUR, je eine im Monat'
		],
		[
			price(10_000, { times: 1, amountMinor: 5000, every: { count: 1, unit: 'year' } }),
			'100.00 EUR first, then 1 payment of 50.00 EUR, one a year',
			'zuerst 100,00 EUR, dann 1 Zahlung zu 50,00 EUR, je eine im Jahr'
		],
		[
			price(1200, {}, 500),
			'12.00 EUR a month, and 5.00 EUR once at joining',
			'12,00 EUR im Monat, dazu einmalig 5,00 EUR zu Beginn'
		],
		[
			{ ...price(1200, {}, 500), discount: { off: { kind: 'percent', percent: 10 }, payments: 3 } },
			'12.00 EUR a month, 10 % off the first 3 payments, and 5.00 EUR once at joining',
			'12,00 EUR im Monat, 10 % weniger bei den ersten 3 Zahlungen, dazu einmalig 5,00 EUR zu Beginn'
		],
		[
			{
				...price(1200, {}),
				discount: { off: { kind: 'amount', minor: 200, currency: 'EUR' }, payments: 1 }
			},
			'12.00 EUR a month, 2.00 EUR off the first payment',
			'12,00 EUR im Monat, 2,00 EUR weniger bei der ersten Zahlung'
		],
		[
			{ ...price(1200, {}), discount: { off: { kind: 'percent', percent: 25 }, payments: null } },
			'12.00 EUR a month, 25 % off every payment',
			'12,00 EUR im Monat, 25 % weniger bei jeder Zahlung'
		],
		[
			{ ...price(4900, null), discount: { off: { kind: 'percent', percent: 50 }, payments: 1 } },
			'49.00 EUR once, 50 % off',
			'einmalig 49,00 EUR, 50 % weniger'
		]
	] as [PriceTerms, string, string][])('%j', (terms, english, german) => {
		const plain = (code: string) => priceText(frontWords(code), terms).replace(/\s/g, ' ');
		expect([plain('en'), plain('de')]).toEqual([english, german]);
	});

	it('tells its amounts apart', () => {
		expect(pricePieces(frontWords('en'), price(1200, {}, 500))).toEqual([
			{ text: '12.00 EUR', isAmount: true },
			{ text: ' a month, and ', isAmount: false },
			{ text: '5.00 EUR', isAmount: true },
			{ text: ' once at joining', isAmount: false }
		]);
	});
});
