import { describe, expect, it, test } from 'vitest';
import { joinedAt, type Origin } from './agreement';
import type { AgreementFact } from './agreement-facts';
import { STEPS, stepsFrom } from './agreement-foreseen';
import { renewingTerms, type Terms } from './terms';

const at = (day: string) => Date.parse(`${day}T10:00:00Z`);
const JOINED = at('2027-01-10');
const monthly = renewingTerms({ minor: 1200, currency: 'EUR' }, { count: 1, unit: 'month' });
const origin = (terms: Terms): Origin => ({
	...{ planId: 'workshop', terms, access: { kind: 'while-paid' } },
	...{ start: JOINED, zone: 'UTC' }
});
const from = (terms: Terms, facts: AgreementFact[] = [], now = at('2027-01-20')) =>
	stepsFrom(origin(terms), joinedAt(JOINED), facts, now);
const day = (instant: number | null | undefined) => instant && new Date(instant).toISOString().slice(0, 10);

describe('what may be wanted of an agreement', () => {
	const cancelled: AgreementFact = { kind: 'cancel', at: at('2027-01-15') };
	const resting: AgreementFact = { kind: 'rest', until: null, at: at('2027-01-15') };
	const instalments: Terms = { ...monthly, then: { ...monthly.then, times: 3 } as Terms['then'] };
	const once: Terms = { ...monthly, then: { kind: 'nothing' } };
	const ROWS: [string, Terms, AgreementFact[], string][] = [
		['one that runs', monthly, [], 'cancel rest rest-1 rest-2 rest-3 rest-6 stop'],
		['one that is cancelled', monthly, [cancelled], 'resume stop'],
		['one that rests', monthly, [resting], 'cancel wake stop'],
		['instalments', instalments, [], 'stop'],
		['what is paid once', once, [], 'stop'],
		['one that has ended', monthly, [{ kind: 'stop', at: at('2027-01-15') }], '']
	];
	test.each(ROWS)('%s', (_, terms, facts, steps) => {
		expect(
			from(terms, facts)
				.map(({ step }) => step)
				.join(' ')
		).toBe(steps);
	});

	it('is foreseen with until when it stays open, and what is asked for next', () => {
		const found = new Map(from(monthly).map((one) => [one.step, one]));
		const said = (step: (typeof STEPS)[number]) => {
			const one = found.get(step);
			return [day(one?.open?.until) ?? null, day(one?.next?.at) ?? null, one?.next?.amountMinor ?? null];
		};
		// By hand: joined on 10 January, so that what is paid ends on 10 February.
		expect(said('cancel')).toEqual(['2027-02-10', null, null]);
		expect(said('rest')).toEqual(['2027-02-10', null, null]);
		expect(said('rest-2')).toEqual(['2027-02-10', '2027-04-10', 1200]);
		expect(found.get('stop')?.open).toBeNull();
	});

	it('goes on from the day on which it is woken, where it was shut by then', () => {
		const [wake] = from(monthly, [resting], at('2027-03-01')).filter(({ step }) => step === 'wake');
		expect([wake?.state.kind, day(wake?.next?.at)]).toEqual(['renewing', '2027-03-01']);
	});
});
