import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
	after,
	crossing,
	DAY,
	fence,
	grant,
	holders,
	HOUR,
	items,
	member,
	plan,
	release,
	resource,
	source
} from '../../../tests/support/access';
import { aMember, aSource, aViewer, EPOCH } from '../../../tests/support/arbitrary-access';
import { alikeFor } from './alike';
import { changesFor, comingReleases, comingReleasesInPieces } from './next-changes';
import { compile } from './policy';
import { groupByStanding } from './rehearse';
import { timeline } from './timeline';

const JOINED = Date.parse('2026-01-01T09:00Z');
const dayOf = (at: number) => new Date(at).toISOString().slice(0, 10);

const school = compile(
	source({
		resources: ['one', 'two', 'three', 'loose'].map((id) => resource(id)),
		plans: [plan('workshop'), plan('patron')],
		fences: [fence('f', items('one', 'two', 'three'), [crossing(holders('workshop', 'patron'))])],
		releases: [release('workshop', 'two', after(1, 'week'))]
	})
);

describe('what opens alike', () => {
	it('is put together by what counts for the plans that are held', () => {
		const classesOf = (planId: string) =>
			alikeFor(school, member([grant({ planId, from: JOINED })]), school.resources.keys()).map(
				({ resourceIds }) => resourceIds
			);
		expect(classesOf('workshop')).toEqual([['one', 'three'], ['two'], ['loose']]);
		expect(classesOf('patron')).toEqual([['one', 'two', 'three'], ['loose']]);
	});

	it('has the same timeline, whoever looks', () => {
		fc.assert(
			fc.property(aSource, aViewer, (made, viewer) => {
				const policy = compile(made);
				const over = (id: string) => timeline(policy, viewer, id, EPOCH, EPOCH + 90 * DAY, 'renewals-go-on');
				for (const { id, resourceIds } of alikeFor(policy, viewer, policy.resources.keys()))
					for (const other of resourceIds) expect(over(other)).toEqual(over(id));
			})
		);
	});
});

describe('what changes next', () => {
	it('is every change of every timeline, in order', () => {
		fc.assert(
			fc.property(aSource, aViewer, (made, viewer) => {
				const policy = compile(made);
				const ids = [...policy.resources.keys()];
				const to = EPOCH + 60 * DAY;
				const found = changesFor(policy, viewer, ids, EPOCH, to, 'renewals-go-on');
				const expected = ids.flatMap((resourceId) =>
					// One at the very end of the span belongs to it.
					timeline(policy, viewer, resourceId, EPOCH, to + DAY, 'renewals-go-on')
						.slice(1)
						.filter(({ start }) => start <= to)
						.map(({ start }) => `${resourceId} ${start}`)
				);
				expect(found.map(({ resourceId, at }) => `${resourceId} ${at}`).sort()).toEqual(expected.sort());
				expect(found.map(({ at }) => at)).toEqual(found.map(({ at }) => at).sort((a, b) => a - b));
			})
		);
	});
});

describe('the span of what changes', () => {
	const viewer = member([grant({ from: JOINED })]);
	const changes = (from: number, to: number | null) =>
		changesFor(school, viewer, ['two'], from, to, 'renewals-go-on').map(({ at, to: verdict }) => [
			(at - JOINED) / DAY,
			verdict
		]);
	it.each<[string, number, number | null, unknown[]]>([
		['has what comes at its very end', JOINED, JOINED + 7 * DAY, [[7, 'open']]],
		['ends there', JOINED, JOINED + 7 * DAY - 1, []],
		['does not have what comes as it begins', JOINED + 7 * DAY, null, []],
		['has what comes at once after', JOINED + 7 * DAY - 1, null, [[7, 'open']]],
		['may have no end', JOINED, null, [[7, 'open']]]
	])('%s', (_name, from, to, expected) => {
		expect(changes(from, to)).toEqual(expected);
	});
});

