import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { runs } from '../../../tests/support/runs';
import { courseOf, joinedAt, type Origin } from './agreement';
import { answerTo, outlookOf } from './agreement-answers';
import type { Course } from './agreement-course';
import { effectsOf } from './agreement-effects';
import type { AgreementCommand, AgreementFact, AgreementState, Collecting } from './agreement-facts';
import { moveAt } from './move';
import type { PlanAccess } from './plan-access';
import type { Terms, Then } from './terms';

const DAY = 86_400_000;
const at = (text: string) => Date.parse(`${text}T00:00Z`);
const day = (moment: number | null | undefined) =>
	typeof moment === 'number' ? new Date(moment).toISOString().slice(0, 10) : moment;
const START = at('2026-01-01');
const MONTH = { count: 1, unit: 'month' } as const;
const WHILE_PAID: PlanAccess = { kind: 'while-paid' };
const FOR_GOOD: PlanAccess = { kind: 'for-good' };

type More = Partial<Extract<Then, { kind: 'more' }>>;
const termsOf = (more: More | null, firstMinor = 1200): Terms => ({
	...{ currency: 'EUR', firstMinor, feeMinor: 0 },
	then: more
		? { kind: 'more', times: null, amountMinor: 1200, every: MONTH, firstLasts: null, ...more }
		: { kind: 'nothing' }
});
const agreed = (more: More | null, access: PlanAccess = WHILE_PAID): Origin => ({
	...{ planId: 'apprentice', start: START, zone: 'UTC' },
	...{ terms: termsOf(more), access }
});
const course = (origin: Origin, ...facts: AgreementFact[]) => courseOf(origin, joinedAt(START), facts);

/** Each due asked for as it falls due, and paid at once, up to a period. */
function paidTo(origin: Origin, last: number): AgreementFact[] {
	const facts: AgreementFact[] = [];
	for (let period = 1; period <= last; period++) {
		const now = outlookOf(course(origin, ...facts)).next?.at;
		if (now === undefined) throw new Error(`Nothing is due after period ${period - 1}`);
		facts.push({ kind: 'period-over', period: period - 1, at: now });
		facts.push({ kind: 'captured', period, attempt: 1, at: now });
	}
	return facts;
}

/** The state, until when it is open, what is asked for next. */
function said({ state, open, ...rest }: Course): unknown[] {
	const { next } = outlookOf({ state, open, ...rest });
	return [
		state.kind === 'ended' ? state.why : `${state.kind} ${state.period}`,
		open === null ? 'shut' : (day(open.until) ?? 'for good'),
		next && `${next.amountMinor} on ${day(next.at)}`
	];
}

describe('paid once', () => {
	test.each<[string, PlanAccess, string]>([
		['while it is paid, is paid for good', WHILE_PAID, 'for good'],
		['for good', FOR_GOOD, 'for good'],
		['for a length', { kind: 'length', length: { count: 6, unit: 'week' } }, '2026-02-12'],
		['until a date', { kind: 'until', at: at('2026-09-01') }, '2026-09-01']
	])('%s', (_name, access, until) => {
		expect(said(course(agreed(null, access)))).toEqual(['finished 0', until, null]);
		expect(effectsOf(null, course(agreed(null, access)))).toEqual([
			{ kind: 'open-until', until: until === 'for good' ? null : at(until) }
		]);
	});

	it('ends with its money, is shut while it is disputed, and opens again for good', () => {
		const paid = { period: 0, attempt: 1 };
		const disputed: AgreementFact = { kind: 'disputed', at: at('2026-02-01'), ...paid };
		const won: AgreementFact = { kind: 'won', at: at('2026-03-01'), ...paid };
		const refunded: AgreementFact = { kind: 'refunded', at: at('2026-02-01'), ...paid };
		expect(said(course(agreed(null), refunded))).toEqual(['refunded', 'shut', null]);
		expect(said(course(agreed(null), { ...refunded, keepsAccess: true }))).toEqual([
			'finished 0',
			'for good',
			null
		]);
		expect(said(course(agreed(null), disputed))).toEqual(['disputed', 'shut', null]);
		const again = course(agreed(null), disputed, won);
		expect(said(again)).toEqual(['finished 0', 'for good', null]);
		// What was shut meanwhile was: another grant opens from then on.
		expect(effectsOf(course(agreed(null), disputed), again)).toEqual([
			{ kind: 'open-anew', planId: 'apprentice', from: won.at, until: null }
		]);
	});
});

