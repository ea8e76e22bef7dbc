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
import { aMember, aSource, EPOCH, someNamings } from '../../../tests/support/arbitrary-access';
import { decide } from './decide/decide';
import { deltaBetween } from './delta';
import type { Crossing, Member, Naming } from './model';
import { membersNamedIn, namedAnew, namingChanges } from './namings';
import { compile } from './policy';
import { withGiven } from './rehearse-members';
import {
	becoming,
	changesNothing,
	groupByStanding,
	rehearse,
	rehearsing,
	rowsOf,
	type Group
} from './rehearse';
import { assuming } from './timeline';
import { runs } from '../../../tests/support/runs';

const JOINED = Date.parse('2026-01-01T09:00Z');
const base = source({
	resources: [resource('lesson'), resource('other')],
	plans: [plan('workshop'), plan('patron')],
	fences: [fence('f', items('lesson', 'other'), [crossing(holders('workshop'))])]
});
const wren = member([grant({ from: JOINED })], { id: 'wren' });
const jasper = member([grant({ from: JOINED })], { id: 'jasper' });
const linnea = member([grant({ planId: 'patron', from: JOINED })], { id: 'linnea' });
const run = (before: typeof base, afterwards: typeof base, from = JOINED + 10 * DAY) => {
	const policies = { before: compile(before), after: compile(afterwards) };
	return rehearse({
		...policies,
		groups: groupByStanding([wren, jasper, linnea], new Set()),
		from,
		assume: 'renewals-go-on'
	});
};

