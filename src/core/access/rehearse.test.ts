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
import type { Crossing, Member, Naming } from './model';
import { membersNamedIn, namedAnew, namingChanges } from './namings';
import { compile } from './policy';
import { changesNothing, groupByStanding, rehearse, rowsOf, type Group } from './rehearse';
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
			viewer: { kind: 'stranger', redemptions: [{ batchId: 'fair', at: NOW - days * DAY }] },
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
					const afterwards = isSame ? before : compile(other);
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