describe('instalments', () => {
	const three = agreed({ times: 3 }, FOR_GOOD);

	it('open while they are paid as agreed, and for good with the last', () => {
		expect([0, 1, 2, 3].map((last) => said(course(three, ...paidTo(three, last))))).toEqual([
			['running 0', '2026-02-08', '1200 on 2026-02-01'],
			['running 1', '2026-03-08', '1200 on 2026-03-01'],
			['running 2', '2026-04-08', '1200 on 2026-04-01'],
			['finished 3', 'for good', null]
		]);
		const [before, after] = [
			course(three, ...paidTo(three, 3).slice(0, -1)),
			course(three, ...paidTo(three, 3))
		];
		expect(effectsOf(before, after)).toEqual([
			{ kind: 'open-until', until: null },
			{ kind: 'tell', message: 'finished' }
		]);
	});

	it('end with what they paid for, where that is what was agreed', () => {
		const origin = agreed({ times: 2 });
		expect(said(course(origin, ...paidTo(origin, 2)))).toEqual(['finished 2', '2026-04-01', null]);
	});

	it('are owed although access has ended by then, and what goes on until it is ended is not', () => {
		const ends: PlanAccess = { kind: 'until', at: at('2026-02-15') };
		const owed = agreed({ times: 3 }, ends);
		expect([1, 2, 3].map((last) => said(course(owed, ...paidTo(owed, last))))).toEqual([
			['running 1', '2026-02-15', '1200 on 2026-03-01'],
			['running 2', '2026-02-15', '1200 on 2026-04-01'],
			['finished 3', '2026-02-15', null]
		]);
		const renewing = agreed({}, ends);
		expect([0, 1].map((last) => said(course(renewing, ...paidTo(renewing, last))))).toEqual([
			['running 0', '2026-02-08', '1200 on 2026-02-01'],
			['finished 1', '2026-02-15', null]
		]);
	});

	it('open for the whole length when the last is paid', () => {
		const origin = agreed({ times: 2 }, { kind: 'length', length: { count: 1, unit: 'year' } });
		expect(said(course(origin, ...paidTo(origin, 2)))).toEqual(['finished 2', '2027-01-01', null]);
	});

	it('are not cancelled and do not rest, and money beyond the last goes back', () => {
		for (const kind of ['cancel', 'rest'] as const) {
			const command: AgreementCommand = kind === 'rest' ? { kind, until: null } : { kind };
			expect(answerTo(course(three), command)).toEqual({ kind: 'refused', why: 'instalments' });
			expect(said(course(three, { at: START + DAY, ...command }))[0]).toBe('running 0');
		}
		const beyond: AgreementFact = { kind: 'captured', period: 4, attempt: 1, at: at('2026-05-01') };
		expect(course(three, ...paidTo(three, 3), beyond).surplus).toEqual([{ period: 4, attempt: 1 }]);
	});

	it('lapse where they stop', () => {
		const tries = [1, 2, 3, 4].map((attempt): AgreementFact => ({
			kind: 'declined',
			period: 1,
			attempt,
			at: at('2026-02-01') + attempt * DAY
		}));
		const over: AgreementFact = { kind: 'period-over', period: 0, at: at('2026-02-01') };
		expect(said(course(three, over, ...tries))).toEqual(['unpaid', 'shut', null]);
	});
});

describe('a first stretch', () => {
	const origin: Origin = {
		...agreed(null),
		terms: termsOf({ firstLasts: { count: 2, unit: 'week' } }, 100)
	};

	it('is of its own length, and what follows is counted from its end', () => {
		expect([0, 1, 2].map((last) => said(course(origin, ...paidTo(origin, last))))).toEqual([
			['first 0', '2026-01-22', '1200 on 2026-01-15'],
			['running 1', '2026-02-22', '1200 on 2026-02-15'],
			['running 2', '2026-03-22', '1200 on 2026-03-15']
		]);
	});

	it('is cancelled and taken back like any other period', () => {
		const cancel: AgreementFact = { kind: 'cancel', at: at('2026-01-05') };
		expect(said(course(origin, cancel))).toEqual(['ending 0', '2026-01-15', null]);
		expect(said(course(origin, cancel, { kind: 'resume', at: at('2026-01-06') }))[0]).toBe('first 0');
	});
});