describe('a rehearsal', () => {
	it('says who gains and who loses, members of equal standing at once', () => {
		const moved = { ...base, fences: [fence('f', items('lesson', 'other'), [crossing(holders('patron'))])] };
		const result = run(base, moved);
		expect(result.members).toEqual({ 'gains-now': 1, 'loses-now': 2, 'gains-later': 0, 'loses-later': 0 });
		expect(result.groups).toHaveLength(2);
		expect([...rowsOf(result, 'loses-now')].map(({ memberId, placeId }) => `${memberId} ${placeId}`)).toEqual(
			['wren lesson', 'wren other', 'jasper lesson', 'jasper other']
		);
		expect(result.outsiders.map(({ who, kind }) => ({ ...who, does: kind }))).toEqual([
			{ kind: 'joins', planId: 'workshop', does: 'loses-now' },
			{ kind: 'joins', planId: 'patron', does: 'gains-now' }
		]);
	});

	it('says what every new account would be given, and nothing of members, who are given nothing', () => {
		const given = { since: JOINED, access: { kind: 'for-good' as const } };
		const giving = { ...base, plans: [{ ...plan('workshop'), given }, plan('patron')] };
		const [lines, other] = [run(base, giving), run(giving, base)];
		const said = ({ outsiders }: typeof lines) =>
			outsiders.map(({ who, kind, placeIds }) => [who.kind, kind, ...placeIds]);
		expect([said(lines), lines.effects]).toEqual([[['signs-up', 'gains-now', 'lesson', 'other']], []]);
		expect([said(other), other.effects]).toEqual([[['signs-up', 'loses-now', 'lesson', 'other']], []]);
		// Whoever signs up finds a fence changed by what they are given, too.
		const shut = { ...giving, fences: [fence('f', items('lesson'), [crossing(holders('workshop'))])] };
		expect(said(run(giving, shut))).toContainEqual(['signs-up', 'loses-now', 'other']);
		// Only from its first day on.
		const later = { ...given, since: JOINED + 20 * DAY };
		expect(
			said(run(base, { ...base, plans: [{ ...plan('workshop'), given: later }, plan('patron')] }))
		).toEqual([]);
	});

	it('spares those whom the same change gives what lets them in', () => {
		const open = {
			...base,
			resources: base.resources.map((one) => ({ ...one, base: 'open' as const })),
			fences: []
		};
		const kept = fence('kept', items('lesson'), [crossing(holders('kept'))], { mode: 'adds' });
		const shut = { ...base, plans: [...base.plans, plan('kept')], fences: [kept] };
		const from = JOINED + 10 * DAY;
		const groups = becoming(
			groupByStanding([wren, jasper, linnea], new Set()),
			new Set(['wren', 'linnea']),
			(one) => withGiven(one, { planId: 'kept', from, until: null })
		);
		const ask = { before: compile(open), after: compile(shut), from, assume: 'renewals-go-on' as const };
		const result = rehearse({ ...ask, groups });
		expect(
			[...rowsOf(result, 'loses-now')].map(({ memberId, placeId }) => `${memberId} ${placeId}`).sort()
		).toEqual(['jasper lesson', 'jasper other', 'linnea other', 'wren other']);
	});

	it('says nothing of what a plan opens that the change makes', () => {
		const opening = fence('own', items('lesson'), [crossing(holders('alone'))], { mode: 'adds' });
		const made = { ...base, plans: [...base.plans, plan('alone')], fences: [opening, ...base.fences] };
		expect(changesNothing(run(base, made))).toBe(true);
		const without = { ...base, fences: [opening, ...base.fences] };
		const known = { ...without, plans: made.plans };
		expect(changesNothing(run({ ...base, plans: made.plans }, known))).toBe(false);
	});

	it('shows who will wait when a release moves from week 3 to week 8', () => {
		const at = (weeks: number) => ({
			...base,
			releases: [release('workshop', 'lesson', after(weeks, 'week'))]
		});
		const result = run(at(3), at(8));
		expect(result.members['loses-later']).toBe(2);
		expect(result.effects[0]).toMatchObject({
			kind: 'loses-later',
			at: JOINED + 21 * DAY,
			backAt: JOINED + 56 * DAY,
			placeIds: ['lesson']
		});
		expect(result.outsiders).toHaveLength(1);
	});

	const strangersOf = ({ outsiders }: ReturnType<typeof run>) =>
		outsiders.flatMap(({ who, kind, placeIds }) => (who.kind === 'stranger' ? [{ kind, placeIds }] : []));

	it('names addresses that no item has: a fence on everything closes the front page, too', () => {
		const only = (...crossings: ReturnType<typeof crossing>[]) => ({
			...base,
			fences: [...base.fences, fence('all', { kind: 'everything' }, crossings)]
		});
		const look = (before: typeof base, afterwards: typeof base) =>
			rehearse({
				before: compile(before),
				after: compile(afterwards),
				groups: groupByStanding([wren, linnea], new Set()),
				from: JOINED + DAY,
				assume: 'renewals-go-on',
				addresses: ['/', '/tags/brass']
			});
		const lists = ['/', '/tags/brass'];
		const closed = look(base, only());
		expect(strangersOf(closed)).toEqual([{ kind: 'loses-now', placeIds: lists }]);
		expect(closed.members['loses-now']).toBe(2);
		expect(strangersOf(look(only(), base))).toEqual([{ kind: 'gains-now', placeIds: lists }]);
		const forWorkshop = look(base, only(crossing(holders('workshop'))));
		expect([...rowsOf(forWorkshop, 'loses-now')].map(({ memberId, placeId }) => [memberId, placeId])).toEqual(
			lists.map((path) => ['linnea', path])
		);
		expect(changesNothing(closed)).toBe(false);
		expect(changesNothing(look(base, base))).toBe(true);
	});

	it('finds nothing where only words change', () => {
		const renamed = {
			...base,
			fences: base.fences.map((f) => ({ ...f, name: 'Other', listing: 'left-out' as const }))
		};
		expect(changesNothing(run(base, renamed))).toBe(true);
	});

	it('says what becomes public, and what is closed to the public', () => {
		const open = { ...base, fences: [fence('f', items('lesson'), [crossing({ kind: 'anyone' })])] };
		expect(strangersOf(run(base, open))).toEqual([{ kind: 'gains-now', placeIds: ['lesson'] }]);
		expect(strangersOf(run(open, base))).toEqual([{ kind: 'loses-now', placeIds: ['lesson'] }]);
	});

	const NOW = JOINED + 10 * DAY;
	const crossedBy = (audience: Crossing['audience'], over: Partial<Crossing> = {}) => ({
		...base,
		fences: [fence('f', items('lesson', 'other'), [crossing(holders('workshop')), crossing(audience, over)])]
	});

	it('says what becomes public later, and when', () => {
		const at = NOW + 30 * DAY;
		const later = crossedBy(
			{ kind: 'anyone' },
			{ window: { opens: { kind: 'on', at }, closes: { kind: 'never' } } }
		);
		expect(run(base, later).outsiders[0]).toMatchObject({
			who: { kind: 'stranger' },
			kind: 'gains-later',
			at,
			placeIds: ['lesson', 'other']
		});
	});

	it('says of a plan or a code only what does not happen to anyone, or to whoever signs up', () => {
		const named = (result: ReturnType<typeof run>) =>
			result.outsiders.map(({ who, kind }) => `${who.kind} ${kind}`);
		expect(named(run(base, crossedBy({ kind: 'anyone' })))).toEqual(['stranger gains-now']);
		expect(named(run(base, crossedBy({ kind: 'signed-in' })))).toEqual(['signs-up gains-now']);
		expect(named(run(base, crossedBy({ kind: 'code', batchId: 'fair' })))).toEqual(['redeems gains-now']);
		expect(named(run(crossedBy({ kind: 'code', batchId: 'fair' }), base))).toEqual(['redeems loses-now']);
	});

	it('counts devices without an account that hold a code, apart from members', () => {
		const device = (days: number): Group => ({
			viewer: { kind: 'stranger', redemptions: [{ batchId: 'fair', at: NOW - days * DAY }], grants: [] },
			memberIds: [],
			devices: 3
		});
		const forWeek = {
			opens: { kind: 'at-once' },
			closes: { kind: 'after', count: 1, unit: 'week' }
		} as const;
		const result = rehearse({
			before: compile(crossedBy({ kind: 'code', batchId: 'fair' }, { window: forWeek })),
			after: compile(base),
			groups: [device(3), device(8), ...groupByStanding([linnea], new Set())],
			from: NOW,
			assume: 'renewals-go-on'
		});
		expect(result.devices['loses-now']).toBe(3);
		expect(result.members['loses-now']).toBe(0);
	});

	it('finds what only shows in the clock: after a lapse, at the hour of release, in the zone, by the least lapse', () => {
		const dripped = {
			...base,
			zone: 'Europe/Vienna',
			releases: [release('workshop', 'lesson', after(3, 'week'))]
		};
		const came = member([
			grant({ from: JOINED, until: JOINED + 5 * DAY }),
			grant({ id: 'g2', from: JOINED + 9 * DAY })
		]);
		const look = (over: Partial<typeof base>) =>
			rehearse({
				before: compile(dripped),
				after: compile({ ...dripped, ...over }),
				groups: groupByStanding([came], new Set()),
				from: JOINED + 10 * DAY,
				assume: 'renewals-go-on'
			}).effects.map(({ kind }) => kind);
		const plans = (afterLapse: 'stand-still' | 'anew') => [plan('workshop', { afterLapse }), plan('patron')];
		expect(look({})).toEqual([]);
		expect(look({ plans: plans('stand-still') })).toEqual(['loses-later']);
		expect(look({ plans: plans('anew') })).toEqual(['loses-later']);
		expect(look({ releaseHour: 6 })).toEqual(['gains-later']);
		expect(look({ releaseHour: 20 })).toEqual(['loses-later']);
		// Summer time has begun in one of the zones by then, and not in the other.
		const spring = { ...dripped, releases: [release('workshop', 'lesson', after(13, 'week'))] };
		const moved = rehearse({
			before: compile(spring),
			after: compile({ ...spring, zone: 'UTC' }),
			groups: groupByStanding([came], new Set()),
			from: JOINED + 10 * DAY,
			assume: 'renewals-go-on'
		});
		expect(moved.effects.map(({ kind }) => kind)).toEqual(['loses-later']);
		const still = { ...dripped, plans: plans('stand-still') };
		const longer = rehearse({
			before: compile(still),
			after: compile({ ...still, lapseAfterDays: 5 }),
			groups: groupByStanding([came], new Set()),
			from: JOINED + 10 * DAY,
			assume: 'renewals-go-on'
		});
		expect(longer.effects.map(({ kind }) => kind)).toEqual(['gains-later']);
	});

	it('looks at whoever joins tomorrow from tomorrow on', () => {
		const window = { opens: { kind: 'at-once' }, closes: { kind: 'on', at: JOINED + 11 * DAY } } as const;
		const closing = crossedBy({ kind: 'anyone' }, { window });
		// It closes at the very moment at which somebody who joins a day later would come.
		expect(run(base, closing).outsiders.map(({ who, kind }) => `${who.kind} ${kind}`)).toEqual([
			'stranger gains-now'
		]);
		const a = crossedBy({ kind: 'signed-in' }, { window });
		expect(run(base, a).outsiders).toEqual([]);
	});

	it('compares members whom a crossing names each by their own day', () => {
		const policy = compile(crossedBy({ kind: 'named' }, { id: 'line', window: after(3, 'week') }));
		const naming = (since: number) => ({ crossingId: 'line', memberId: 'linnea', since });
		const named = { ...linnea, namings: [{ crossingId: 'line', since: NOW }] };
		const result = rehearse({
			before: policy,
			after: policy,
			groups: groupByStanding([wren, jasper, named], new Set(['linnea'])),
			namings: namingChanges([naming(NOW)], [naming(NOW - 30 * DAY)]),
			from: NOW,
			assume: 'renewals-go-on'
		});
		expect([...rowsOf(result, null)]).toEqual(
			['lesson', 'other'].map((placeId) => ({
				memberId: 'linnea',
				placeId,
				kind: 'gains-now',
				at: NOW,
				backAt: null
			}))
		);
	});

	it('equals the timelines before and after, by brute force on small populations', () => {
		let found = 0;
		fc.assert(
			fc.property(
				aSource,
				aSource,
				fc.array(aMember, { minLength: 1, maxLength: 4 }),
				fc.array(someNamings, { minLength: 4, maxLength: 4 }),
				// Often nothing changes but who is named.
				fc.boolean(),
				(src, other, people, anew, isSame) => {
					const members = people.map((one, n) => ({ ...one, id: n === 0 ? one.id : `m${n}` }));
					const before = compile(src);
					// As a save does it: what the change does not touch is not filed anew.
					const afterwards = isSame ? before : before.with(deltaBetween(src, other));
					const named = ({ id }: Member, namings: readonly Naming[]) =>
						namings.map((one) => ({ ...one, memberId: id }));
					const namings = namingChanges(
						members.flatMap((one) => named(one, one.namings)),
						members.flatMap((one, n) => named(one, (n === 3 ? one.namings : anew[n]) ?? []))
					);
					const groups = groupByStanding(members, membersNamedIn(namings));
					const from = EPOCH + 10 * DAY;
					const result = rehearse({
						before,
						after: afterwards,
						groups,
						from,
						assume: 'renewals-go-on',
						namings
					});
					const said = new Set(
						[...rowsOf(result, null)].map((row) => `${row.memberId} ${row.placeId} ${row.kind}`)
					);
					found += said.size;
					for (const one of members)
						for (const id of before.resources.keys()) {
							const then = assuming(one, 'renewals-go-on');
							const later = assuming(namedAnew(one, namings), 'renewals-go-on');
							const wasOpen = (at: number) => decide(before, then, id, at).verdict === 'open';
							const willOpen = (at: number) => decide(afterwards, later, id, at).verdict === 'open';
							const kinds = new Set<string>();
							if (willOpen(from) && !wasOpen(from)) kinds.add('gains-now');
							if (wasOpen(from) && !willOpen(from)) kinds.add('loses-now');
							for (const kind of ['gains-now', 'loses-now'])
								expect(said.has(`${one.id} ${id} ${kind}`), `${one.id} ${id} ${kind}`).toBe(kinds.has(kind));
							// Sampled four times a day: what is found must have been said, now or later.
							const isSaid = (kind: string) =>
								said.has(`${one.id} ${id} ${kind}-now`) || said.has(`${one.id} ${id} ${kind}-later`);
							for (let at = from; at < from + 30 * DAY; at += DAY / 4) {
								const [was, is] = [wasOpen(at), willOpen(at)];
								if (is && !was && !isSaid('gains'))
									throw new Error(`gains of ${one.id} at ${id} were not said`);
								if (was && !is && !isSaid('loses'))
									throw new Error(`losses of ${one.id} at ${id} were not said`);
							}
						}
				}
			),
			{ seed: 5, numRuns: runs(25) }
		);
		expect(found).toBeGreaterThan(20);
	});
});

