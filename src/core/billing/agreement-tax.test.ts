/** Another tax from a due on: it changes what is paid from then, and neither when nor what was paid before. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runs } from '../../../tests/support/runs';
import { courseOf, joinedAt, type Origin } from './agreement';
import { outlookOf } from './agreement-answers';
import { effectsOf } from './agreement-effects';
import type { AgreementFact } from './agreement-facts';
import { amountAsked, paidThrough, periodStart } from './phases';
import type { TermsTax } from './tax';
import { renewingTerms, taxedTerms, type Terms } from './terms';

const START = Date.parse('2026-01-31T10:00Z');
const at = (day: string) => Date.parse(`${day}T10:00Z`);
const added = (percent: number): TermsTax => ({ way: 'added', rate: percent * 1000 });
const monthly = renewingTerms({ minor: 1000, currency: 'EUR' }, { count: 1, unit: 'month' });
const origin = (terms: Terms): Origin => ({
	...{ planId: 'workshop', terms, access: { kind: 'while-paid' as const } },
	...{ start: START, zone: 'UTC' }
});
const after = (terms: Terms, ...facts: AgreementFact[]) =>
	courseOf(origin(terms), { ...joinedAt(START), paid: [{ period: 0, attempt: 1 }] }, facts);
const over = (period: number, day: string, tax?: TermsTax | null): AgreementFact => ({
	...{ kind: 'period-over', period, at: at(day) },
	...(tax === undefined ? {} : { tax })
});
const paid = (period: number, day: string): AgreementFact => ({
	...{ kind: 'captured', period, attempt: 1, at: at(day) }
});

describe('a due that is taxed otherwise than the one before', () => {
	const terms = taxedTerms(monthly, added(19));

	it('asks for it, and so do those after it; those before it have asked for theirs', () => {
		const { phases } = after(terms, over(0, '2026-02-28', added(25)), paid(1, '2026-02-28'));
		expect([0, 1, 2, 3].map((due) => amountAsked(phases, due))).toEqual([1190, 1250, 1250, 1250]);
	});

	it('falls due when it did: counted from the first day, and not from the change', () => {
		const { phases, zone } = after(terms, over(0, '2026-02-28', added(25)), paid(1, '2026-02-28'));
		const days = [1, 2, 3].map((period) => new Date(periodStart(phases, zone, period) ?? 0).toISOString());
		expect(days.map((day) => day.slice(0, 10))).toEqual(['2026-02-28', '2026-03-31', '2026-04-30']);
		expect(paidThrough(phases, zone, 1)).toBe(at('2026-03-31'));
	});

	it('may be another each time, and none again', () => {
		const course = after(
			terms,
			...[over(0, '2026-02-28', added(25)), paid(1, '2026-02-28')],
			...[over(1, '2026-03-31', null), paid(2, '2026-03-31')],
			...[over(2, '2026-04-30'), paid(3, '2026-04-30')]
		);
		expect([0, 1, 2, 3, 4].map((due) => amountAsked(course.phases, due))).toEqual([
			...[1190, 1250, 1000, 1000, 1000]
		]);
		expect(outlookOf(course).next).toEqual({ at: at('2026-05-31'), amountMinor: 1000 });
	});

	it('may be set for the next due by its member, of which nobody is told as of another price', () => {
		const taxed: AgreementFact = { kind: 'taxed', tax: added(25), at: at('2026-02-10') };
		const [before, turned] = [after(terms), after(terms, taxed)];
		expect([0, 1, 2].map((due) => amountAsked(turned.phases, due))).toEqual([1190, 1250, 1250]);
		expect(effectsOf(before, turned).filter(({ kind }) => kind === 'tell')).toEqual([]);
	});

	it('leaves those after it as they are, where it is heard of late', () => {
		const told = [over(0, '2026-02-28'), paid(1, '2026-02-28'), over(1, '2026-03-31', added(25))];
		const { phases } = after(terms, ...told, paid(2, '2026-03-31'), over(0, '2026-04-01', added(50)));
		expect([1, 2, 3].map((due) => amountAsked(phases, due))).toEqual([1500, 1250, 1250]);
	});

	it('is asked for where a rest is over, and for what goes on from there', () => {
		const rest: AgreementFact = { kind: 'rest', until: at('2026-05-10'), at: at('2026-02-10') };
		const woken: AgreementFact = { kind: 'rest-over', period: 0, at: at('2026-05-10'), tax: added(25) };
		const course = after(terms, rest, woken, paid(1, '2026-05-10'));
		expect([1, 2].map((due) => amountAsked(course.phases, due))).toEqual([1250, 1250]);
		const byHand: AgreementFact = { kind: 'wake', at: at('2026-04-10'), tax: null };
		expect(amountAsked(after(terms, rest, byHand).phases, 1)).toBe(1000);
	});

	it('is kept by what was bought with another plan since, which has its own', () => {
		const turn = { planId: 'journeyman', terms: { ...monthly, tax: added(19) }, access: WHILE_PAID };
		const changed: AgreementFact = { kind: 'changed', at: at('2026-02-10'), ...turn };
		const course = after(terms, changed, over(0, '2026-02-28', added(25)), paid(1, '2026-02-28'));
		expect(course.phases.map(({ planId }) => planId)).toEqual(['workshop', 'journeyman']);
		expect([0, 1, 2].map((due) => amountAsked(course.phases, due))).toEqual([1190, 1250, 1250]);
	});

	const WHILE_PAID = { kind: 'while-paid' as const };

	it('is the same in whatever order what happened is heard of', () => {
		const rates = fc.array(fc.option(fc.integer({ min: 0, max: 30 }), { nil: null }), {
			minLength: 3,
			maxLength: 8
		});
		fc.assert(
			fc.property(rates, fc.integer(), (all, seed) => {
				const months = all.map((percent, n): AgreementFact[] => {
					const day = new Date(periodStart(after(terms).phases, 'UTC', n + 1) ?? 0)
						.toISOString()
						.slice(0, 10);
					return [over(n, day, percent === null ? null : added(percent)), paid(n + 1, day)];
				});
				const facts = months.flat();
				const shuffled = facts
					.map((fact, n) => ({ fact, key: Math.sin(seed + n) }))
					.sort((a, b) => a.key - b.key)
					.map(({ fact }) => fact);
				const [one, other] = [after(terms, ...facts), after(terms, ...shuffled)];
				expect(other.phases).toEqual(one.phases);
				for (const [n, percent] of all.entries())
					expect(amountAsked(one.phases, n + 1)).toBe(1000 + 10 * (percent ?? 0));
			}),
			{ seed: 20_261_203, numRuns: runs(100) }
		);
	});
});