describe('a rest', () => {
	const origin = agreed({});
	const rest = (until: string | null): AgreementFact => ({
		...{ kind: 'rest', at: at('2026-01-10') },
		until: until === null ? null : at(until)
	});

	it('begins when what is paid has run out, and dues are counted from when it is over', () => {
		const resting = course(origin, rest('2026-03-10'));
		expect(said(resting)).toEqual(['resting 0', '2026-02-01', '1200 on 2026-03-10']);
		const over: AgreementFact = { kind: 'rest-over', period: 0, at: at('2026-03-10') };
		const asking = course(origin, rest('2026-03-10'), over);
		expect([...said(asking), asking.charge]).toEqual([
			...['renewing 1', '2026-02-01', '1200 on 2026-03-10'],
			{ period: 1, attempt: 1 }
		]);
		const paid: AgreementFact = { kind: 'captured', period: 1, attempt: 1, at: at('2026-03-10') };
		const again = course(origin, rest('2026-03-10'), over, paid);
		const later = course(origin, rest('2026-03-10'), over, { ...paid, at: paid.at + 1 });
		expect(said(later)).toEqual(said(again));
		expect(said(again)).toEqual(['running 1', '2026-04-17', '1200 on 2026-04-10']);
		// The weeks in between stay shut.
		expect(effectsOf(asking, again)[0]).toEqual({
			kind: 'open-anew',
			planId: 'apprentice',
			from: at('2026-03-10'),
			until: at('2026-04-17')
		});
	});

	it('is given up before it begins as if it had never been, and whenever somebody wants afterwards', () => {
		const wake = (on: string): AgreementFact => ({ kind: 'wake', at: at(on) });
		expect(said(course(origin, rest(null), wake('2026-01-20')))).toEqual(said(course(origin)));
		expect(said(course(origin, rest(null), wake('2026-05-05')))).toEqual([
			...['renewing 1', '2026-02-01', '1200 on 2026-05-05']
		]);
	});

	it('is for what runs, and for longer than what is paid', () => {
		const answer = (facts: AgreementFact[], until: number | null) => {
			const given = answerTo(course(origin, ...facts), { kind: 'rest', until });
			return given.kind === 'refused' ? given.why : given.kind;
		};
		expect(answer([], at('2026-02-01'))).toBe('too-soon');
		expect(answer([], at('2026-02-01') + 1)).toBe('possible');
		expect(answer([rest(null)], null)).toBe('already-so');
		expect(answer([{ kind: 'cancel', at: START + DAY }], null)).toBe('not-running');
		expect(answer([{ kind: 'stop', at: START + DAY }], null)).toBe('has-ended');
		expect(answerTo(course(origin), { kind: 'wake' })).toEqual({ kind: 'refused', why: 'not-resting' });
	});

	it('is cancelled: what is paid runs out first', () => {
		const cancel = (on: string): AgreementFact => ({ kind: 'cancel', at: at(on) });
		expect(said(course(origin, rest(null), cancel('2026-01-20')))).toEqual(['ending 0', '2026-02-01', null]);
		expect(said(course(origin, rest(null), cancel('2026-03-01')))).toEqual(['cancelled', '2026-02-01', null]);
	});
});