describe('effects', () => {
	const NOW = JOINED + 10 * DAY;
	const opensOn = (at: number) => ({ opens: { kind: 'on', at }, closes: { kind: 'never' } }) as const;
	const until = (at: number) => ({ opens: { kind: 'at-once' }, closes: { kind: 'on', at } }) as const;
	const lesson = (...crossings: Crossing[]) => ({
		...base,
		fences: [fence('f', items('lesson'), crossings)]
	});
	const workshop = (window: Crossing['window'] = null) => crossing(holders('workshop'), { window });
	const effectsOf = (result: ReturnType<typeof run>) =>
		result.effects.map(({ kind, at, backAt }) => [kind, (at - NOW) / DAY, backAt && (backAt - NOW) / DAY]);

	it.each([
		['for good, now', [], [['loses-now', 0, null]]],
		['now, and it comes back', [workshop(opensOn(NOW + 5 * DAY))], [['loses-now', 0, 5]]],
		['later, for good', [workshop(until(NOW + 3 * DAY))], [['loses-later', 3, null]]],
		[
			'later, for some days',
			[workshop(until(NOW + 3 * DAY)), workshop(opensOn(NOW + 4 * DAY))],
			[['loses-later', 3, 4]]
		],
		[
			'twice: the first time is told',
			[
				workshop(until(NOW - DAY)),
				workshop({ ...opensOn(NOW + 2 * DAY), closes: { kind: 'on', at: NOW + 3 * DAY } })
			],
			[['loses-now', 0, 2]]
		],
		['not at all where only what is past differs', [workshop(opensOn(NOW - DAY))], []]
	])('of what is lost: %s', (_name, crossings, expected) => {
		expect(effectsOf(run(lesson(workshop()), lesson(...crossings)))).toEqual(
			// Wren and Jasper stand alike, and are one group.
			expected
		);
	});

	it('gain and lose at once where a window moves, each told once', () => {
		const moved = run(lesson(workshop(until(NOW + 3 * DAY))), lesson(workshop(opensOn(NOW + 2 * DAY))));
		expect(effectsOf(moved)).toEqual([
			['gains-later', 3, null],
			['loses-now', 0, 2]
		]);
		expect(moved.members).toEqual({ 'gains-now': 0, 'loses-now': 2, 'gains-later': 2, 'loses-later': 0 });
	});

	it('are one for all places that change alike for whoever holds the same, whatever other plans find there', () => {
		const two = (...others: string[]) => ({
			...base,
			fences: [
				fence('f', items('lesson'), [workshop()]),
				fence('g', items('other'), [workshop(), crossing(holders(...others))])
			]
		});
		const closed = {
			...base,
			fences: [fence('f', items('lesson'), []), fence('g', items('other'), [crossing(holders('patron'))])]
		};
		const result = run(two('patron'), closed);
		expect(result.effects.map(({ kind, placeIds }) => [kind, placeIds])).toEqual([
			['loses-now', ['lesson', 'other']]
		]);
	});

	it('do not concern staff, who may cross everywhere', () => {
		const ottilie = member([grant({ from: JOINED })], { id: 'ottilie', isStaff: true });
		const groups = groupByStanding([ottilie, wren], new Set());
		const ask = { before: compile(base), after: compile(lesson()), groups, from: NOW } as const;
		const result = rehearse({ ...ask, assume: 'renewals-go-on' });
		expect([...rowsOf(result, null)].map(({ memberId, placeId }) => [memberId, placeId])).toEqual([
			['wren', 'lesson'],
			['wren', 'other']
		]);
	});

	it('are something where only members have them, and where only others do', () => {
		const named = compile(lesson(crossing({ kind: 'named' }, { id: 'line' })));
		const ask = { before: named, after: named, from: NOW, assume: 'renewals-go-on' } as const;
		const namings = namingChanges([], [{ crossingId: 'line', memberId: 'wren', since: 0 }]);
		const ofWren = rehearse({ ...ask, groups: groupByStanding([wren], new Set(['wren'])), namings });
		expect([ofWren.effects.length, ofWren.outsiders.length, changesNothing(ofWren)]).toEqual([1, 0, false]);
		const ofNobody = rehearse({
			...ask,
			after: compile(lesson()),
			before: compile(lesson(workshop())),
			groups: []
		});
		expect([ofNobody.effects.length, ofNobody.outsiders.length, changesNothing(ofNobody)]).toEqual([
			0,
			1,
			false
		]);
	});

	it('of names reach what follows where they are named, and nobody else who holds the same', () => {
		const line = crossing({ kind: 'named' }, { id: 'line' });
		const policy = compile({
			...base,
			resources: [...base.resources, resource('third')],
			fences: [
				fence('f', items('other'), [line]),
				fence('g', items('lesson'), [crossing({ kind: 'may-open', resourceId: 'other' })]),
				fence('h', items('third'), [crossing({ kind: 'may-open', resourceId: 'gone' })])
			]
		});
		const people = ['plain', 'edda', 'bram'].map((id) => member([], { id }));
		const result = rehearse({
			before: policy,
			after: policy,
			groups: groupByStanding(people, new Set(['edda'])),
			namings: namingChanges([], [{ crossingId: 'line', memberId: 'edda', since: 0 }]),
			from: NOW,
			assume: 'renewals-go-on'
		});
		expect([...rowsOf(result, null)].map(({ memberId, placeId, kind }) => [memberId, placeId, kind])).toEqual(
			[
				['edda', 'lesson', 'gains-now'],
				['edda', 'other', 'gains-now']
			]
		);
		expect(result.outsiders).toEqual([]);
	});

	it('are found where only one of many items is filed anew, and where something follows it', () => {
		const many = {
			...base,
			resources: [
				...base.resources,
				resource('follower'),
				...Array.from({ length: 9 }, (_, n) => resource(`far-${n}`))
			],
			fences: [
				...base.fences,
				fence('g', items('follower'), [crossing({ kind: 'may-open', resourceId: 'lesson' })])
			]
		};
		const opened = {
			...many,
			resources: many.resources.map((one) =>
				one.id === 'lesson' ? { ...one, state: 'draft' as const } : one
			)
		};
		const before = compile(many);
		for (const one of many.resources) before.place(one.id);
		const result = rehearse({
			before,
			after: before.with(deltaBetween(many, opened)),
			groups: groupByStanding([wren], new Set()),
			from: NOW,
			assume: 'renewals-go-on'
		});
		expect([...rowsOf(result, 'loses-now')].map(({ placeId }) => placeId).sort()).toEqual([
			'follower',
			'lesson'
		]);
	});

	it('come in pieces, so that others have their turn', () => {
		const many = Array.from({ length: 5000 }, (_, n) => member([], { id: `m${n}`, since: n }));
		const ask = {
			before: compile(base),
			after: compile(lesson()),
			groups: groupByStanding(many, new Set()),
			from: NOW,
			assume: 'renewals-go-on'
		} as const;
		let pauses = 0;
		for (const work = rehearsing(ask); !work.next().done;) pauses++;
		expect(pauses).toBe(2);
	});

	it('of outsiders are told apart by their moment, joined over places, and told of each plan', () => {
		const told = (...crossings: Crossing[]) =>
			run(lesson(), lesson(...crossings)).outsiders.map(({ who, kind, at, placeIds }) => [
				who.kind === 'joins' ? who.planId : who.kind,
				kind,
				(at - NOW) / DAY,
				placeIds
			]);
		const places = ['lesson'];
		expect(
			told(
				crossing({ kind: 'anyone' }, { window: opensOn(NOW + 9 * DAY) }),
				crossing({ kind: 'signed-in' }, { window: after(3, 'day') })
			)
		).toEqual([
			['stranger', 'gains-later', 9, places],
			['signs-up', 'gains-later', 4, places]
		]);
		expect(told(crossing(holders('workshop', 'patron')))).toEqual([
			['workshop', 'gains-now', 1, places],
			['patron', 'gains-now', 1, places]
		]);
		const apart = {
			...base,
			fences: [fence('f', items('lesson'), [workshop()]), fence('g', items('other'), [])]
		};
		const open = { ...base, fences: [fence('f', items('lesson', 'other'), [crossing({ kind: 'anyone' })])] };
		expect(run(apart, open).outsiders.map(({ who, placeIds }) => [who.kind, placeIds])).toEqual([
			['stranger', ['lesson', 'other']]
		]);
	});
});

