/** Limits by the hour, the minute and the use, for one grant: the edges of each. */
import { describe, expect, it, test } from 'vitest';
import { DAY, grant, HOUR } from '../../../tests/support/access';
import { heldOf, StepClock } from './clock';
import { timesFrom, timesOfGrant } from './grant-times';
import type { Grant, Use, UseGift } from './model';
import type { PlanWay } from './walk';

const MINUTE = 60_000;
const FROM = Date.parse('2026-01-10T09:00Z');
const clock = new StepClock('UTC', null);
const WAY: PlanWay = {
	planId: 'workshop',
	window: null,
	releaseId: null,
	afterLapse: 'on',
	tenureOf: ['workshop'],
	limits: null
};
const NOTHING = { open: [], used: [], usedByCount: [], over: [], waits: null };

const use = (at: number, over: Partial<Use> = {}): Use => ({ grantId: 'own', at, goesOnUntil: at, ...over });
const gift = (at: number, count: number): UseGift => ({ at, count });

function times(
	over: Partial<Grant>,
	limits: PlanWay['limits'],
	{ uses = [], gifts = [] }: { uses?: Use[]; gifts?: UseGift[] } = {}
) {
	const own = grant({ id: 'own', from: FROM, ...over });
	const held = heldOf([own], [], 1);
	if (!held) throw new Error('nothing is held');
	return timesOfGrant(clock, { ...WAY, limits }, own, held, { uses, gifts });
}

const none = { uses: null, minutes: null, hours: null };
const twice = { ...none, uses: { count: 2, per: 'grant' as const } };
const monthly = { ...none, uses: { count: 1, per: 'period' as const } };

describe('a grant', () => {
	it('is open from its first instant to its end', () => {
		expect(times({ until: FROM + DAY }, null).open).toEqual([{ start: FROM, end: FROM + DAY }]);
		expect(times({}, null).open).toEqual([{ start: FROM, end: null }]);
	});

	it('that ends as it begins opens nothing', () => {
		const own = grant({ from: FROM, until: FROM });
		const held = heldOf([grant({ from: FROM })], [], 1);
		if (!held) throw new Error('nothing is held');
		expect(timesOfGrant(clock, WAY, own, held, { uses: [], gifts: [] })).toEqual(NOTHING);
	});
});

describe('hours', () => {
	it('end it so long after it began, and what comes after is over', () => {
		const found = times({ until: FROM + DAY }, { ...none, hours: 5 });
		expect(found.open).toEqual([{ start: FROM, end: FROM + 5 * HOUR }]);
		expect(found.over).toEqual([{ start: FROM + 5 * HOUR, end: FROM + DAY }]);
	});
});

describe('minutes', () => {
	const limits = { ...none, minutes: 30 };
	it('run from the first use of this grant, and from no other', () => {
		const first = FROM + HOUR;
		expect(times({}, limits).used).toEqual([]);
		expect(times({}, limits, { uses: [use(first), use(first + HOUR)] }).used).toEqual([
			{ start: first + 30 * MINUTE, end: null }
		]);
		expect(times({}, limits, { uses: [use(first, { grantId: 'other' })] }).used).toEqual([]);
		expect(times({}, limits, { uses: [use(FROM - 1)] }).used).toEqual([]);
		expect(times({}, limits, { uses: [use(FROM)] }).used).toEqual([{ start: FROM + 30 * MINUTE, end: null }]);
	});

	it('are used up, and not by the count', () => {
		const found = times({}, limits, { uses: [use(FROM)] });
		expect(found.usedByCount).toEqual([]);
		expect(found.open).toEqual([{ start: FROM, end: FROM + 30 * MINUTE }]);
	});
});

describe('uses', () => {
	it('are used up when the last has ended, however late that is', () => {
		const second = FROM + 2 * HOUR;
		const found = times({}, twice, { uses: [use(FROM), use(second, { goesOnUntil: second + DAY })] });
		expect(found.usedByCount).toEqual([{ start: second + DAY, end: null }]);
		expect(found.used).toEqual(found.usedByCount);
		expect(times({}, twice, { uses: [use(FROM)] }).used).toEqual([]);
	});

	test.each([
		['within the grant', FROM + HOUR, []],
		['at its first instant', FROM, []],
		['before it', FROM - 1, [{ start: FROM + HOUR, end: FROM + DAY }]],
		['at its end', FROM + DAY, [{ start: FROM + HOUR, end: FROM + DAY }]]
	])('that were given %s count accordingly', (_, at, used) => {
		const uses = [use(FROM), use(FROM + HOUR)];
		expect(times({ until: FROM + DAY }, twice, { uses, gifts: [gift(at, 1)] }).used).toEqual(used);
	});

	it('begin anew with each paid period, at its first instant', () => {
		const period = { unit: 'month' as const, count: 1 };
		const [feb, mar] = [Date.parse('2026-02-10T09:00Z'), Date.parse('2026-03-10T09:00Z')];
		const of = (...at: number[]) => times({ period }, monthly, { uses: at.map((one) => use(one)) }).used;
		expect(of(FROM + DAY)).toEqual([{ start: FROM + DAY, end: feb }]);
		expect(of(FROM + DAY, feb)).toEqual([{ start: FROM + DAY, end: mar }]);
		expect(of(FROM + DAY, feb + DAY)).toEqual([
			{ start: FROM + DAY, end: feb },
			{ start: feb + DAY, end: mar }
		]);
		expect(of(feb - 1)).toEqual([{ start: feb - 1, end: feb }]);
		const two = { unit: 'month' as const, count: 2 };
		expect(times({ period: two }, monthly, { uses: [use(FROM + DAY)] }).used).toEqual([
			{ start: FROM + DAY, end: mar }
		]);
		// Nothing is paid by the period: the whole grant is one.
		expect(times({ period: null }, monthly, { uses: [use(FROM + DAY)] }).used).toEqual([
			{ start: FROM + DAY, end: null }
		]);
		expect(times({ period }, twice, { uses: [use(FROM), use(feb)] }).used).toEqual([
			{ start: feb, end: null }
		]);
	});
});

describe('whoever is named', () => {
	it('has a clock of their own, with its limits; anyone has neither', () => {
		const uses = [use(FROM, { grantId: null })];
		const limits = { ...none, uses: { count: 1, per: 'grant' as const } };
		expect(timesFrom(clock, FROM, null, limits, { uses, gifts: [] }).open).toEqual([]);
		const anyone = timesFrom(clock, null, null, limits, { uses, gifts: [] });
		expect(anyone).toMatchObject({ used: [], over: [] });
		expect(anyone.open).toHaveLength(1);
	});
});