describe('other terms', () => {
	const origin = agreed({});
	const patron = { planId: 'patron', terms: termsOf({ amountMinor: 3000 }, 3000), access: WHILE_PAID };

	it('count from the next due on, and not before', () => {
		const changed: AgreementFact = { kind: 'changed', at: at('2026-01-10'), ...patron };
		expect(said(course(origin, changed))).toEqual(['running 0', '2026-02-08', '3000 on 2026-02-01']);
		const facts = [changed, ...paidTo(origin, 1)];
		expect(said(course(origin, ...facts))).toEqual(['running 1', '2026-03-08', '3000 on 2026-03-01']);
		expect(course(origin, ...facts).open).toEqual({
			...{ planId: 'patron', from: at('2026-02-01'), until: at('2026-03-08') }
		});
	});

	it('are told of when they are agreed to, and when that is taken back; and not when they begin', () => {
		const changed: AgreementFact = { kind: 'changed', at: at('2026-01-10'), ...patron };
		const back: AgreementFact = {
			...changed,
			at: at('2026-01-11'),
			planId: origin.planId,
			terms: origin.terms
		};
		const told = (before: AgreementFact[], now: AgreementFact[]) =>
			effectsOf(course(origin, ...before), course(origin, ...now)).flatMap((effect) =>
				effect.kind === 'tell' ? [effect.message] : []
			);
		expect(told([], [changed])).toEqual(['moves-later']);
		expect(told([changed], [changed, back])).toEqual(['stays']);
		expect(course(origin, changed, back)).toEqual(course(origin));
		expect(told([changed], [changed, ...paidTo(origin, 1)])).toEqual(['renewed']);
	});

	it('agreed to twice before the next due, the last counts', () => {
		const turns: AgreementFact[] = [3000, 2000].map((minor, n) => ({
			...{ kind: 'changed', at: at('2026-01-10') + n, planId: 'apprentice', access: WHILE_PAID },
			terms: termsOf({ amountMinor: minor }, minor)
		}));
		expect(said(course(origin, ...turns))[2]).toBe('2000 on 2026-02-01');
	});

	it('at once, paid for by an order, swap the plan at that moment and count dues from it', () => {
		const moved: AgreementFact = { kind: 'moved', at: at('2026-01-10'), ...patron };
		const [before, after] = [course(origin), course(origin, moved)];
		expect(said(after)).toEqual(['running 1', '2026-02-17', '3000 on 2026-02-10']);
		expect(effectsOf(before, after)).toEqual([
			{ kind: 'shut' },
			{ kind: 'open-anew', planId: 'patron', from: moved.at, until: at('2026-02-17') },
			{ kind: 'schedule', event: { kind: 'period-over', period: 1 }, at: at('2026-02-10') },
			{ kind: 'tell', message: 'moved' }
		]);
		// A renewal that was under way meanwhile is money for nothing.
		const over: AgreementFact = { kind: 'period-over', period: 0, at: at('2026-02-01') };
		const late: AgreementFact = { kind: 'captured', period: 1, attempt: 1, at: at('2026-02-03') };
		const during = course(origin, over, { ...moved, at: at('2026-02-02') }, late);
		expect([...said(during).slice(0, 1), during.surplus]).toEqual(['running 1', [{ period: 1, attempt: 1 }]]);
	});

	it('of a lower plan at once: it opens in place of the other until what is paid is over, and is paid from the next due on', () => {
		const lower = { planId: 'reader', terms: termsOf({ amountMinor: 500 }, 500), access: WHILE_PAID };
		const lowered: AgreementFact = { kind: 'lowered', at: at('2026-02-10'), ...lower };
		const first = paidTo(origin, 1);
		const [before, after] = [course(origin, ...first), course(origin, ...first, lowered)];
		expect(said(after)).toEqual(['running 1', '2026-03-08', '500 on 2026-03-01']);
		expect(after.open).toEqual({ planId: 'reader', from: at('2026-02-10'), until: at('2026-03-08') });
		expect(effectsOf(before, after)).toEqual([
			{ kind: 'shut' },
			{ kind: 'open-anew', planId: 'reader', from: lowered.at, until: at('2026-03-08') },
			{ kind: 'tell', message: 'lowered' }
		]);
		// The renewal is the lower plan's, which goes on without a gap; nothing more is told but that.
		const over: AgreementFact = { kind: 'period-over', period: 1, at: at('2026-03-01') };
		const paid: AgreementFact = { kind: 'captured', period: 2, attempt: 1, at: at('2026-03-01') };
		const renewed = course(origin, ...first, lowered, over, paid);
		expect(said(renewed)).toEqual(['running 2', '2026-04-08', '500 on 2026-04-01']);
		expect(renewed.open).toMatchObject({ planId: 'reader', from: at('2026-02-10') });
		// A refund of what is paid ends it, as it would have.
		const refunded: AgreementFact = { kind: 'refunded', period: 1, attempt: 1, at: at('2026-02-20') };
		expect(said(course(origin, ...first, lowered, refunded))).toEqual(['refunded', 'shut', null]);
	});

	it('of a lower plan within a first stretch keep its end; bought on the 31st, dues stay on the last days', () => {
		const lower = { planId: 'reader', terms: termsOf({ amountMinor: 500 }, 500), access: WHILE_PAID };
		const stretch = agreed({ firstLasts: { count: 2, unit: 'week' } });
		const soon: AgreementFact = { kind: 'lowered', at: at('2026-01-05'), ...lower };
		expect(said(course(stretch, soon))).toEqual(['first 0', '2026-01-22', '500 on 2026-01-15']);
		const on31 = { ...agreed({}), start: at('2026-01-31') };
		const from31 = (...facts: AgreementFact[]) => courseOf(on31, joinedAt(at('2026-01-31')), facts);
		const late: AgreementFact = { kind: 'lowered', at: at('2026-03-10'), ...lower };
		const paid: AgreementFact[] = [
			{ kind: 'period-over', period: 0, at: at('2026-02-28') },
			{ kind: 'captured', period: 1, attempt: 1, at: at('2026-02-28') }
		];
		expect(said(from31(...paid, late))).toEqual(['running 1', '2026-04-07', '500 on 2026-03-31']);
	});

	it('change nothing of what has ended or is all paid', () => {
		const changed: AgreementFact = { kind: 'changed', at: at('2026-01-10'), ...patron };
		expect(said(course(agreed(null), changed))).toEqual(said(course(agreed(null))));
		const stop: AgreementFact = { kind: 'stop', at: at('2026-01-05') };
		for (const kind of ['moved', 'changed', 'lowered'] as const)
			expect(said(course(origin, stop, { ...changed, kind }))).toEqual(['cancelled', 'shut', null]);
	});
});

