import { describe, expect, it, test } from 'vitest';
import {
	amountDue,
	MOST_OF_UNIT,
	MOST_TIMES,
	regularMinor,
	renewingTerms,
	startOf,
	termsFrom,
	termsProblems,
	totalOf,
	type Step,
	type Terms
} from './terms';
import { readPrice, type TypedPrice } from './terms-typed';

const START = Date.parse('2026-01-31T10:00Z');
const day = (at: number | null) => (at === null ? null : new Date(at).toISOString().slice(0, 16));
const every = (count: number, unit: Step['unit']): Step => ({ count, unit });
const EUR = { currency: 'EUR', firstMinor: 1200, feeMinor: 0 };
const monthly = renewingTerms({ minor: 1200, currency: 'EUR' }, every(1, 'month'));
const once: Terms = { ...EUR, then: { kind: 'nothing' } };
/** 100.00 first, then three times 50.00, one a month. */
const instalments: Terms = {
	...{ currency: 'EUR', firstMinor: 10_000, feeMinor: 0 },
	then: { kind: 'more', times: 3, amountMinor: 5000, every: every(1, 'month'), firstLasts: null }
};
/** 1.00 for two weeks, then 12.00 a month, and 5.00 once. */
const stretched: Terms = {
	...{ currency: 'EUR', firstMinor: 100, feeMinor: 500 },
	then: {
		kind: 'more',
		times: null,
		amountMinor: 1200,
		every: every(1, 'month'),
		firstLasts: every(2, 'week')
	}
};

describe('what is due, and when', () => {
	// Worked by hand. From 31 January, months end where they end; two weeks after it lies 14 February.
	test.each([
		['monthly', monthly, [1200, 1200, 1200], ['2026-01-31T10:00', '2026-02-28T10:00', '2026-03-31T10:00']],
		['once', once, [1200, null, null], ['2026-01-31T10:00', null, null]],
		[
			'instalments',
			instalments,
			[10_000, 5000, 5000, 5000, null],
			['2026-01-31T10:00', '2026-02-28T10:00', '2026-03-31T10:00', '2026-04-30T10:00', '2026-05-31T10:00']
		],
		[
			'a first stretch and a fee',
			stretched,
			[600, 1200, 1200],
			['2026-01-31T10:00', '2026-02-14T10:00', '2026-03-14T10:00']
		]
	])('%s', (_name, terms, amounts, starts) => {
		expect(amounts.map((_, due) => amountDue(terms, due))).toEqual(amounts);
		expect(starts.map((_, period) => day(startOf(terms, START, 'UTC', period)))).toEqual(starts);
	});

	it('falls on the hour of the publisher’s clocks, whatever summer time does', () => {
		const terms = renewingTerms({ minor: 100, currency: 'EUR' }, every(1, 'day'));
		const before = Date.parse('2026-03-28T11:00Z');
		expect([0, 1, 2].map((n) => day(startOf(terms, before, 'Europe/Vienna', n)))).toEqual([
			'2026-03-28T11:00',
			'2026-03-29T10:00',
			'2026-03-30T10:00'
		]);
	});

	it('is counted from the first day, also behind a first stretch: the 30th of a long month stays the 30th', () => {
		const terms: Terms = {
			...EUR,
			then: {
				kind: 'more',
				times: null,
				amountMinor: 1,
				every: every(1, 'month'),
				firstLasts: every(30, 'day')
			}
		};
		const from = Date.parse('2025-12-31T00:00Z');
		expect([1, 2, 3].map((n) => day(startOf(terms, from, 'UTC', n))?.slice(0, 10))).toEqual([
			'2026-01-30',
			'2026-02-28',
			'2026-03-30'
		]);
	});

	it('adds up to a total where it ends by itself', () => {
		expect([once, instalments, monthly, { ...once, feeMinor: 300 }].map(totalOf)).toEqual([
			1200,
			25_000,
			null,
			1500
		]);
	});

	it('is compared by what is paid again and again, else by what is paid once', () => {
		expect([once, instalments, stretched].map(regularMinor)).toEqual([1200, 5000, 1200]);
	});
});

describe('terms from a later due on', () => {
	test.each([
		['the first', monthly, 0, monthly],
		['of what goes on', monthly, 7, monthly],
		['nothing after what is paid once', once, 1, null],
		['nothing after the last instalment', instalments, 4, null]
	])('%s', (_name, terms, due, expected) => {
		expect(termsFrom(terms, due)).toEqual(expected);
	});

	it('ask for the same and end at the same', () => {
		for (const terms of [monthly, instalments, stretched])
			for (let due = 1; due < 4; due++) {
				const rest = termsFrom(terms, due);
				if (!rest) throw new Error(`nothing from ${due}`);
				const at = startOf(terms, START, 'UTC', due) ?? 0;
				for (let more = 0; more < 4; more++) expect(amountDue(rest, more)).toBe(amountDue(terms, due + more));
				expect(startOf(rest, at, 'UTC', 0)).toBe(at);
			}
	});
});

