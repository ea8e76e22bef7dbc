/** Another price for whoever has bought already. */
import { describe, expect, it, test } from 'vitest';
import { courseOf, joinedAt, mayReprice } from './agreement';
import { effectsOf } from './agreement-effects';
import type { AgreementFact } from './agreement-facts';
import { amountAsked, periodStart } from './phases';
import { renewingTerms, type Terms } from './terms';

const START = Date.parse('2026-01-31T10:00Z');
const at = (day: string) => Date.parse(`${day}T10:00Z`);
const monthly = (minor: number) => renewingTerms({ minor, currency: 'EUR' }, { count: 1, unit: 'month' });
const course = (terms: Terms, ...facts: AgreementFact[]) =>
	courseOf(
		{ planId: 'p', terms, access: { kind: 'while-paid' }, start: START, zone: 'UTC' },
		{ ...joinedAt(START), paid: [{ period: 0, attempt: 1 }] },
		facts
	);
const repriced = (terms: Terms, day = '2026-02-10'): AgreementFact => ({
	kind: 'repriced',
	terms,
	at: at(day)
});
const renewed = (period: number, day: string): AgreementFact[] => [
	{ kind: 'period-over', period: period - 1, at: at(day) },
	{ kind: 'captured', period, attempt: 1, at: at(day) }
];
const asked = (terms: Terms, ...facts: AgreementFact[]) => {
	const { phases } = course(terms, ...facts);
	return [0, 1, 2, 3].map((due) => amountAsked(phases, due));
};

describe('another price', () => {
	it('counts from the next due on, and is due on the days on which the one before was', () => {
		expect(asked(monthly(900), repriced(monthly(1000)))).toEqual([900, 1000, 1000, 1000]);
		const { phases, zone } = course(monthly(900), repriced(monthly(1000)), ...renewed(1, '2026-02-28'));
		const days = [1, 2, 3].map((due) =>
			new Date(periodStart(phases, zone, due) ?? 0).toISOString().slice(0, 10)
		);
		expect(days).toEqual(['2026-02-28', '2026-03-31', '2026-04-30']);
	});

	it('may change again, and its last counts', () => {
		const facts = [repriced(monthly(1000)), repriced(monthly(1100), '2026-02-20')];
		expect(asked(monthly(900), ...facts)).toEqual([900, 1100, 1100, 1100]);
		const later = [...facts, ...renewed(1, '2026-02-28'), repriced(monthly(1200), '2026-03-10')];
		expect(asked(monthly(900), ...later)).toEqual([900, 1100, 1200, 1200]);
	});

	it('may come in another rhythm, counted from its first due', () => {
		const weekly = renewingTerms({ minor: 300, currency: 'EUR' }, { count: 1, unit: 'week' });
		const { phases, zone } = course(monthly(900), repriced(weekly));
		expect(
			[1, 2].map((due) => new Date(periodStart(phases, zone, due) ?? 0).toISOString().slice(0, 10))
		).toEqual(['2026-02-28', '2026-03-07']);
	});

	it('leaves what is taken off still, and the tax that was agreed to', () => {
		const terms: Terms = {
			...monthly(1000),
			discount: { off: { kind: 'percent', percent: 50 }, payments: 2 },
			tax: { way: 'added', rate: 20_000 }
		};
		// By hand: half of 10.00 and 2.00 off the first two, each with a fifth on top.
		expect(asked(terms, repriced(monthly(2000)))).toEqual([600, 1200, 2400, 2400]);
	});

	it('is asked for after a first stretch as for whoever joins, without the stretch and the fee', () => {
		const stretch = { count: 2, unit: 'week' as const };
		const withStretch = (minor: number): Terms => {
			const { then, ...rest } = monthly(minor);
			if (then.kind !== 'more') throw new Error('it goes on');
			return { ...rest, firstMinor: 100, feeMinor: 500, then: { ...then, firstLasts: stretch } };
		};
		const facts = [repriced(withStretch(1000), '2026-02-02'), ...renewed(1, '2026-02-14')];
		expect(asked(withStretch(900), ...facts)).toEqual([600, 1000, 1000, 1000]);
		const { phases, zone } = course(withStretch(900), ...facts);
		expect(
			[1, 2].map((due) => new Date(periodStart(phases, zone, due) ?? 0).toISOString().slice(0, 10))
		).toEqual(['2026-02-14', '2026-03-14']);
	});

	const then = { kind: 'more' as const, amountMinor: 900, every: { count: 1, unit: 'month' as const } };
	test.each<[string, Terms, Terms, AgreementFact[]]>([
		['the same', monthly(900), monthly(900), []],
		['in another currency', monthly(900), { ...monthly(1000), currency: 'USD' }, []],
		['that is paid once', monthly(900), { ...monthly(1000), then: { kind: 'nothing' } }, []],
		['of instalments', { ...monthly(900), then: { ...then, times: 3, firstLasts: null } }, monthly(1000), []],
		['of what is cancelled', monthly(900), monthly(1000), [{ kind: 'cancel', at: at('2026-02-05') }]],
		['of what rests', monthly(900), monthly(1000), [{ kind: 'rest', until: null, at: at('2026-02-05') }]],
		[
			'of what is to move',
			monthly(900),
			monthly(1000),
			[
				{
					...{ kind: 'changed', planId: 'q', terms: monthly(500), access: { kind: 'while-paid' } },
					at: at('2026-02-05')
				}
			]
		]
	])('%s changes nothing', (_name, terms, price, before) => {
		expect(course(terms, ...before, repriced(price)).phases).toEqual(course(terms, ...before).phases);
	});

	it('is said to its member once, and is no move', () => {
		const [before, after] = [course(monthly(900)), course(monthly(900), repriced(monthly(1000)))];
		const told = effectsOf(before, after).filter(({ kind }) => kind === 'tell');
		expect(told).toEqual([{ kind: 'tell', message: 'price-changes' }]);
		expect(mayReprice(after)).toBe(true);
	});
});