describe('what is owed', () => {
	const origin = agreed({});
	const owing = (collecting: Collecting, tries: number) => {
		const over: AgreementFact = { kind: 'period-over', period: 0, at: at('2026-02-01'), collecting };
		const declined = Array.from({ length: tries }, (_, n): AgreementFact => ({
			kind: 'declined',
			period: 1,
			attempt: n + 1,
			at: at('2026-02-01') + n * DAY
		}));
		return course(origin, over, ...declined);
	};

	it('is tried on the days that were set when it fell due, and stays open meanwhile', () => {
		const slow = { retryDays: [3, 10], graceDays: 0, isOpenMeanwhile: true };
		expect(said(owing(slow, 1))).toEqual(['owing 1', '2026-02-13', '1200 on 2026-02-04']);
		expect(said(owing(slow, 2))).toEqual(['owing 1', '2026-02-13', '1200 on 2026-02-11']);
		expect(said(owing(slow, 3))).toEqual(['unpaid', 'shut', null]);
	});

	it('shuts at the first decline where access is not kept, and opens anew when it is paid', () => {
		const strict = { retryDays: [3], graceDays: 0, isOpenMeanwhile: false };
		const shut = owing(strict, 1);
		expect(said(shut)).toEqual(['owing 1', 'shut', '1200 on 2026-02-04']);
		const over: AgreementFact = { kind: 'period-over', period: 0, at: at('2026-02-01'), collecting: strict };
		const facts: AgreementFact[] = [
			over,
			{ kind: 'declined', period: 1, attempt: 1, at: at('2026-02-01') },
			{ kind: 'captured', period: 1, attempt: 2, at: at('2026-02-04') }
		];
		expect(effectsOf(shut, course(origin, ...facts))[0]).toEqual({
			...{ kind: 'open-anew', planId: 'apprentice', from: at('2026-02-04'), until: at('2026-03-08') }
		});
	});

	it('lapses at the end of grace, and another card pays it until then', () => {
		const patient = { retryDays: [1], graceDays: 20, isOpenMeanwhile: true };
		const waiting = owing(patient, 2);
		expect([...said(waiting), waiting.due]).toEqual([
			...['owing 1', '2026-02-23', null],
			{ event: { kind: 'grace-over', period: 1 }, at: at('2026-02-21') }
		]);
		const over: AgreementFact = { kind: 'period-over', period: 0, at: at('2026-02-01'), collecting: patient };
		const facts: AgreementFact[] = [
			over,
			{ kind: 'declined', period: 1, attempt: 1, at: at('2026-02-01') },
			{ kind: 'declined', period: 1, attempt: 2, at: at('2026-02-02') }
		];
		const lapse: AgreementFact = { kind: 'grace-over', period: 1, at: at('2026-02-21') };
		const paid: AgreementFact = { kind: 'captured', period: 1, attempt: 9, at: at('2026-02-20') };
		expect(said(course(origin, ...facts, lapse))).toEqual(['unpaid', 'shut', null]);
		expect(said(course(origin, ...facts, paid, lapse))[0]).toBe('running 1');
	});
});