describe('members of equal standing', () => {
	const like = member([grant({ from: 1, until: 9, period: { count: 1, unit: 'week' } })], {
		tenures: [{ planId: 'workshop', firstJoinedAt: 1, isSetByHand: false }],
		redemptions: [{ batchId: 'fair', at: 2 }],
		namings: [{ crossingId: 'line', since: 3 }]
	});
	const [g] = like.grants;
	const groups = (over: Partial<Member>, alone: string[] = []) =>
		groupByStanding([like, { ...like, id: 'other', ...over }], new Set(alone)).length;
	const withGrant = (over: Partial<Member['grants'][number]>) => ({ grants: [{ ...g!, ...over }] });

	it('stand together, whatever they are called and however they came by it', () => {
		expect(groups({})).toBe(1);
		expect(groups(withGrant({ id: 'another', source: 'hand' }))).toBe(1);
		const [both] = groupByStanding([like, { ...like, id: 'other' }], new Set());
		expect(both).toEqual({ viewer: like, memberIds: ['wren', 'other'], devices: 0 });
	});

	it.each<[string, Partial<Member>]>([
		['have come on another day', { since: 7 }],
		['hold another plan', withGrant({ planId: 'patron' })],
		['hold it from another day', withGrant({ from: 2 })],
		['hold it to another day', withGrant({ until: null })],
		['have had it revoked', withGrant({ revokedAt: 5 })],
		['are renewed', withGrant({ renews: true })],
		['have no period', withGrant({ period: null })],
		['have another period', withGrant({ period: { count: 2, unit: 'week' } })],
		['have a period in other units', withGrant({ period: { count: 1, unit: 'month' } })],
		['hold more', { grants: [g!, { ...g!, planId: 'patron' }] }],
		['joined another plan', { tenures: [{ planId: 'patron', firstJoinedAt: 1, isSetByHand: false }] }],
		['joined on another day', { tenures: [{ planId: 'workshop', firstJoinedAt: 2, isSetByHand: false }] }],
		['had the day set by hand', { tenures: [{ planId: 'workshop', firstJoinedAt: 1, isSetByHand: true }] }],
		['redeemed another code', { redemptions: [{ batchId: 'letter', at: 2 }] }],
		['redeemed it on another day', { redemptions: [{ batchId: 'fair', at: 3 }] }],
		['are named elsewhere', { namings: [{ crossingId: 'other', since: 3 }] }],
		['were named on another day', { namings: [{ crossingId: 'line', since: 4 }] }],
		['are staff', { isStaff: true }]
	])('do not where they %s', (_name, over) => {
		expect(groups(over)).toBe(2);
	});

	it('do not where one of them is to stand alone', () => {
		expect(groups({}, ['other'])).toBe(2);
	});
});
