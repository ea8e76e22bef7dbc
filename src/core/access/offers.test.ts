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
	source,
	stranger
} from '../../../tests/support/access';
import { aSource, EPOCH, IDS, moment } from '../../../tests/support/arbitrary-access';
import { runs } from '../../../tests/support/runs';
import { decide } from './decide/decide';
import { NO_CONTEXT, NO_LIMITS, STRANGER, type PolicySource, type Viewer } from './model';
import { offersAt, sellsTo, takesAccount, takesCode } from './offers';
import { compile } from './policy';

const NOW = Date.parse('2026-06-01T12:00Z');
const plans = [
	plan('workshop'),
	plan('patron'),
	plan('quiet', { isPublic: false }),
	plan('old', { isOnSale: false })
];
const world = (over: Partial<PolicySource>) =>
	compile(source({ resources: [resource('wheel'), resource('course', { kind: 'course' })], plans, ...over }));
const closed = (...crossings: ReturnType<typeof crossing>[]) => [fence('f', items('wheel'), crossings)];
const offered = (policy: ReturnType<typeof world>, viewer: Parameters<typeof offersAt>[1] = stranger) =>
	offersAt(policy, viewer, 'wheel', NOW);

describe('a plan for those who may open something', () => {
	const some = [plan('workshop'), plan('patron', { soldTo: 'course' })];
	const fences = [
		...closed(crossing(holders('workshop', 'patron'))),
		fence('g', items('course'), [crossing(holders('workshop'))])
	];
	const made = world({ fences, plans: some });
	const holder = (until: number) => member([grant({ planId: 'workshop', from: NOW - DAY, until })]);

	it('is offered to them, and to nobody else', () => {
		expect(offered(made)).toEqual([{ planId: 'workshop', opensAt: null }]);
		expect(offered(made, member())).toEqual([{ planId: 'workshop', opensAt: null }]);
		const named = world({
			plans: some,
			fences: [
				...closed(crossing(holders('patron'))),
				fence('g', items('course'), [crossing(holders('workshop'))])
			]
		});
		expect(offered(named, holder(NOW + DAY))).toEqual([{ planId: 'patron', opensAt: null }]);
		expect(offered(named, holder(NOW))).toEqual([]);
		expect(offered(named)).toEqual([]);
	});

	it('is sold to them from the moment on in which it opens, and no more when that is over', () => {
		const sold = (viewer: Viewer, now = NOW) => sellsTo(made, viewer, { soldTo: 'course' }, now);
		expect([sold(holder(NOW + DAY)), sold(holder(NOW)), sold(member()), sold(STRANGER)]).toEqual([
			...[true, false, false, false]
		]);
		expect([sold(holder(NOW + DAY), NOW + DAY - 1), sold(holder(NOW + DAY), NOW + DAY)]).toEqual([
			true,
			false
		]);
		const all = [undefined, null].map((soldTo) =>
			sellsTo(made, STRANGER, { ...(soldTo === null ? { soldTo } : {}) }, NOW)
		);
		expect(all).toEqual([true, true]);
		expect(sellsTo(made, holder(NOW + DAY), { soldTo: 'gone' }, NOW)).toBe(false);
	});
});

describe('a code', () => {
	const code = (over: Parameters<typeof crossing>[1] = {}) =>
		crossing({ kind: 'code', batchId: 'fair' }, over);
	const takes = (fences: ReturnType<typeof closed>, viewer: Parameters<typeof takesCode>[1] = stranger) =>
		takesCode(world({ fences }), viewer, 'wheel', NOW);
	const until = (at: number) => ({ opens: { kind: 'at-once' }, closes: { kind: 'on', at } }) as const;

	it('can be typed where a crossing is for one, until its window is over', () => {
		expect(takes(closed(code()))).toBe(true);
		expect(takes(closed(crossing(holders('workshop')), code({ window: after(2, 'week') })))).toBe(true);
		expect(takes(closed(code({ window: until(NOW + 1) })))).toBe(true);
		expect(takes(closed(code({ window: until(NOW) })))).toBe(false);
		expect(takes(closed(crossing(holders('workshop'))))).toBe(false);
		expect(takes([])).toBe(false);
	});

	it('cannot by whoever has redeemed it, nor for what nobody may see', () => {
		const redeemed = [{ batchId: 'fair', at: NOW - DAY } as never];
		expect(takes(closed(code()), { ...stranger, redemptions: redeemed } as never)).toBe(false);
		const draft = world({ fences: closed(code()), resources: [resource('wheel', { state: 'draft' })] });
		expect(takesCode(draft, stranger, 'wheel', NOW)).toBe(false);
		expect(takesCode(draft, stranger, 'nowhere', NOW)).toBe(false);
	});
});