describe('every state and every fact', () => {
	const origin = agreed({});
	const stretched: Origin = { ...origin, terms: termsOf({ firstLasts: { count: 1, unit: 'month' } }) };
	const over = at('2026-02-01');
	const facts = (...known: object[]) => known.map((fact) => fact as AgreementFact);
	const grace = { retryDays: [1], graceDays: 9, isOpenMeanwhile: true };
	/** Of each state one agreement that is in it, at a moment at which period 0 is paid and period 1 perhaps is not. */
	const STATES: Record<string, [Origin, AgreementFact[]]> = {
		first: [stretched, []],
		running: [origin, []],
		renewing: [origin, facts({ kind: 'period-over', period: 0, at: over })],
		owing: [
			origin,
			facts(
				{ kind: 'period-over', period: 0, at: over },
				{ kind: 'declined', period: 1, attempt: 1, at: over }
			)
		],
		'owing, out of tries': [
			origin,
			facts(
				{ kind: 'period-over', period: 0, at: over, collecting: grace },
				{ kind: 'declined', period: 1, attempt: 1, at: over },
				{ kind: 'declined', period: 1, attempt: 2, at: over + 1 }
			)
		],
		ending: [origin, facts({ kind: 'cancel', at: START + DAY })],
		resting: [origin, facts({ kind: 'rest', until: null, at: START + DAY })],
		finished: [agreed(null), []],
		cancelled: [origin, facts({ kind: 'stop', at: START + DAY })],
		disputed: [origin, facts({ kind: 'disputed', period: 0, attempt: 1, at: START + DAY })]
	};
	const turn = { planId: 'patron', terms: termsOf({}), access: WHILE_PAID };
	const FACTS: Record<string, object> = {
		'period over': { kind: 'period-over', period: 0 },
		'try due': { kind: 'retry-due', period: 1, attempt: 2 },
		'grace over': { kind: 'grace-over', period: 1 },
		'rest over': { kind: 'rest-over', period: 0 },
		captured: { kind: 'captured', period: 1, attempt: 1 },
		declined: { kind: 'declined', period: 1, attempt: 1 },
		refunded: { kind: 'refunded', period: 0, attempt: 1 },
		disputed: { kind: 'disputed', period: 0, attempt: 1 },
		won: { kind: 'won', period: 0, attempt: 1 },
		cancel: { kind: 'cancel' },
		stop: { kind: 'stop' },
		resume: { kind: 'resume' },
		rest: { kind: 'rest', until: null },
		wake: { kind: 'wake' },
		moved: { kind: 'moved', ...turn },
		changed: { kind: 'changed', ...turn },
		lowered: { kind: 'lowered', ...turn },
		repriced: { kind: 'repriced', terms: termsOf({}) },
		taxed: { kind: 'taxed', tax: { way: 'added', rate: 19_000 } },
		'period over, taxed otherwise': { kind: 'period-over', period: 7, tax: null }
	};
	const NOW = over + 2 * DAY;
	const name = (state: AgreementState) =>
		state.kind === 'ended' ? state.why : `${state.kind} ${state.period}`;

	/** What each fact makes of each state; what is not named leaves it as it is. */
	const MOVES: Record<string, Record<string, string>> = {
		first: {
			...{ 'period over': 'renewing 1', captured: 'running 1', refunded: 'refunded', disputed: 'disputed' },
			...{ cancel: 'ending 0', stop: 'cancelled', moved: 'running 1' }
		},
		running: {
			...{ 'period over': 'renewing 1', captured: 'running 1', refunded: 'refunded', disputed: 'disputed' },
			...{ cancel: 'ending 0', stop: 'cancelled', rest: 'resting 0', moved: 'running 1' }
		},
		renewing: {
			...{ captured: 'running 1', declined: 'owing 1', refunded: 'refunded', disputed: 'disputed' },
			...{ cancel: 'cancelled', stop: 'cancelled', moved: 'running 1' }
		},
		owing: {
			...{ captured: 'running 1', refunded: 'refunded', disputed: 'disputed' },
			...{ cancel: 'cancelled', stop: 'cancelled', moved: 'running 1' }
		},
		'owing, out of tries': {
			...{ captured: 'running 1', 'grace over': 'unpaid', refunded: 'refunded', disputed: 'disputed' },
			...{ cancel: 'cancelled', stop: 'cancelled', moved: 'running 1' }
		},
		ending: {
			...{ 'period over': 'cancelled', captured: 'running 1', refunded: 'refunded', disputed: 'disputed' },
			...{ stop: 'cancelled', resume: 'running 0', moved: 'running 1' }
		},
		resting: {
			...{ 'rest over': 'renewing 1', wake: 'renewing 1', captured: 'running 1', refunded: 'refunded' },
			...{ disputed: 'disputed', cancel: 'cancelled', stop: 'cancelled', moved: 'running 1' }
		},
		finished: { refunded: 'refunded', disputed: 'disputed', stop: 'cancelled', moved: 'running 1' },
		cancelled: {},
		// What was interrupted had run out by the time it was won.
		disputed: { won: 'renewing 1', stop: 'cancelled' }
	};

	it('is asked of each pair', () => {
		expect(Object.keys(MOVES)).toEqual(Object.keys(STATES));
		for (const moves of Object.values(MOVES))
			expect(Object.keys(FACTS)).toEqual(expect.arrayContaining(Object.keys(moves)));
	});

	test.each(Object.keys(STATES).flatMap((state) => Object.keys(FACTS).map((fact) => [state, fact] as const)))(
		'%s, %s',
		(state, fact) => {
			const [from, known] = STATES[state] ?? [origin, []];
			const before = course(from, ...known);
			const after = course(from, ...known, { ...FACTS[fact], at: NOW } as AgreementFact);
			expect(name(after.state)).toBe(MOVES[state]?.[fact] ?? name(before.state));
			// Whoever is told that it is possible has it.
			const command = FACTS[fact] as AgreementCommand;
			if (['cancel', 'stop', 'resume', 'rest', 'wake'].includes(command.kind)) {
				const isPossible = answerTo(before, command).kind === 'possible';
				expect(isPossible).toBe(JSON.stringify(before.state) !== JSON.stringify(after.state));
			}
		}
	);
});

