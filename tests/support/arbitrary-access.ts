/** Random small worlds of access: resources in collections, fences of every kind, members of every standing. */
import fc from 'fast-check';
import type {
	AccessPlan,
	Audience,
	Context,
	Crossing,
	Fence,
	Grant,
	Limits,
	Naming,
	Member,
	PolicySource,
	Release,
	Resource,
	Selector,
	Viewer,
	Window
} from '$core/access/model';
import { DAY, HOUR, notice, plan, source, turnAway } from './access';

export const EPOCH = Date.parse('2026-01-01T00:00Z');
export const IDS = ['shelf', 'course', 'section', 'lesson', 'video', 'page'] as const;

const RESOURCES: Resource[] = [
	{ kind: 'shelf', homeId: null, address: '/shelf', extension: null },
	{ kind: 'course', homeId: null, address: '/courses/clock', extension: null },
	{ kind: 'section', homeId: 'course', address: null, extension: null },
	{ kind: 'lesson', homeId: 'section', address: '/courses/clock/lesson', extension: null },
	{ kind: 'file', homeId: 'shelf', address: '/shelf/video', extension: 'pdf' },
	{ kind: 'page', homeId: null, address: '/page', extension: null }
].map((over, n) => ({
	id: IDS[n] ?? '',
	state: 'published',
	publishAt: null,
	base: 'closed',
	categoryId: n % 2 === 0 ? 'strip' : null,
	tagIds: n > 2 ? ['oil'] : [],
	...over
})) as Resource[];

export const PLAN_IDS = ['a', 'b', 'c'];
/** Moments close together, so that they fall on each other often. */
export const moment = fc.integer({ min: 0, max: 60 }).map((n) => EPOCH + n * 12 * HOUR);
const steps = fc.record({
	count: fc.integer({ min: 0, max: 4 }),
	unit: fc.constantFrom('day' as const, 'week' as const)
});

const window: fc.Arbitrary<Window> = fc.record({
	opens: fc.oneof(
		fc.constant({ kind: 'at-once' as const }),
		steps.map((s) => ({ kind: 'after' as const, ...s })),
		moment.map((at) => ({ kind: 'on' as const, at }))
	),
	closes: fc.oneof(
		fc.constant({ kind: 'never' as const }),
		steps.map((s) => ({ kind: 'after' as const, ...s })),
		moment.map((at) => ({ kind: 'on' as const, at }))
	)
});

const limits: fc.Arbitrary<Limits> = fc.record({
	uses: fc.oneof(
		{ weight: 3, arbitrary: fc.constant('none' as const) },
		{
			weight: 1,
			arbitrary: fc.record({
				count: fc.integer({ min: 1, max: 3 }),
				per: fc.constantFrom('period' as const, 'grant' as const)
			})
		}
	),
	minutes: fc.oneof(
		{ weight: 4, arbitrary: fc.constant('none' as const) },
		{ weight: 1, arbitrary: fc.integer({ min: 1, max: 2000 }) }
	),
	hours: fc.oneof(
		{ weight: 4, arbitrary: fc.constant('none' as const) },
		{ weight: 1, arbitrary: fc.integer({ min: 1, max: 200 }) }
	)
});

const audience: fc.Arbitrary<Audience> = fc.oneof(
	{ weight: 1, arbitrary: fc.constant({ kind: 'anyone' as const }) },
	{ weight: 1, arbitrary: fc.constant({ kind: 'signed-in' as const }) },
	{
		weight: 6,
		arbitrary: fc
			.subarray(PLAN_IDS, { minLength: 1 })
			.map((planIds) => ({ kind: 'holders' as const, planIds }))
	},
	{
		weight: 1,
		arbitrary: fc.constant({ kind: 'named' as const })
	},
	{ weight: 1, arbitrary: fc.constant({ kind: 'code' as const, batchId: 'fair' }) },
	{
		weight: 1,
		arbitrary: fc.constantFrom(...IDS).map((resourceId) => ({ kind: 'may-open' as const, resourceId }))
	}
);

