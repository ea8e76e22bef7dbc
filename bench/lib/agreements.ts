/** Agreements that live through a year in the core alone: what is charged is answered at once, and now and then declined. */
import { courseOf, courseWith, joinedAt, type Origin } from '../../src/core/billing/agreement';
import type { AgreementFact } from '../../src/core/billing/agreement-facts';
import { effectsOf } from '../../src/core/billing/agreement-effects';
import { renewingTerms, type Terms } from '../../src/core/billing/terms';
import { seeded } from './report';

const DAY = 86_400_000;
const YEAR = 365 * DAY;
const START = Date.parse('2026-01-01T09:00Z');
const PRICE = { minor: 1200, currency: 'EUR' };
const monthly = renewingTerms(PRICE, { count: 1, unit: 'month' });

/** Of a hundred agreements: so many by the month, the week, the year, in three instalments, and paid once. */
const MIX: readonly [share: number, terms: Terms][] = [
	[70, monthly],
	[75, renewingTerms(PRICE, { count: 1, unit: 'week' })],
	[85, renewingTerms(PRICE, { count: 1, unit: 'year' })],
	[95, { ...monthly, then: { ...monthly.then, times: 2 } as Terms['then'] }],
	[100, { ...monthly, then: { kind: 'nothing' } }]
];

/** Lives `count` agreements through a year; gives how many facts were heard. */
export function liveThroughYear(count: number): number {
	const pick = seeded(7);
	let heard = 0;
	for (let n = 0; n < count; n++) {
		const share = n % 100;
		const terms = MIX.find(([below]) => share < below)?.[1] ?? monthly;
		heard += live(terms, START + pick(30 * DAY), pick);
	}
	return heard;
}

function live(terms: Terms, start: number, pick: (below: number) => number): number {
	const origin: Origin = {
		...{ planId: 'workshop', terms, access: { kind: 'while-paid' } },
		...{ start, zone: 'Europe/Vienna' }
	};
	const beginning = joinedAt(start);
	const facts: AgreementFact[] = [];
	const cancelsAt = pick(10) === 0 ? start + pick(365) * DAY : Infinity;
	let course = courseOf(origin, beginning, facts);
	const hear = (fact: AgreementFact) => {
		const next = courseWith(origin, beginning, facts, course, fact);
		facts.push(fact);
		effectsOf(course, next);
		course = next;
	};
	let hasCancelled = false;
	while (course.state.kind !== 'ended') {
		const { charge, due } = course;
		if (charge) {
			const at = facts.at(-1)?.at ?? start;
			hear({ kind: pick(20) === 0 ? 'declined' : 'captured', ...charge, at: at + 1000 });
			continue;
		}
		const at = due?.at ?? Infinity;
		if (!hasCancelled && cancelsAt < Math.min(at, start + YEAR)) {
			hasCancelled = true;
			hear({ kind: 'cancel', at: cancelsAt });
			continue;
		}
		if (!due || at > start + YEAR) break;
		hear({ ...due.event, at });
	}
	return facts.length;
}