describe('whatever was agreed, and whatever happens', () => {
	const step = fc.record({
		count: fc.integer({ min: 1, max: 3 }),
		unit: fc.constantFrom('day' as const, 'week' as const, 'month' as const)
	});
	const then = fc.oneof(
		fc.constant({ kind: 'nothing' as const }),
		fc.record({
			kind: fc.constant('more' as const),
			times: fc.option(fc.integer({ min: 1, max: 3 })),
			amountMinor: fc.integer({ min: 1, max: 5000 }),
			every: step,
			firstLasts: fc.option(step)
		})
	);
	const terms = fc.record({
		currency: fc.constant('EUR'),
		firstMinor: fc.integer({ min: 0, max: 5000 }),
		feeMinor: fc.integer({ min: 0, max: 500 }),
		then
	});
	const access = fc.oneof(
		fc.constantFrom(WHILE_PAID, FOR_GOOD),
		fc.record({ kind: fc.constant('length' as const), length: step }),
		fc.record({
			kind: fc.constant('until' as const),
			at: fc.integer({ min: 1, max: 90 }).map((n) => START + n * DAY)
		})
	);
	const planId = fc.constantFrom('apprentice', 'journeyman');
	const moment = fc.integer({ min: 0, max: 150 }).map((n) => START + n * DAY);
	const charge = { period: fc.integer({ min: 0, max: 4 }), attempt: fc.integer({ min: 1, max: 4 }) };
	const fact = fc.oneof(
		fc.record({ at: moment, kind: fc.constant('period-over' as const), period: charge.period }),
		fc.record({
			...{ at: moment, kind: fc.constant('period-over' as const), period: charge.period },
			tax: fc.option(
				fc.record({ way: fc.constantFrom('added', 'taken-out'), rate: fc.constantFrom(19_000, 25_000) })
			)
		}),
		fc.record({ at: moment, kind: fc.constant('repriced' as const), terms }),
		fc.record({
			at: moment,
			kind: fc.constantFrom('grace-over' as const, 'rest-over' as const),
			period: charge.period
		}),
		fc.record({
			at: moment,
			kind: fc.constantFrom('retry-due', 'captured', 'declined', 'refunded', 'disputed', 'won'),
			...charge
		}),
		fc.record({ at: moment, kind: fc.constantFrom('cancel', 'resume', 'stop', 'wake') }),
		fc.record({ at: moment, kind: fc.constant('rest' as const), until: fc.option(moment) }),
		fc.record({ at: moment, kind: fc.constantFrom('moved', 'changed', 'lowered'), planId, terms, access })
	) as fc.Arbitrary<AgreementFact>;

	it('ends in the same in whatever order it is heard of, and what it says holds together', () => {
		fc.assert(
			fc.property(
				terms,
				access,
				planId,
				fc.array(fact, { maxLength: 12 }),
				(agreedTerms, how, plan, known) => {
					const from: Origin = {
						planId: plan,
						start: START,
						zone: 'Europe/Vienna',
						terms: agreedTerms,
						access: how
					};
					const end = course(from, ...known);
					expect(course(from, ...known.toReversed())).toEqual(end);
					// Told twice, it is the same.
					const told = known.filter(({ kind }) => kind === 'captured' || kind === 'disputed');
					expect(course(from, ...known, ...told)).toEqual(end);
					for (const one of end.surplus) expect(end.paid.get(one.period)).not.toEqual(one);
					if (end.open?.until != null) expect(end.open.until).toBeGreaterThanOrEqual(end.open.from);
					if (end.state.kind === 'ended') expect([end.due, end.charge]).toEqual([null, null]);
					if (end.state.kind === 'finished') expect([end.due, outlookOf(end).next]).toEqual([null, null]);
					if (end.disputed.size > 0) expect(end.state.kind).toBe('ended');
					// What opens has been paid for, or is being asked for.
					if (end.state.kind === 'running' || end.state.kind === 'first')
						expect(end.paid.has(end.state.period)).toBe(true);
					expect(effectsOf(end, end)).toEqual([]);
				}
			),
			{ seed: 20_261_129, numRuns: runs(1500) }
		);
	});
});