const crossing = (id: string): fc.Arbitrary<Crossing> =>
	fc.record({
		id: fc.constant(id),
		audience,
		window: fc.option(window, { freq: 2 }),
		limits: fc.oneof(
			{ weight: 2, arbitrary: fc.constant({ uses: 'none', minutes: 'none', hours: 'none' } as Limits) },
			{ weight: 1, arbitrary: limits }
		),
		isThroughout: fc.boolean()
	});

const selector: fc.Arbitrary<Selector> = fc.oneof(
	fc.subarray([...IDS], { minLength: 1 }).map((itemIds) => ({ kind: 'items' as const, itemIds })),
	fc.record({
		kind: fc.constant('within' as const),
		collectionId: fc.constantFrom('course', 'section', 'shelf'),
		withPage: fc.boolean(),
		extensions: fc.constantFrom<string[]>([], ['pdf'])
	}),
	fc.constant({ kind: 'category' as const, categoryId: 'strip' }),
	fc.constant({ kind: 'tag' as const, tagId: 'oil' }),
	fc.constant({ kind: 'kind' as const, itemKind: 'lesson' as const }),
	fc.constantFrom('/courses', '/', '/courses/clock').map((path) => ({ kind: 'below' as const, path })),
	fc.constantFrom('les', 'clock', '/').map((text) => ({ kind: 'containing' as const, text })),
	fc.constantFrom('^/courses/', 'e$').map((pattern) => ({ kind: 'pattern' as const, pattern })),
	fc.constant({ kind: 'everything' as const })
);

export const aFence = (id: string): fc.Arbitrary<Fence> =>
	fc.record({
		id: fc.constant(id),
		name: fc.constant(id),
		isOn: fc.integer({ min: 0, max: 5 }).map((n) => n > 0),
		mode: fc.constantFrom('adds' as const, 'replaces' as const, 'replaces' as const, 'seals' as const),
		selector,
		crossings: fc
			.tuple(fc.option(crossing(`${id}-1`)), fc.option(crossing(`${id}-2`)))
			.map((c) => c.filter((one) => one !== null)),
		turnAway: fc.option(
			fc.constantFrom(
				turnAway({ kind: 'absent' }),
				turnAway({ kind: 'sent', to: '/plans' }),
				turnAway(notice('x'))
			)
		),
		listing: fc.constantFrom('shown' as const, 'left-out' as const),
		createdAt: fc.integer({ min: 0, max: 3 })
	});

const aRelease = (n: number): fc.Arbitrary<Release> =>
	fc.record({
		id: fc.constant(`release-${n}`),
		planId: fc.constantFrom(...PLAN_IDS),
		target: fc.oneof(
			fc.constantFrom(...IDS).map((id) => ({ kind: 'resource' as const, id: id as string })),
			fc.constant({ kind: 'category' as const, id: 'strip' })
		),
		window
	});

const plans: fc.Arbitrary<AccessPlan[]> = fc
	.tuple(fc.constantFrom('on' as const, 'stand-still' as const, 'anew' as const), fc.boolean())
	.map(([afterLapse, isLadder]) =>
		PLAN_IDS.map((id, n) => plan(id, { afterLapse, ladderId: isLadder && n < 2 ? 'ladder' : null, rung: n }))
	);

