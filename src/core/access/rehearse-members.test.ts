import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
	after,
	crossing,
	DAY,
	fence,
	grant,
	holders,
	items,
	member,
	plan,
	release,
	resource,
	source
} from '../../../tests/support/access';
import { aMember, aSource, EPOCH } from '../../../tests/support/arbitrary-access';
import { runs } from '../../../tests/support/runs';
import type { Member } from './model';
import { compile } from './policy';
import { difference, openIn, rowsOf } from './rehearse';
import { goesOn, rehearseMember, rehearseMembers, withEnded, withGiven } from './rehearse-members';
import { assuming } from './timeline';

const JOINED = Date.parse('2026-01-01T09:00Z');
const base = source({
	resources: [resource('lesson'), resource('other')],
	plans: [plan('workshop'), plan('patron')],
	fences: [fence('f', items('lesson', 'other'), [crossing(holders('workshop'))])]
});
const wren = member([grant({ from: JOINED })], { id: 'wren' });

describe('a member whose standing changes', () => {
	it('gains and loses what their new first day opens and closes, places that change alike together', () => {
		const dripped = compile({
			...base,
			resources: [...base.resources, resource('third'), resource('free')],
			fences: [fence('f', items('lesson', 'other', 'third'), [crossing(holders('workshop'))])],
			releases: [
				release('workshop', 'lesson', after(2, 'week')),
				release('workshop', 'other', after(2, 'week')),
				release('workshop', 'third', after(1, 'month'))
			]
		});
		const on = (day: number): Member => ({
			...wren,
			tenures: [{ planId: 'workshop', firstJoinedAt: JOINED + day * DAY, isSetByHand: true }]
		});
		const earlier = rehearseMember(dripped, on(0), on(-7), JOINED + 8 * DAY, 'renewals-go-on');
		expect(
			earlier.map(({ kind, at, backAt, placeIds }) => [kind, (at - JOINED) / DAY, backAt, placeIds])
		).toEqual([
			['gains-now', 8, null, ['lesson', 'other']],
			['gains-later', 24, null, ['third']]
		]);
		const later = rehearseMember(dripped, on(-7), on(0), JOINED + 8 * DAY, 'renewals-go-on');
		expect(
			later.map(({ kind, at, backAt, placeIds }) => [
				kind,
				(at - JOINED) / DAY,
				backAt && (backAt - JOINED) / DAY,
				placeIds
			])
		).toEqual([
			['loses-now', 8, 14, ['lesson', 'other']],
			['loses-later', 24, 31, ['third']]
		]);
		expect(rehearseMember(dripped, on(0), on(0), JOINED, 'renewals-go-on')).toEqual([]);
	});

	it('is looked at as the view takes renewals', () => {
		const policy = compile(base);
		const month = grant({ from: JOINED, until: JOINED + 31 * DAY });
		const given = { ...wren, grants: [{ ...month, renews: true }] };
		const look = (assume: 'renewals-go-on' | 'only-what-is-paid') =>
			rehearseMember(policy, { ...wren, grants: [month] }, given, JOINED, assume).map(({ kind }) => kind);
		expect(look('renewals-go-on')).toEqual(['gains-later']);
		expect(look('only-what-is-paid')).toEqual([]);
	});
});

describe('a member who is given a plan', () => {
	const given = (over: Partial<Member>, from = JOINED) =>
		withGiven(member([], over), { planId: 'workshop', from, until: null });
	const day = (firstJoinedAt: number, isSetByHand: boolean) => ({
		tenures: [{ planId: 'workshop', firstJoinedAt, isSetByHand }]
	});

	it('opens what the plan opens, from the day it is given', () => {
		const after = given({});
		expect(rehearseMember(compile(base), member([]), after, JOINED, 'renewals-go-on')).toEqual([
			{ kind: 'gains-now', at: JOINED, backAt: null, placeIds: ['lesson', 'other'] }
		]);
	});

	it('has it beside what they had, by hand, and keeps the days of their other plans', () => {
		const had = grant({ planId: 'patron', from: JOINED - DAY });
		const tenures = [{ planId: 'patron', firstJoinedAt: JOINED - DAY, isSetByHand: true }];
		const after = withGiven(member([had], { id: 'wren', tenures }), {
			planId: 'workshop',
			from: JOINED,
			until: JOINED + DAY
		});
		expect(after.grants).toEqual([
			had,
			{
				id: 'given-workshop-wren',
				planId: 'workshop',
				from: JOINED,
				until: JOINED + DAY,
				revokedAt: null,
				source: 'hand',
				renews: false,
				period: null
			}
		]);
		expect(after.tenures).toEqual([
			...tenures,
			{ planId: 'workshop', firstJoinedAt: JOINED, isSetByHand: false }
		]);
	});

	it('keeps the earliest first day, and one that was set', () => {
		const first = (one: Member) => one.tenures.map(({ firstJoinedAt }) => firstJoinedAt);
		expect(first(given({}))).toEqual([JOINED]);
		expect(first(given(day(JOINED - DAY, false)))).toEqual([JOINED - DAY]);
		expect(first(given(day(JOINED + DAY, false)))).toEqual([JOINED]);
		expect(first(given(day(JOINED + DAY, true)))).toEqual([JOINED + DAY]);
		expect(given(day(JOINED + DAY, true)).tenures[0]?.isSetByHand).toBe(true);
		// Brought in with the day they joined elsewhere: it counts where nothing earlier does.
		const brought = (over: Partial<Member>) =>
			withGiven(member([], over), {
				planId: 'workshop',
				from: JOINED,
				until: null,
				joined: JOINED - 9 * DAY
			});
		expect(first(brought({}))).toEqual([JOINED - 9 * DAY]);
		expect(first(brought(day(JOINED - DAY, false)))).toEqual([JOINED - 9 * DAY]);
		expect(first(brought(day(JOINED - 10 * DAY, false)))).toEqual([JOINED - 10 * DAY]);
		expect(first(brought(day(JOINED - DAY, true)))).toEqual([JOINED - DAY]);
	});
});

