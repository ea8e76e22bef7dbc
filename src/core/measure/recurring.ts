/**
 * Recurring income: what the agreements that go on until they are ended bring in by the month, without tax.
 *
 * An agreement counts with what its running period is paid with, as for a month, from the moment the period is paid until it is
 * over, unpaid, refunded or paused. Example: 12.00 a month counts 12.00, 120.00 a year counts 10.00; a first stretch of another
 * length counts nothing until the first regular payment. What moves it is kept as steps, so that for any span what it began
 * with and all steps come to what it ended with. The definitions are common practice, no source.
 */
import type { Beginning, Origin } from '../billing/agreement';
import { coursesOf } from '../billing/agreement';
import { throughOf, type Course } from '../billing/agreement-course';
import type { AgreementFact } from '../billing/agreement-facts';
import { periodStart, phaseOf, regularAsked } from '../billing/phases';
import type { Step } from '../billing/terms';
import type { Instant } from '../time/instant';

/**
 * Why it moved. `back`: it paid before, and did not for a while. `lost`: cancelled, run out or paused. `failed`: what was due was
 * not paid. `refunded`: the money went back, or a bank took it.
 */
export const WHYS = ['new', 'back', 'up', 'down', 'lost', 'failed', 'refunded'] as const;
export type Why = (typeof WHYS)[number];

/** Amounts as for a month, in minor units. */
export interface IncomeStep {
	at: Instant;
	/** The plan that it is paid for; where it ended, that it was paid for. */
	planId: string;
	/** The plan that it was paid for before, where that was another one. */
	fromPlanId: string | null;
	currency: string;
	beforeMinor: number;
	afterMinor: number;
	why: Why;
}

/** What it brings in from a moment on; `until`: it ends by itself then. */
interface Level {
	planId: string;
	currency: string;
	minor: number;
	until: Instant | null;
}

/** Days of a month on the mean, in the Gregorian calendar: 146,097 days in 400 years. */
const MONTH_DAYS = 146_097 / 4800;

/** As for a month, rounded to the nearest minor unit. */
export function monthlyMinor(minor: number, { count, unit }: Step): number {
	const months = { day: 1 / MONTH_DAYS, week: 7 / MONTH_DAYS, month: 1, year: 12 }[unit] * count;
	return Math.round(minor / months);
}

/** What of a payment is left without tax; `at`: when the period began that it pays for. */
export type NetOf = (paidMinor: number, at: Instant) => number;

/** All steps of one agreement, those that will come by themselves included. */
export function incomeSteps(
	origin: Origin,
	beginning: Beginning,
	facts: readonly AgreementFact[],
	netOf: NetOf
): IncomeStep[] {
	const steps: IncomeStep[] = [];
	let held: Level | null = null;
	const turn = (at: Instant, next: Level | null, why: Why) => {
		const isSame = held?.minor === next?.minor && held?.planId === next?.planId;
		const of = next ?? held;
		if (of && !isSame)
			steps.push({
				...{ at, planId: of.planId, currency: of.currency, why },
				fromPlanId: held && held.planId !== of.planId ? held.planId : null,
				...{ beforeMinor: held?.minor ?? 0, afterMinor: next?.minor ?? 0 }
			});
		held = next;
	};
	const overBefore = (before: Instant | null) => {
		if (held?.until == null || (before !== null && held.until >= before)) return;
		turn(held.until, null, 'lost');
	};
	for (const { at, course } of coursesOf(origin, beginning, facts)) {
		overBefore(at);
		const next = levelOf(course, at, netOf);
		turn(at, next, whyOf(held, next, course, steps.length > 0));
	}
	overBefore(null);
	return steps;
}

function whyOf(held: Level | null, next: Level | null, { state }: Course, hasBefore: boolean): Why {
	if (held && next) return next.minor < held.minor ? 'down' : 'up';
	if (next) return hasBefore ? 'back' : 'new';
	if (state.kind === 'owing') return 'failed';
	if (state.kind !== 'ended' || state.why === 'cancelled') return 'lost';
	return state.why === 'unpaid' ? 'failed' : 'refunded';
}

/** What an agreement brings in as it is; `null`: nothing. */
function levelOf(course: Course, at: Instant, netOf: NetOf): Level | null {
	const { state, phases } = course;
	switch (state.kind) {
		case 'running':
		case 'ending':
			return paidLevel(course, state.period, netOf);
		case 'renewing':
			// It was asked for a moment ago; after a rest nothing is paid yet.
			return phaseOf(phases, state.period).hasLeeway ? paidLevel(course, state.period - 1, netOf) : null;
		case 'resting':
		case 'finished': {
			const until = throughOf(course, state.period);
			const level = until !== null && until > at ? paidLevel(course, state.period, netOf) : null;
			return level && { ...level, until };
		}
		case 'first':
		case 'owing':
		case 'ended':
			return null;
	}
}

function paidLevel({ phases, zone }: Course, period: number, netOf: NetOf): Level | null {
	const { from, terms, planId: opened, pricedAs } = phaseOf(phases, period);
	// Whoever went down pays what they paid until the next due.
	const planId = pricedAs ?? opened;
	const { then, currency } = terms;
	if (then.kind === 'nothing' || then.times !== null) return null;
	if (period === from && then.firstLasts !== null) return null;
	const asked = regularAsked(phases, period);
	const begun = periodStart(phases, zone, period) ?? phases[0].start;
	const minor = asked === null ? 0 : monthlyMinor(netOf(asked, begun), then.every);
	return minor > 0 ? { planId, currency, minor, until: null } : null;
}