describe('a first day that all share', () => {
	const BOUGHT = at('2025-12-10');
	const before = (origin: Origin, ...facts: AgreementFact[]) => courseOf(origin, joinedAt(BOUGHT), facts);
	const monthly = agreed({});
	const charge = { period: 0, attempt: 1 };

	test.each<[string, Origin, AgreementFact[], string | null, unknown[]]>([
		[
			'opens on it, and is paid from it on',
			monthly,
			[],
			'2026-01-01',
			['running 0', '2026-02-08', '1200 on 2026-02-01']
		],
		[
			'of what is paid once for a length, which counts from it',
			agreed(null, { kind: 'length', length: { count: 6, unit: 'week' } }),
			[],
			'2026-01-01',
			['finished 0', '2026-02-12', null]
		],
		[
			'is cancelled before it, and stays open for what is paid',
			monthly,
			[{ kind: 'cancel', at: at('2025-12-20') }],
			'2026-01-01',
			['ending 0', '2026-02-01', null]
		],
		[
			'is paused and goes on before it as if nothing had been',
			monthly,
			[
				{ kind: 'rest', until: null, at: at('2025-12-20') },
				{ kind: 'wake', at: at('2025-12-22') }
			],
			'2026-01-01',
			['running 0', '2026-02-08', '1200 on 2026-02-01']
		],
		[
			'is disputed and won before it',
			monthly,
			[
				{ kind: 'disputed', ...charge, at: at('2025-12-20') },
				{ kind: 'won', ...charge, at: at('2025-12-22') }
			],
			'2026-01-01',
			['running 0', '2026-02-08', '1200 on 2026-02-01']
		],
		[
			'is disputed before it and won after it',
			monthly,
			[
				{ kind: 'disputed', ...charge, at: at('2025-12-20') },
				{ kind: 'won', ...charge, at: at('2026-01-05') }
			],
			'2026-01-05',
			['running 0', '2026-02-08', '1200 on 2026-02-01']
		],
		[
			'is refunded before it, and never opens',
			monthly,
			[{ kind: 'refunded', ...charge, at: at('2025-12-20') }],
			null,
			['refunded', 'shut', null]
		],
		[
			'after everything has ended opens nothing',
			agreed(null, { kind: 'until', at: at('2025-12-31') }),
			[],
			null,
			['finished 0', 'shut', null]
		]
	])('%s', (_, origin, facts, from, expected) => {
		const course = before(origin, ...facts);
		expect(said(course)).toEqual(expected);
		expect(course.open ? day(course.open.from) : null).toBe(from);
	});

	it('shuts the grant that was written with what opens nothing', () => {
		const over = agreed(null, { kind: 'until', at: at('2025-12-31') });
		expect(effectsOf(null, before(over))).toEqual([{ kind: 'shut' }]);
	});

	it('is waited for before anything is moved', () => {
		const target = {
			planId: 'patron',
			rung: 2,
			terms: termsOf({ amountMinor: 3000 }, 3000),
			access: WHILE_PAID
		};
		const standing = { rung: 1, paidMinor: 1200 };
		const answer = (now: number) => moveAt(before(monthly), standing, target, 'UTC', now);
		expect(answer(START - 1)).toEqual({ kind: 'refused', why: 'not-begun' });
		expect(answer(START)).toMatchObject({ kind: 'now', creditMinor: 1200, asksMinor: 1800 });
	});

	it('is never before what is open, whatever happens, and in whichever order it is heard', () => {
		const moment = fc.integer({ min: 0, max: 120 }).map((n) => BOUGHT + n * DAY);
		const tries = { period: fc.integer({ min: 0, max: 2 }), attempt: fc.integer({ min: 1, max: 3 }) };
		const fact = fc.oneof(
			fc.record({ at: moment, kind: fc.constant('period-over' as const), period: tries.period }),
			fc.record({
				at: moment,
				kind: fc.constantFrom('captured' as const, 'refunded' as const, 'disputed' as const, 'won' as const),
				...tries
			}),
			fc.record({ at: moment, kind: fc.constantFrom('cancel' as const, 'resume' as const, 'wake' as const) }),
			fc.record({ at: moment, kind: fc.constant('rest' as const), until: fc.constant(null) })
		);
		const seen = { opened: 0 };
		fc.assert(
			fc.property(fc.array(fact, { maxLength: 9 }), (facts) => {
				const course = before(monthly, ...facts);
				expect(course).toEqual(before(monthly, ...facts.toReversed()));
				if (course.open === null) return;
				seen.opened++;
				expect(course.open.from).toBeGreaterThanOrEqual(START);
			}),
			{ seed: 20_261_129, numRuns: runs(1000) }
		);
		expect(seen.opened).toBeGreaterThan(0);
	});
});