describe('an account', () => {
	const signedIn = (over: Parameters<typeof crossing>[1] = {}) => crossing({ kind: 'signed-in' }, over);
	const opens = (
		fences: ReturnType<typeof closed>,
		viewer: Viewer = stranger,
		over: Partial<PolicySource> = {}
	) => takesAccount(world({ fences, ...over }), viewer, 'wheel', NOW);
	const closing = (at: number) => ({ opens: { kind: 'at-once' }, closes: { kind: 'on', at } }) as const;

	it('is offered where it alone would open, now or later', () => {
		expect(opens(closed(signedIn()))).toBe(true);
		expect(opens(closed(crossing(holders('workshop')), signedIn({ window: after(2, 'week') })))).toBe(true);
		expect(opens(closed(signedIn({ window: closing(NOW + 1) })))).toBe(true);
		expect(opens(closed(signedIn({ window: closing(NOW) })))).toBe(false);
		expect(opens(closed(crossing(holders('workshop'))))).toBe(false);
		expect(opens(closed(crossing({ kind: 'code', batchId: 'fair' })))).toBe(false);
		expect(opens([])).toBe(false);
	});

	it('is offered where what every new account is given opens it', () => {
		const given = (since: number) => ({ since, access: { kind: 'for-good' as const } });
		const giving = (since: number) => ({ plans: [plan('workshop', { given: given(since) })] });
		const fences = closed(crossing(holders('workshop')));
		expect(opens(fences, stranger, giving(NOW))).toBe(true);
		expect(opens(fences, stranger, giving(NOW + 1))).toBe(false);
		expect(opens(closed(crossing(holders('patron'))), stranger, giving(NOW))).toBe(false);
	});

	it('is offered to nobody who has one, nor for what nobody may see, nor where somebody is kept out', () => {
		expect(opens(closed(signedIn()), member())).toBe(false);
		const draft = { resources: [resource('wheel', { state: 'draft' })] };
		expect(opens(closed(signedIn()), stranger, draft)).toBe(false);
		expect(takesAccount(world({}), stranger, 'nowhere', NOW)).toBe(false);
		const keptOut = { ...NO_CONTEXT, keptOut: 'place' as const };
		expect(
			takesAccount(world({ fences: closed(signedIn()) }), stranger, 'wheel', NOW, keptOut as never)
		).toBe(false);
	});
});

