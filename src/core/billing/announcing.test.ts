import { describe, expect, it, test } from 'vitest';
import { courseOf, joinedAt } from './agreement';
import type { AgreementFact } from './agreement-facts';
import { effectsOf } from './agreement-effects';
import { announcementOf } from './announcing';
import { renewingTerms, type Terms } from './terms';

const START = Date.parse('2026-03-01T10:00Z');
const at = (day: string) => Date.parse(`${day}T10:00Z`);
const price = (minor: number, count: number, unit: 'day' | 'week' | 'month' | 'year') =>
	renewingTerms({ minor, currency: 'EUR' }, { count, unit });
const stretch = (firstMinor: number, days: number): Terms => {
	const { then, ...rest } = price(1200, 1, 'month');
	if (then.kind !== 'more') throw new Error('it goes on');
	return { ...rest, firstMinor, then: { ...then, firstLasts: { count: days, unit: 'day' } } };
};
const discounted: Terms = {
	...price(1200, 1, 'month'),
	discount: { off: { kind: 'percent', percent: 50 }, payments: 2 }
};
const course = (terms: Terms, ...facts: AgreementFact[]) =>
	courseOf(
		{ planId: 'p', terms, access: { kind: 'while-paid' }, start: START, zone: 'UTC' },
		{ ...joinedAt(START), paid: [{ period: 0, attempt: 1 }] },
		facts
	);
const said = (terms: Terms, ...facts: AgreementFact[]) => {
	const found = announcementOf(course(terms, ...facts));
	return found && `${new Date(found.at).toISOString().slice(0, 13)} ${found.amountMinor}`;
};
const renewed = (period: number, day: string): AgreementFact[] => [
	{ kind: 'period-over', period: period - 1, at: at(day) },
	{ kind: 'captured', period, attempt: 1, at: at(day) }
];

describe('a payment to come', () => {
	// By hand: two weeks before 1 March; a week before 31 March; a third of six days before 7 March.
	test.each([
		['a year ahead', price(9000, 1, 'year'), '2027-02-15T10 9000'],
		['half a year ahead', price(5000, 6, 'month'), '2026-08-18T10 5000'],
		['a month ahead', price(1200, 1, 'month'), null],
		['after a month for nothing', stretch(0, 30), '2026-03-24T10 1200'],
		['after six days for less', stretch(100, 6), '2026-03-05T10 1200'],
		['after a first stretch for more', stretch(5000, 30), null],
		['while something is taken off still', discounted, null],
		['once, and never again', { ...price(1200, 1, 'month'), then: { kind: 'nothing' as const } }, null]
	])('is announced or not: %s', (_name, terms, expected) => {
		expect(said(terms)).toBe(expected);
	});

	it('is announced when nothing is taken off any more', () => {
		expect(said(discounted, ...renewed(1, '2026-04-01'))).toBe('2026-04-24T10 1200');
		expect(said(discounted, ...renewed(1, '2026-04-01'), ...renewed(2, '2026-05-01'))).toBeNull();
	});

	it('has its fee at joining in no comparison', () => {
		expect(said({ ...price(1200, 1, 'month'), feeMinor: 500 })).toBeNull();
		expect(said({ ...stretch(0, 30), feeMinor: 5000 })).toBe('2026-03-24T10 1200');
	});

	it('is announced no more once it is cancelled, and again when that is taken back', () => {
		const cancel: AgreementFact = { kind: 'cancel', at: at('2026-05-01') };
		expect(said(price(9000, 1, 'year'), cancel)).toBeNull();
		expect(said(price(9000, 1, 'year'), cancel, { kind: 'resume', at: at('2026-05-02') })).toBe(
			'2027-02-15T10 9000'
		);
	});

	it('is an effect once for each period', () => {
		const [first, second] = [
			course(price(9000, 1, 'year')),
			course(price(9000, 1, 'year'), ...renewed(1, '2027-03-01'))
		];
		const announced = (before: typeof first | null, after: typeof first) =>
			effectsOf(before, after).filter(({ kind }) => kind === 'announce');
		expect(announced(null, first)).toEqual([{ kind: 'announce', period: 1, at: at('2027-02-15') }]);
		expect(announced(first, first)).toEqual([]);
		expect(announced(first, second)).toEqual([{ kind: 'announce', period: 2, at: at('2028-02-16') }]);
	});
});
