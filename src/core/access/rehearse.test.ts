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
import { decide } from './decide';
import { compile } from './policy';
import { changesNothing, groupByStanding, namedIn, rehearse, rowsOf } from './rehearse';
import { assuming } from './timeline';

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
		expect(
			[...rowsOf(result, 'loses-now')].map(({ memberId, resourceId }) => `${memberId} ${resourceId}`)
		).toEqual(['wren lesson', 'wren other', 'jasper lesson', 'jasper other']);
		expect(result.newcomers.map(({ planId, kind }) => `${planId} ${kind}`)).toEqual([
			'workshop loses-now',
			'patron gains-now'
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
			resourceIds: ['lesson']
		});
		expect(result.newcomers).toHaveLength(1);
	});

	it('names addresses that no item has: a fence on everything closes the front page, too', () => {
		const everywhere = { ...base, fences: [...base.fences, fence('all', { kind: 'everything' }, [])] };
		const look = (before: typeof base, afterwards: typeof base) =>
			rehearse({
				before: compile(before),
				after: compile(afterwards),
				groups: [],
				from: JOINED,
				assume: 'renewals-go-on',
				addresses: ['/', '/tags/brass']
			});
		expect(look(base, everywhere)).toMatchObject({ listsOpen: [], listsClose: ['/', '/tags/brass'] });
		expect(look(everywhere, base)).toMatchObject({ listsOpen: ['/', '/tags/brass'], listsClose: [] });
		expect(changesNothing(look(base, everywhere))).toBe(false);
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
		expect(run(base, open)).toMatchObject({ becomesPublic: ['lesson'], closesToPublic: [] });
		expect(run(open, base)).toMatchObject({ becomesPublic: [], closesToPublic: ['lesson'] });
	});

	it('equals the timelines before and after, by brute force on small populations', () => {
		let found = 0;
		fc.assert(
			fc.property(
				aSource,
				aSource,
				fc.array(aMember, { minLength: 1, maxLength: 4 }),
				(src, other, people) => {
					const members = people.map((one, n) => ({ ...one, id: n === 0 ? one.id : `m${n}` }));
					const [before, afterwards] = [compile(src), compile(other)];
					const groups = groupByStanding(members, namedIn(before, afterwards));
					const from = EPOCH + 10 * DAY;
					const result = rehearse({ before, after: afterwards, groups, from, assume: 'renewals-go-on' });
					const said = new Set(
						[...rowsOf(result, null)].map((row) => `${row.memberId} ${row.resourceId} ${row.kind}`)
					);
					found += said.size;
					for (const one of members)
						for (const id of before.resources.keys()) {
							const viewer = assuming(one, 'renewals-go-on');
							const isOpen = (policy: typeof before, at: number) =>
								decide(policy, viewer, id, at).verdict === 'open';
							const kinds = new Set<string>();
							if (isOpen(afterwards, from) && !isOpen(before, from)) kinds.add('gains-now');
							if (isOpen(before, from) && !isOpen(afterwards, from)) kinds.add('loses-now');
							for (const kind of ['gains-now', 'loses-now'])
								expect(said.has(`${one.id} ${id} ${kind}`), `${one.id} ${id} ${kind}`).toBe(kinds.has(kind));
							// Sampled four times a day: what is found must have been said, now or later.
							const isSaid = (kind: string) =>
								said.has(`${one.id} ${id} ${kind}-now`) || said.has(`${one.id} ${id} ${kind}-later`);
							for (let at = from; at < from + 30 * DAY; at += DAY / 4) {
								const [was, is] = [isOpen(before, at), isOpen(afterwards, at)];
								if (is && !was && !isSaid('gains'))
									throw new Error(`gains of ${one.id} at ${id} were not said`);
								if (was && !is && !isSaid('loses'))
									throw new Error(`losses of ${one.id} at ${id} were not said`);
							}
						}
				}
			),
			{ seed: 5, numRuns: 25 }
		);
		expect(found).toBeGreaterThan(20);
	});
});