describe('plans that would open it', () => {
	it('are those on public sale, each once', () => {
		const policy = world({
			fences: closed(crossing(holders('workshop', 'quiet', 'old')), crossing(holders('patron', 'workshop')))
		});
		expect(offered(policy)).toEqual([
			{ planId: 'workshop', opensAt: null },
			{ planId: 'patron', opensAt: null }
		]);
	});

	it('say when, where there is a wait', () => {
		const fences = closed(crossing(holders('workshop')));
		const policy = world({ fences, releases: [release('workshop', 'wheel', after(2, 'week'))] });
		expect(offered(policy)).toEqual([{ planId: 'workshop', opensAt: NOW + 14 * DAY }]);
	});

	it('are none whose window is over', () => {
		const over = { opens: { kind: 'at-once' }, closes: { kind: 'on', at: NOW } } as const;
		expect(offered(world({ fences: closed(crossing(holders('workshop'), { window: over })) }))).toEqual([]);
		const last = { ...over, closes: { kind: 'on', at: NOW + 1 } } as const;
		expect(offered(world({ fences: closed(crossing(holders('workshop'), { window: last })) }))).toHaveLength(
			1
		);
	});

	it('are none whose window a member who comes back has used, unless the clock begins anew', () => {
		const month = after(0, 'day', { kind: 'after', count: 1, unit: 'month' });
		const wasIn = member([grant({ from: NOW - 90 * DAY, until: NOW - 60 * DAY })]);
		const of = (afterLapse: 'on' | 'anew' | 'stand-still') =>
			offered(
				world({
					plans: [plan('workshop', { afterLapse })],
					fences: closed(crossing(holders('workshop'), { window: month }))
				}),
				wasIn
			).length;
		expect(of('on')).toBe(0);
		expect(of('anew')).toBe(1);
		expect(of('stand-still')).toBe(0);
	});

	it('are none that the viewer holds: whose window can never open is told so', () => {
		const policy = world({
			fences: closed(crossing(holders('workshop'))),
			releases: [release('workshop', 'wheel', after(6, 'week'))]
		});
		const viewer = member([grant({ from: NOW - DAY, until: NOW + 30 * DAY })]);
		expect(decide(policy, viewer, 'wheel', NOW)).toMatchObject({ verdict: 'shut', isHeldInVain: true });
		expect(offered(policy, viewer)).toEqual([]);
		expect(offered(policy, member([grant({ from: NOW + DAY })]))).toEqual([]);
	});

	it('offer nothing where buying changes nothing: it opens by itself as early', () => {
		const soon = { opens: { kind: 'on', at: NOW + DAY }, closes: { kind: 'never' } } as const;
		const forPlan = (days: number) =>
			world({
				fences: closed(
					crossing({ kind: 'anyone' }, { window: soon }),
					crossing(holders('workshop'), {
						window: { ...soon, opens: { kind: 'on', at: NOW + days * DAY } }
					})
				)
			});
		expect(offered(forPlan(2))).toEqual([]);
		expect(offered(forPlan(1))).toEqual([]);
		expect(offered(forPlan(0.5))).toEqual([{ planId: 'workshop', opensAt: NOW + DAY / 2 }]);
	});

	it('are those that open what it follows, in a circle or not', () => {
		const follows = (id: string, resourceId: string) =>
			fence(`f-${id}`, items(id), [crossing({ kind: 'may-open', resourceId })]);
		const policy = world({
			fences: [follows('wheel', 'course'), fence('c', items('course'), [crossing(holders('patron'))])]
		});
		expect(offered(policy)).toEqual([{ planId: 'patron', opensAt: null }]);
		expect(offered(world({ fences: [follows('wheel', 'course'), follows('course', 'wheel')] }))).toEqual([]);
	});

	it('are offered again to whoever has used theirs up, unless they hold it still', () => {
		const limits = { ...NO_LIMITS, uses: { count: 1, per: 'grant' as const } };
		const policy = world({ fences: closed(crossing(holders('workshop', 'patron'), { limits })) });
		const viewer = member([grant({ from: NOW - DAY })]);
		const context = { ...NO_CONTEXT, uses: [{ grantId: 'grant', at: NOW - 1, goesOnUntil: NOW - 1 }] };
		expect(decide(policy, viewer, 'wheel', NOW, context).verdict).toBe('used-up');
		expect(offersAt(policy, viewer, 'wheel', NOW, context)).toEqual([{ planId: 'patron', opensAt: null }]);
	});

	it('are none for what is behind a gate, kept out or not there, and some for a page that no item has', () => {
		const fences = [fence('all', { kind: 'everything' }, [crossing(holders('workshop'))])];
		const gated = (over: Parameters<typeof resource>[1]) =>
			offered(world({ fences, resources: [resource('wheel', over)] })).length;
		expect(gated({})).toBe(1);
		expect(gated({ state: 'draft' })).toBe(0);
		expect(gated({ state: 'archived' })).toBe(0);
		expect(gated({ state: 'scheduled', publishAt: NOW + 1 })).toBe(0);
		expect(gated({ state: 'scheduled', publishAt: NOW })).toBe(1);
		expect(offersAt(world({ fences }), stranger, 'nothing', NOW)).toEqual([]);
		expect(
			offersAt(world({ fences }), stranger, 'wheel', NOW, { ...NO_CONTEXT, keptOut: 'country' })
		).toEqual([]);
		expect(offersAt(world({ fences }), stranger, '/tags/oil', NOW)).toEqual([
			{ planId: 'workshop', opensAt: null }
		]);
	});

	it('are the same by the short way as by the long one', () => {
		// A code that opens nothing takes a stranger the long way.
		const longWay: Viewer = {
			kind: 'stranger',
			redemptions: [{ batchId: 'opens nothing', at: EPOCH }],
			grants: []
		};
		let offered = 0;
		fc.assert(
			fc.property(aSource, fc.constantFrom(...IDS, '/', '/page'), moment, (of, id, at) => {
				const policy = compile(of);
				const offers = offersAt(policy, STRANGER, id, at);
				offered += offers.length;
				expect(offers).toEqual(offersAt(policy, longWay, id, at));
			}),
			{ seed: 22, numRuns: runs(2000) }
		);
		expect(offered).toBeGreaterThan(runs(100));
	});

	it('take the short way for strangers alone: members hold, have held, and have codes', () => {
		const fences = closed(
			crossing(holders('workshop', 'patron', 'quiet', 'old')),
			crossing({ kind: 'code', batchId: 'fair' })
		);
		const plain = closed(crossing(holders('workshop', 'patron', 'quiet', 'old')));
		const both = [
			{ planId: 'workshop', opensAt: null },
			{ planId: 'patron', opensAt: null }
		];
		const redeemed: Viewer = {
			kind: 'stranger',
			redemptions: [{ batchId: 'fair', at: NOW - DAY }],
			grants: []
		};
		expect(offered(world({ fences }), redeemed)).toEqual([]);
		expect(offered(world({ fences: plain }), redeemed)).toEqual(both);
		expect(offered(world({ fences: plain }), member())).toEqual(both);
		expect(offered(world({ fences: plain }), member([grant({ from: NOW - DAY })]))).toEqual([]);
		const byCode = grant({ planId: 'workshop', from: NOW - DAY, source: 'code' });
		expect(offered(world({ fences: plain }), { ...redeemed, grants: [byCode] })).toEqual([]);
		const elsewhere = [...plain, fence('g', items('course'), [crossing({ kind: 'anyone' })])];
		expect(offered(world({ fences: elsewhere }))).toEqual(both);
	});

	it('are none of what the base opens, and some where the base is not reached', () => {
		const open = { resources: [resource('wheel', { base: 'open' })] };
		const adds = (mode: 'adds' | 'replaces') => [
			fence('f', items('wheel'), [crossing(holders('workshop'))], { mode })
		];
		expect(offered(world({ ...open, fences: adds('adds') }))).toEqual([]);
		expect(offered(world({ ...open, fences: adds('replaces') }))).toHaveLength(1);
		expect(offered(world({ fences: adds('adds') }))).toHaveLength(1);
		expect(
			offered(world({ fences: closed(crossing({ kind: 'anyone' }), crossing(holders('workshop'))) }))
		).toEqual([]);
	});

	it('are sold again from the very end of a grant, and to whoever never held a day of it', () => {
		const policy = world({ fences: closed(crossing(holders('workshop', 'patron'))) });
		const of = (over: Parameters<typeof grant>[0], ...others: ReturnType<typeof grant>[]) =>
			offered(policy, member([grant(over), ...others])).map(({ planId }) => planId);
		expect(of({ from: NOW - DAY, until: NOW })).toEqual(['workshop', 'patron']);
		expect(of({ from: NOW - DAY, until: NOW + 1 })).toEqual(['patron']);
		expect(of({ from: NOW + DAY, until: NOW + DAY })).toEqual(['workshop', 'patron']);
		expect(of({ from: NOW + DAY, until: NOW + 2 * DAY })).toEqual(['patron']);
		const ended = grant({ id: 'old', from: NOW - 9 * DAY, until: NOW - 8 * DAY });
		expect(of({ from: NOW + DAY, until: null }, ended)).toEqual(['patron']);
	});

	it('take renewals for granted, of what is held and of what would be bought', () => {
		const late = world({
			fences: closed(crossing(holders('workshop')), crossing(holders('patron'))),
			releases: [release('workshop', 'wheel', after(6, 'week')), release('patron', 'wheel', after(4, 'week'))]
		});
		const month = grant({ from: NOW, until: NOW + 30 * DAY });
		const of = (renews: boolean) => offered(late, member([{ ...month, renews }]));
		expect(of(true)).toEqual([{ planId: 'patron', opensAt: NOW + 28 * DAY }]);
		expect(of(false)).toEqual([{ planId: 'patron', opensAt: NOW + 28 * DAY }]);
		const later = world({
			fences: closed(crossing(holders('workshop')), crossing(holders('patron'))),
			releases: [release('workshop', 'wheel', after(6, 'week')), release('patron', 'wheel', after(8, 'week'))]
		});
		expect(offered(later, member([{ ...month, renews: true }]))).toEqual([]);
		expect(offered(later, member([month]))).toEqual([{ planId: 'patron', opensAt: NOW + 56 * DAY }]);
	});

	it('are none of what is scheduled without a day', () => {
		const fences = closed(crossing(holders('workshop')));
		const without = { ...resource('wheel'), state: 'scheduled' as const, publishAt: null };
		expect(offered(world({ fences, resources: [without] }))).toEqual([]);
	});
});