describe('what is wrong with terms', () => {
	const more = (change: object): Terms => ({
		...EUR,
		then: { kind: 'more', times: 3, amountMinor: 100, every: every(1, 'month'), firstLasts: null, ...change }
	});
	test.each<[string, Terms, unknown[]]>([
		['nothing', more({}), []],
		['nothing, free at first', { ...more({}), firstMinor: 0 }, []],
		['a currency that nobody has', { ...once, currency: 'XXX' }, [{ code: 'unknown-currency' }]],
		['a name of every object', { ...once, currency: 'toString' }, [{ code: 'unknown-currency' }]],
		['half a cent', { ...once, firstMinor: 0.5 }, [{ code: 'not-an-amount', of: 'first' }]],
		['less than nothing', { ...once, feeMinor: -1 }, [{ code: 'not-an-amount', of: 'fee' }]],
		['no number', { ...once, feeMinor: NaN }, [{ code: 'not-an-amount', of: 'fee' }]],
		['as much as can be', { ...once, firstMinor: 10_000_000 }, []],
		['a cent more', { ...once, firstMinor: 10_000_001 }, [{ code: 'too-large', of: 'first' }]],
		['as much in a currency without cents', { ...once, currency: 'JPY', firstMinor: 100_000 }, []],
		['a yen more', { ...once, currency: 'JPY', firstMinor: 100_001 }, [{ code: 'too-large', of: 'first' }]],
		['nothing each time', more({ amountMinor: 0 }), [{ code: 'asks-nothing' }]],
		['no step', more({ every: every(0, 'day') }), [{ code: 'not-a-step', of: 'every' }]],
		['half a month', more({ every: every(0.5, 'month') }), [{ code: 'not-a-step', of: 'every' }]],
		['ten years', more({ every: every(10, 'year') }), []],
		['eleven years', more({ every: every(11, 'year') }), [{ code: 'not-a-step', of: 'every' }]],
		[
			'a stretch of nothing',
			more({ firstLasts: every(0, 'week') }),
			[{ code: 'not-a-step', of: 'first-lasts' }]
		],
		['no instalments', more({ times: 0 }), [{ code: 'not-a-number-of-times' }]],
		['as many as can be', more({ times: MOST_TIMES }), []],
		['one more', more({ times: MOST_TIMES + 1 }), [{ code: 'not-a-number-of-times' }]],
		[
			'all of it, in order',
			{ ...more({ amountMinor: -1, every: every(0, 'day'), times: 1.5 }), firstMinor: -1 },
			[
				{ code: 'not-an-amount', of: 'first' },
				{ code: 'not-an-amount', of: 'then' },
				{ code: 'not-a-step', of: 'every' },
				{ code: 'not-a-number-of-times' }
			]
		]
	])('%s', (_name, terms, expected) => {
		expect(termsProblems(terms)).toEqual(expected);
	});
});

describe('a price as it was typed', () => {
	const typed: TypedPrice = {
		...{ amount: '12', currency: 'EUR', fee: '', then: 'until-ended', times: '', thenAmount: '' },
		...{ everyCount: '1', everyUnit: 'month', firstCount: '', firstUnit: 'week' }
	};
	const read = (change: Partial<TypedPrice>) => {
		const result = readPrice({ ...typed, ...change });
		return result.ok ? result.terms : result.problem;
	};

	it('asks for the same again where nothing else is said', () => {
		expect(read({})).toEqual(monthly);
	});

	it('is paid once, whatever stands in fields that are not asked', () => {
		expect(read({ then: 'nothing', thenAmount: 'x', everyCount: '', times: '0', firstCount: '-' })).toEqual(
			once
		);
	});

	it('may have another first amount, another first length, a fee and so many payments', () => {
		const all = { amount: '1', thenAmount: '12,00', fee: '5', firstCount: '2', firstUnit: 'week' as const };
		expect(read(all)).toEqual(stretched);
		expect(read({ then: 'times', times: '3', amount: '100', thenAmount: '50' })).toEqual(instalments);
	});

	test.each<[string, Partial<TypedPrice>, unknown]>([
		['what is paid first', { amount: 'twelve' }, { field: 'amount', code: 'not-a-number' }],
		['less than nothing at first', { amount: '-1' }, { field: 'amount', code: 'not-positive' }],
		['nothing at first and each time', { amount: '0' }, { field: 'thenAmount', code: 'not-positive' }],
		['nothing each time', { thenAmount: '0' }, { field: 'thenAmount', code: 'not-positive' }],
		['the fee', { fee: '5.001' }, { field: 'fee', code: 'too-many-decimals' }],
		['each time', { thenAmount: '1000000' }, { field: 'thenAmount', code: 'too-large' }],
		['how many', { then: 'times', times: '0' }, { field: 'times', code: 'not-a-count', most: MOST_TIMES }],
		[
			'how many, as words',
			{ then: 'times', times: 'ten' },
			{ field: 'times', code: 'not-a-count', most: MOST_TIMES }
		],
		['the step', { everyCount: '' }, { field: 'everyCount', code: 'not-a-count', most: MOST_OF_UNIT.month }],
		['a step too long', { everyCount: '61' }, { field: 'everyCount', code: 'not-a-count', most: 60 }],
		[
			'the first stretch',
			{ firstCount: '1.5', firstUnit: 'day' },
			{ field: 'firstCount', code: 'not-a-count', most: 730 }
		]
	])('says what is wrong: %s', (_name, change, expected) => {
		expect(read(change)).toEqual(expected);
	});

	it('may ask for nothing at first, and for nothing at all', () => {
		expect(read({ amount: '0', thenAmount: '12' })).toMatchObject({
			firstMinor: 0,
			then: { amountMinor: 1200 }
		});
		expect(read({ amount: '0.00', then: 'nothing' })).toMatchObject({
			firstMinor: 0,
			then: { kind: 'nothing' }
		});
	});

	it('never reads what its own rules refuse', () => {
		for (const then of ['nothing', 'times', 'until-ended'] as const)
			for (const count of ['1', '10', '60', '104', '120', '730'])
				for (const everyUnit of ['day', 'week', 'month', 'year'] as const) {
					const result = readPrice({ ...typed, then, times: count, everyCount: count, everyUnit });
					if (result.ok) expect(termsProblems(result.terms)).toEqual([]);
				}
	});
});