describe('a member of whom a grant is ended', () => {
	const [over, running] = [
		grant({ from: JOINED - 9 * DAY, until: JOINED }),
		{ ...grant({ from: JOINED, until: JOINED + 31 * DAY }), id: 'running', renews: true }
	];
	const ended = (now: number, isMeant = () => true) =>
		withEnded(member([over, running]), isMeant, now).grants;

	it('has it to that moment, renewing no more; what was over stays as it was', () => {
		expect(ended(JOINED + DAY)).toEqual([over, { ...running, revokedAt: JOINED + DAY, renews: false }]);
		expect(ended(JOINED + 31 * DAY)).toEqual([over, running]);
		expect(ended(JOINED - DAY)[0]).toEqual({ ...over, revokedAt: JOINED - DAY });
		expect(ended(JOINED + DAY, () => false)).toEqual([over, running]);
		const twice = withEnded({ ...wren, grants: ended(JOINED + DAY) }, () => true, JOINED + 2 * DAY);
		expect(twice.grants).toEqual(ended(JOINED + DAY));
	});

	it.each([
		['before its end', { until: JOINED }, JOINED - 1, true],
		['at its end', { until: JOINED }, JOINED, false],
		['for good', { until: null }, JOINED, true],
		['ended by somebody', { until: null, revokedAt: JOINED + DAY }, JOINED, false]
	])('goes on: %s', (_, over, now, goes) => {
		expect(goesOn(grant({ from: JOINED - DAY, ...over }), now)).toBe(goes);
	});
});

describe('many members whose standings change', () => {
	const policy = compile(base);
	const bare = (id: string) => member([], { id });
	const given = (one: Member): Member => ({ ...one, grants: [grant({ from: JOINED })] });

	it('are counted each, and looked at once where they stand alike', () => {
		const some = ['a', 'b', 'c'].map((id) => ({ before: bare(id), after: given(bare(id)) }));
		const told = rehearseMembers(policy, [...some, { before: wren, after: wren }], JOINED, 'renewals-go-on');
		expect(told.groups.map(({ memberIds }) => memberIds)).toEqual([['a', 'b', 'c'], ['wren']]);
		expect(told.members).toEqual({ 'gains-now': 3, 'loses-now': 0, 'gains-later': 0, 'loses-later': 0 });
		expect(told.effects).toEqual([
			{ kind: 'gains-now', at: JOINED, backAt: null, placeIds: ['lesson', 'other'], group: 0 }
		]);
	});

	it('are kept apart where they stand alike before and not after', () => {
		const told = rehearseMembers(
			policy,
			[
				{ before: bare('a'), after: given(bare('a')) },
				{ before: bare('b'), after: { ...bare('b'), grants: [grant({ from: JOINED + DAY })] } }
			],
			JOINED,
			'renewals-go-on'
		);
		expect(told.effects.map(({ kind, at, group }) => [kind, (at - JOINED) / DAY, group])).toEqual([
			['gains-now', 0, 0],
			['gains-later', 1, 1]
		]);
	});

	it('find at every place what their timelines differ in', () => {
		const pairs = fc.array(fc.tuple(aMember, aMember), { minLength: 1, maxLength: 5 });
		fc.assert(
			fc.property(aSource, pairs, (some, pairs) => {
				const own = compile(some);
				const changed = pairs.map(([before, after], n) => ({
					before: { ...before, id: `m${n}` },
					after: { ...after, id: `m${n}` }
				}));
				const told = rehearseMembers(own, changed, EPOCH, 'renewals-go-on');
				const together = [...rowsOf(told, null)].map(({ memberId, placeId, kind, at, backAt }) =>
					[memberId, placeId, kind, at, backAt].join(' ')
				);
				const apart = changed.flatMap(({ before, after }) =>
					[...own.resources.keys()].flatMap((id) => {
						const [was, is] = [before, after].map((one) => openIn(own, assuming(one, 'renewals-go-on'), id));
						return difference(was ?? [], is ?? [], EPOCH).map(({ kind, at, backAt }) =>
							[before.id, id, kind, at, backAt].join(' ')
						);
					})
				);
				expect(together.sort()).toEqual(apart.sort());
			}),
			{ numRuns: runs(150) }
		);
	});
});