describe('coming releases', () => {
	it('count everybody for whom something opens by itself on a day', () => {
		const people = [0, 0, 1].map((days, n) =>
			member([grant({ from: JOINED + days * DAY })], { id: `member-${n}` })
		);
		const groups = groupByStanding(people, new Set());
		const coming = comingReleases(school, groups, ['one', 'two'], JOINED + DAY, JOINED + 30 * DAY, dayOf);
		expect(coming).toEqual([
			{ resourceId: 'two', at: JOINED + 7 * DAY, members: 2 },
			{ resourceId: 'two', at: JOINED + 8 * DAY, members: 1 }
		]);
	});

	it('count a member once for whom something opens twice on one day', () => {
		const window = (from: number, to: number) => ({
			opens: { kind: 'on' as const, at: JOINED + from },
			closes: { kind: 'on' as const, at: JOINED + to }
		});
		const twice = compile(
			source({
				resources: [resource('one')],
				plans: [plan('workshop'), plan('patron')],
				fences: [
					fence('f', items('one'), [
						crossing(holders('workshop'), { window: window(HOUR, 2 * HOUR) }),
						crossing(holders('patron'), { window: window(3 * HOUR, 4 * HOUR) })
					])
				]
			})
		);
		const both = member([grant({ from: 0 }), grant({ id: 'other', planId: 'patron', from: 0 })]);
		const groups = groupByStanding([both], new Set());
		expect(comingReleases(twice, groups, ['one'], JOINED, JOINED + DAY, dayOf)).toEqual([
			{ resourceId: 'one', at: JOINED + HOUR, members: 1 }
		]);
		// The end of the span belongs to it, its beginning does not.
		expect(comingReleases(twice, groups, ['one'], JOINED, JOINED + HOUR, dayOf)).toHaveLength(1);
		expect(comingReleases(twice, groups, ['one'], JOINED, JOINED + HOUR - 1, dayOf)).toEqual([]);
		expect(comingReleases(twice, groups, ['one'], JOINED + HOUR, JOINED + 2 * HOUR, dayOf)).toEqual([]);
	});

	it('are told by day and then by moment, the earliest so many, whoever comes first', () => {
		const dripped = compile(
			source({
				resources: ['one', 'two', 'three'].map((id) => resource(id)),
				plans: [plan('workshop')],
				fences: [fence('f', items('one', 'two', 'three'), [crossing(holders('workshop'))])],
				releases: [
					release('workshop', 'one', after(3, 'day')),
					release('workshop', 'two', after(1, 'day')),
					release('workshop', 'three', after(2, 'day'))
				]
			})
		);
		const joined = (id: string, hours: number, until: number | null = null) =>
			member([grant({ id, from: JOINED + hours * HOUR, until })], { id });
		const ids = ['one', 'two', 'three'];
		const coming = (people: ReturnType<typeof joined>[], to: number, most?: number) =>
			comingReleases(dripped, groupByStanding(people, new Set()), ids, JOINED, to, dayOf, most).map(
				({ resourceId, at, members }) => [resourceId, (at - JOINED) / HOUR, members]
			);
		// Who joined later stands first, and it is the earlier moment of the day that is told.
		const people = [joined('late', 5), joined('early', 0), joined('later', 6)];
		const end = JOINED + 9 * DAY;
		expect(coming(people, end)).toEqual([
			['two', 24, 3],
			['three', 48, 3],
			['one', 72, 3]
		]);
		expect(coming(people, end, 2)).toEqual([
			['two', 24, 3],
			['three', 48, 3]
		]);
		expect(coming(people, JOINED + 24 * HOUR)).toEqual([['two', 24, 1]]);
		expect(coming(people, JOINED + 24 * HOUR - 1)).toEqual([]);
		// What renews is taken to go on; what ends before it opens does not open.
		const short = joined('short', 0, JOINED + 36 * HOUR);
		expect(coming([short], end)).toEqual([['two', 24, 1]]);
		const [held] = short.grants;
		expect(coming([{ ...short, grants: [{ ...held!, renews: true }] }], end)).toHaveLength(3);
	});

	it('stand in their order within a day, too, and join what several plans open on it', () => {
		const two = compile(
			source({
				resources: ['one', 'two', 'both'].map((id) => resource(id)),
				plans: [plan('workshop'), plan('patron')],
				fences: [
					fence('f', items('one'), [crossing(holders('workshop'))]),
					fence('g', items('two'), [crossing(holders('patron'))]),
					fence('h', items('both'), [crossing(holders('workshop', 'patron'))])
				],
				releases: [
					release('workshop', 'one', after(1, 'day')),
					release('patron', 'two', after(1, 'day')),
					release('workshop', 'both', after(1, 'day')),
					release('patron', 'both', after(1, 'day'))
				]
			})
		);
		const late = member([grant({ from: JOINED + 5 * HOUR })], { id: 'late' });
		const early = member([grant({ planId: 'patron', from: JOINED })], { id: 'early' });
		const before = member([grant({ id: 'x', from: JOINED - 3 * DAY })], { id: 'before' });
		const coming = (most?: number) =>
			comingReleases(
				two,
				groupByStanding([late, early, before], new Set()),
				['one', 'two', 'both'],
				JOINED - 3 * DAY,
				JOINED + 9 * DAY,
				dayOf,
				most
			).map(({ resourceId, at, members }) => [resourceId, (at - JOINED) / HOUR, members]);
		const all = [
			['one', -48, 1],
			['both', -48, 1],
			['two', 24, 1],
			['both', 24, 2],
			['one', 29, 1]
		];
		const sorted = (rows: unknown[][]) => rows.map((row) => row.join(' ')).sort();
		expect(sorted(coming())).toEqual(sorted(all));
		expect(coming().map(([, at]) => at)).toEqual([-48, -48, 24, 24, 29]);
		expect(coming(4)).toHaveLength(4);
		expect(coming(4).map(([, at]) => at)).toEqual([-48, -48, 24, 24]);
		expect(sorted(coming(2))).toEqual(sorted(all.slice(0, 2)));
	});

	it('come in pieces, so that others have their turn', () => {
		const many = Array.from({ length: 1200 }, (_, n) =>
			member([grant({ from: JOINED + n })], { id: `m${n}` })
		);
		const groups = groupByStanding(many, new Set());
		let pauses = 0;
		const work = comingReleasesInPieces(school, groups, ['two'], JOINED, JOINED + 9 * DAY, dayOf);
		for (; !work.next().done;) pauses++;
		expect(pauses).toBe(2);
	});

	it('are what the timelines of all members say', () => {
		fc.assert(
			fc.property(aSource, fc.array(aMember, { minLength: 1, maxLength: 5 }), (made, people) => {
				const policy = compile(made);
				const named = people.map((one, n) => ({ ...one, id: `${one.id}-${n}` }));
				const ids = [...policy.resources.keys()];
				const to = EPOCH + 60 * DAY;
				const found = comingReleases(policy, groupByStanding(named, new Set()), ids, EPOCH, to, dayOf);
				const counts = new Map<string, number>();
				for (const one of named)
					for (const id of ids) {
						// A member counts once a day, however often it opens for them on it.
						const days = timeline(policy, one, id, EPOCH, to + DAY, 'renewals-go-on')
							.slice(1)
							.flatMap(({ start, verdict }) => (verdict === 'open' && start <= to ? [dayOf(start)] : []));
						for (const day of new Set(days))
							counts.set(`${id} ${day}`, (counts.get(`${id} ${day}`) ?? 0) + 1);
					}
				const said = found.map(({ resourceId, at, members }) => [`${resourceId} ${dayOf(at)}`, members]);
				expect(said.sort()).toEqual([...counts].sort());
			})
		);
	});
});