export const aSource: fc.Arbitrary<PolicySource> = fc
	.record({
		bases: fc.array(fc.constantFrom('open' as const, 'closed' as const, 'closed' as const), {
			minLength: 6,
			maxLength: 6
		}),
		scheduled: fc.option(moment, { freq: 3 }),
		fences: fc
			.tuple(aFence('f1'), fc.option(aFence('f2')), fc.option(aFence('f3')))
			.map((all) => all.filter((one) => one !== null)),
		releases: fc
			.tuple(fc.option(aRelease(1)), fc.option(aRelease(2)))
			.map((all) => all.filter((one) => one !== null))
			// One window for each plan and target.
			.map((all) =>
				all.filter((one, n) => n === 0 || one.planId !== all[0]?.planId || one.target.id !== all[0].target.id)
			),
		plans,
		releaseHour: fc.constantFrom(null, null, 8),
		lapseAfterDays: fc.constantFrom(0, 1, 2)
	})
	.map(({ bases, scheduled, ...rest }) =>
		source({
			...rest,
			zone: 'Europe/Vienna',
			turnAway: turnAway(notice('For members')),
			resources: RESOURCES.map((one, n) => ({
				...one,
				base: bases[n] ?? 'closed',
				...(n === 4 && scheduled !== null ? { state: 'scheduled' as const, publishAt: scheduled } : {})
			}))
		})
	);

export const aGrant = (id: string): fc.Arbitrary<Grant> =>
	fc
		.record({
			planId: fc.constantFrom(...PLAN_IDS),
			from: moment,
			days: fc.option(fc.integer({ min: 0, max: 20 }), { freq: 4 }),
			revokedAt: fc.option(moment, { freq: 1 }),
			renews: fc.boolean(),
			period: fc.option(fc.constant({ count: 1, unit: 'week' as const }))
		})
		.map(({ days, ...rest }) => ({
			id,
			source: 'order' as const,
			until: days === null ? null : rest.from + days * DAY,
			...rest
		}));

/** Of crossings that `aFence` may make. */
export const someNamings: fc.Arbitrary<Naming[]> = fc.uniqueArray(
	fc.record({ crossingId: fc.constantFrom('f1-1', 'f1-2', 'f2-1', 'f2-2', 'f3-1'), since: moment }),
	{ maxLength: 3, selector: ({ crossingId }) => crossingId }
);

export const aMember: fc.Arbitrary<Member> = fc.record({
	kind: fc.constant('member' as const),
	id: fc.constantFrom('wren', 'jasper'),
	isStaff: fc.constant(false),
	since: moment,
	grants: fc
		.tuple(fc.option(aGrant('g1')), fc.option(aGrant('g2')), fc.option(aGrant('g3')))
		.map((all) => all.filter((one) => one !== null)),
	tenures: fc
		.tuple(fc.option(moment), fc.boolean())
		.map(([at, isSetByHand]) => (at === null ? [] : [{ planId: 'a', firstJoinedAt: at, isSetByHand }])),
	redemptions: fc.option(moment).map((at) => (at === null ? [] : [{ batchId: 'fair', at }])),
	namings: someNamings
});

export const aViewer: fc.Arbitrary<Viewer> = fc.oneof(
	{ weight: 8, arbitrary: aMember },
	{
		weight: 1,
		arbitrary: fc
			.tuple(fc.option(moment), fc.option(aGrant('g1'), { freq: 1 }))
			.map(([at, given]): Viewer => ({
				kind: 'stranger',
				redemptions: at === null ? [] : [{ batchId: 'fair', at }],
				grants: given === null ? [] : [{ ...given, source: 'code', renews: false, period: null }]
			}))
	}
);

export const aContext: fc.Arbitrary<Context> = fc
	.tuple(
		fc.array(
			fc.record({
				grantId: fc.constantFrom('g1', 'g2', null),
				at: moment,
				hours: fc.integer({ min: 0, max: 24 })
			}),
			{ maxLength: 4 }
		),
		fc.array(fc.record({ count: fc.integer({ min: 1, max: 2 }), at: moment }), { maxLength: 2 })
	)
	.map(([uses, gifts]) => ({
		gifts,
		keptOut: null,
		uses: uses
			.map(({ hours, ...use }) => ({ ...use, goesOnUntil: use.at + hours * HOUR }))
			.sort((a, b) => a.at - b.at)
	}));
