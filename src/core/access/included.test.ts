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
	resource,
	source,
	stranger
} from '../../../tests/support/access';
import { aSource, EPOCH, moment, PLAN_IDS } from '../../../tests/support/arbitrary-access';
import { runs } from '../../../tests/support/runs';
import { decide } from './decide/decide';
import { includedFor } from './included';
import type { PolicySource, Viewer } from './model';
import { compile, openedByPlan } from './policy';

const NOW = Date.parse('2026-06-01T12:00Z');
const plans = ['workshop', 'patron', 'evening', 'nothing'].map((id) => plan(id));
const everything = ['wheel', 'strike'].map((id) => resource(id));
const world = (over: Partial<PolicySource> = {}) =>
	compile(
		source({
			...{ plans, resources: everything },
			fences: [
				fence('wheel', items('wheel'), [crossing(holders('workshop')), crossing(holders('patron'))]),
				fence('strike', items('strike'), [crossing(holders('evening')), crossing(holders('patron'))])
			],
			...over
		})
	);
const holding = (...ids: string[]) => member(ids.map((planId) => grant({ planId, from: NOW - DAY })));
const said = (viewer: Viewer, planId: string, policy = world()) => includedFor(policy, viewer, planId, NOW);

describe('a plan', () => {
	it('is included where one that is held opens all of it', () => {
		expect(said(holding('patron'), 'workshop')).toEqual({ by: 'patron' });
		expect(said(holding('evening', 'patron'), 'workshop')).toEqual({ by: 'patron' });
	});

	it('is not where something of it is shut, nor for whoever holds nothing or the plan itself', () => {
		expect(said(holding('workshop'), 'patron')).toBeNull();
		expect(said(holding('evening'), 'workshop')).toBeNull();
		expect(said(holding(), 'workshop')).toBeNull();
		expect(said(stranger, 'workshop')).toBeNull();
		expect(said(holding('workshop'), 'workshop')).toBeNull();
	});

	it('is included in several that open all of it together, without one to name', () => {
		expect(said(holding('workshop', 'evening'), 'patron')).toEqual({ by: null });
	});

	it('is not where it opens nothing at all, and not for staff', () => {
		expect(said(holding('patron'), 'nothing')).toBeNull();
		expect(said({ ...holding('patron'), isStaff: true }, 'workshop')).toBeNull();
	});

	it('is not where what is held ends, so that it can be bought before that', () => {
		const ends = member([grant({ planId: 'patron', from: NOW - DAY, until: NOW + DAY })]);
		expect(said(ends, 'workshop')).toBeNull();
		const renews = member([grant({ planId: 'patron', from: NOW - DAY, until: NOW + DAY, renews: true })]);
		expect(said(renews, 'workshop')).toEqual({ by: 'patron' });
	});

	it('is where it is a lower rung, and not where it is a higher one that opens the same', () => {
		const rung = (id: string, n: number) => plan(id, { ladderId: 'ladder', rung: n });
		const ladder = world({ plans: [rung('workshop', 1), rung('patron', 2)] });
		const same = [
			fence('wheel', items('wheel'), [crossing(holders('workshop')), crossing(holders('patron'))])
		];
		expect(said(holding('patron'), 'workshop', ladder)).toEqual({ by: 'patron' });
		const both = world({ plans: [rung('workshop', 1), rung('patron', 2)], fences: same });
		expect(said(holding('workshop'), 'patron', both)).toBeNull();
	});

	it('is not where it opens something sooner', () => {
		const later = world({
			fences: [
				fence('wheel', items('wheel'), [
					crossing(holders('workshop')),
					crossing(holders('patron'), { window: after(2, 'week') })
				])
			]
		});
		const joined = { planId: 'patron', id: 't', memberId: 'm', firstJoinedAt: NOW - DAY };
		expect(said({ ...holding('patron'), tenures: [joined] } as never, 'workshop', later)).toBeNull();
	});
});

it('leaves nothing shut of a plan that is included, in any world', () => {
	const at = moment;
	const seen = { included: 0 };
	fc.assert(
		fc.property(
			aSource,
			fc.subarray([...PLAN_IDS]),
			fc.constantFrom(...PLAN_IDS),
			at,
			(from, held, planId, now) => {
				const policy = compile(from);
				const viewer = member(held.map((planId) => grant({ planId, from: EPOCH })));
				if (!includedFor(policy, viewer, planId, now)) return;
				seen.included++;
				const bought = member([...viewer.grants, grant({ planId, from: now })]);
				for (const { id } of openedByPlan(policy, planId))
					if (decide(policy, bought, id, now).verdict === 'open')
						expect(decide(policy, viewer, id, now).verdict).toBe('open');
			}
		),
		{ seed: 20_261_205, numRuns: runs(400) }
	);
	expect(seen.included).toBeGreaterThan(0);
});
