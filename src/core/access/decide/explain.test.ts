/** The why: every step there is, in its order, with the facts that it names; and the short way beside the long one. */
import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
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
	staff,
	stranger,
	within
} from '../../../../tests/support/access';
import { aGrant, EPOCH } from '../../../../tests/support/arbitrary-access';
import {
	NO_CONTEXT,
	NO_LIMITS,
	type Context,
	type Crossing,
	type Fence,
	type Member,
	type PolicySource,
	type Resource,
	type Viewer
} from '../model';
import { compile } from '../policy';
import { decide, decideAddress, explain, explainAddress } from './decide';

const NOW = Date.parse('2026-03-01T12:00Z');
const lesson = resource('lesson', { kind: 'lesson', homeId: 'course' });
const world = (fences: Fence[], over: Partial<PolicySource> = {}) =>
	compile(
		source({
			resources: [lesson, resource('course', { kind: 'course' }), resource('other')],
			plans: [plan('a'), plan('b')],
			fences,
			...over
		})
	);
const on = (audience: Crossing['audience'], over: Partial<Crossing> = {}) => [
	fence('f', items('lesson'), [crossing(audience, { id: 'line', ...over })])
];
const steps = (
	fences: Fence[],
	viewer: Viewer,
	over: Partial<PolicySource> = {},
	context: Context = NO_CONTEXT
) => explain(world(fences, over), viewer, 'lesson', NOW, context).steps;
const held = (over: Parameters<typeof grant>[0] = {}) =>
	member([grant({ planId: 'a', from: NOW - DAY, ...over })]);

const F = { fenceId: 'f' };
const LINE = { ...F, crossingId: 'line', isThroughout: false };
const GRANT = { ...LINE, by: 'grant', planId: 'a', grantId: 'grant', releaseId: null };
const closes = { code: 'fence-replaces', ...F };
const limits = { ...NO_LIMITS, uses: { count: 1, per: 'grant' as const } };
const forMinutes = { ...NO_LIMITS, minutes: 5 };
const used = (over: Partial<Context> = {}): Context => ({
	...NO_CONTEXT,
	uses: [{ grantId: 'grant', at: NOW - DAY / 2, goesOnUntil: NOW - DAY / 2 }],
	...over
});
const redemptions = [{ batchId: 'fair', at: NOW - DAY }];

describe('the why of an item', () => {
	test.each<[string, Fence[], Viewer, Partial<PolicySource>, Context, unknown[]]>([
		['staff', on(holders('a')), staff, {}, NO_CONTEXT, [{ code: 'staff' }]],
		[
			'a draft',
			[],
			stranger,
			{ resources: [{ ...lesson, state: 'draft' }] },
			NO_CONTEXT,
			[{ code: 'draft' }]
		],
		[
			'scheduled for no day',
			[],
			stranger,
			{ resources: [{ ...lesson, state: 'scheduled' }] },
			NO_CONTEXT,
			[{ code: 'draft' }]
		],
		[
			'archived',
			[],
			stranger,
			{ resources: [{ ...lesson, state: 'archived' }] },
			NO_CONTEXT,
			[{ code: 'archived' }]
		],
		[
			'not published yet',
			[],
			stranger,
			{ resources: [{ ...lesson, state: 'scheduled', publishAt: NOW + 1 }] },
			NO_CONTEXT,
			[{ code: 'not-published-yet', at: NOW + 1 }]
		],
		[
			'from a blocked country',
			[],
			stranger,
			{},
			{ ...NO_CONTEXT, keptOut: 'country' },
			[{ code: 'kept-out', by: 'country' }]
		],
		['no fence, closed', [], stranger, {}, NO_CONTEXT, [{ code: 'base-closed' }]],
		[
			'no fence, open',
			[],
			stranger,
			{ resources: [{ ...lesson, base: 'open' }] },
			NO_CONTEXT,
			[{ code: 'base-open' }]
		],
		[
			'anyone',
			on({ kind: 'anyone' }),
			stranger,
			{},
			NO_CONTEXT,
			[closes, { code: 'crossed', ...LINE, by: 'anyone', until: null }]
		],
		[
			'signed in',
			on({ kind: 'signed-in' }),
			member(),
			{},
			NO_CONTEXT,
			[closes, { code: 'crossed', ...LINE, by: 'signed-in', until: null }]
		],
		[
			'not signed in',
			on({ kind: 'signed-in' }),
			stranger,
			{},
			NO_CONTEXT,
			[closes, { code: 'not-signed-in', ...F }]
		],
		[
			'named',
			on({ kind: 'named' }),
			member([], { namings: [{ crossingId: 'line', since: 0 }] }),
			{},
			NO_CONTEXT,
			[closes, { code: 'crossed', ...LINE, by: 'named', until: null }]
		],
		['not named', on({ kind: 'named' }), member(), {}, NO_CONTEXT, [closes, { code: 'not-named', ...F }]],
		[
			'a code',
			on({ kind: 'code', batchId: 'fair' }),
			member([], { redemptions: [{ batchId: 'letter', at: 0 }, ...redemptions] }),
			{},
			NO_CONTEXT,
			[closes, { code: 'crossed', ...LINE, by: 'code', batchId: 'fair', until: null }]
		],
		[
			'no code of this batch',
			on({ kind: 'code', batchId: 'letter' }),
			member([], { redemptions }),
			{},
			NO_CONTEXT,
			[closes, { code: 'no-code', ...F, batchId: 'letter' }]
		],
		[
			'a code on a device, where openings are counted',
			on({ kind: 'code', batchId: 'fair' }, { limits }),
			{ kind: 'stranger', redemptions, grants: [] },
			{},
			NO_CONTEXT,
			[closes, { code: 'not-signed-in', ...F }]
		],
		[
			'a grant',
			on(holders('a')),
			held({ until: NOW + 1 }),
			{},
			NO_CONTEXT,
			[closes, { code: 'crossed', ...GRANT, until: NOW + 1 }]
		],
		[
			'no grant',
			on(holders('a', 'b')),
			member([grant({ planId: 'c' })]),
			{},
			NO_CONTEXT,
			[closes, { code: 'no-grant', ...F, planIds: ['a', 'b'] }]
		],
		[
			'a grant that is to come',
			on(holders('a')),
			held({ from: NOW + 1 }),
			{},
			NO_CONTEXT,
			[closes, { code: 'grant-not-begun', at: NOW + 1, ...GRANT }]
		],
		[
			'a grant that begins as it ends',
			on(holders('a')),
			held({ from: NOW + 1, until: NOW + 1 }),
			{},
			NO_CONTEXT,
			[closes, { code: 'no-grant', ...F, planIds: ['a'] }]
		],
		[
			'a grant that ended',
			on(holders('a')),
			held({ until: NOW }),
			{},
			NO_CONTEXT,
			[closes, { code: 'grant-ended', at: NOW, isRevoked: false, ...GRANT }]
		],
		[
			'a grant that was revoked',
			on(holders('a')),
			held({ until: NOW + 9, revokedAt: NOW - 5 }),
			{},
			NO_CONTEXT,
			[closes, { code: 'grant-ended', at: NOW - 5, isRevoked: true, ...GRANT }]
		],
		[
			'a grant that ended, where it would have waited',
			on(holders('a'), { window: after(1, 'year') }),
			held({ until: NOW }),
			{},
			NO_CONTEXT,
			[closes, { code: 'grant-ended', at: NOW, isRevoked: false, ...GRANT }]
		],
		[
			'a release',
			on(holders('a')),
			held(),
			{ releases: [release('a', 'lesson', after(2, 'day'))] },
			NO_CONTEXT,
			[closes, { code: 'window-later', at: NOW + DAY, ...GRANT, releaseId: 'release-a-lesson' }]
		],
		[
			'a window that opens after the end of what is held',
			on(holders('a'), { window: after(9, 'day') }),
			held({ until: NOW + DAY }),
			{},
			NO_CONTEXT,
			[closes, { code: 'window-too-late', at: NOW, ...GRANT }]
		],
		[
			'a window that is over',
			on({ kind: 'anyone' }, { window: { opens: { kind: 'at-once' }, closes: { kind: 'on', at: NOW } } }),
			stranger,
			{},
			NO_CONTEXT,
			[closes, { code: 'window-over', at: NOW, ...LINE, by: 'anyone' }]
		],
		[
			'uses that are used up',
			on(holders('a'), { limits }),
			held(),
			{},
			used(),
			[closes, { code: 'uses-used-up', limit: limits.uses, ...GRANT }]
		],
		[
			'minutes that are',
			on(holders('a'), { limits: forMinutes }),
			held(),
			{},
			used(),
			[closes, { code: 'minutes-used-up', minutes: 5, ...GRANT }]
		],
		[
			'what follows something open',
			on({ kind: 'may-open', resourceId: 'other' }),
			held({ until: NOW + 1 }),
			{
				fences: [
					...on({ kind: 'may-open', resourceId: 'other' }),
					fence('o', items('other'), [crossing(holders('a'))])
				]
			},
			NO_CONTEXT,
			[closes, { code: 'crossed', ...LINE, by: 'may-open', resourceId: 'other', until: NOW + 1 }]
		],
		[
			'what follows something shut',
			on({ kind: 'may-open', resourceId: 'other' }),
			held(),
			{},
			NO_CONTEXT,
			[closes, { code: 'may-not-open', ...F, resourceId: 'other' }]
		]
	])('%s', (_name, fences, viewer, over, context, expected) => {
		expect(steps(over.fences ?? fences, viewer, over, context)).toEqual(expected);
	});

	it('is that of nothing, where there is nothing', () => {
		expect(explain(world([]), stranger, 'gone', NOW).steps).toEqual([{ code: 'no-such-resource' }]);
	});

	it('goes from the fences that are off along the walk, past what it did not reach, to the base', () => {
		const tag = (id: string, over: Partial<Fence> = {}, lines: Crossing[] = []) =>
			fence(id, { kind: 'tag', tagId: 'oil' }, lines, over);
		const tagged = { resources: [{ ...lesson, tagIds: ['oil'] }, resource('course', { kind: 'course' })] };
		const line = (planId: string, over = {}) => crossing(holders(planId), { id: planId, ...over });
		const adds = { mode: 'adds' } as const;
		const all = [
			fence('own', items('lesson'), [], adds),
			fence('off', items('lesson'), [line('a')], { isOn: false }),
			fence('course', within('course'), [line('a'), line('b')], adds),
			fence('empty', within('course'), [], { ...adds, createdAt: 1 }),
			tag('tag', { mode: 'seals' }, [line('a')]),
			tag('late', { mode: 'replaces', createdAt: 1 }),
			fence('wide', { kind: 'everything' }, [line('a', { isThroughout: true })])
		];
		expect(
			steps(all, stranger, tagged).map((step) => [step.code, 'fenceId' in step ? step.fenceId : ''])
		).toEqual([
			['fence-off', 'off'],
			['fence-adds', 'own'],
			['no-crossing', 'own'],
			['fence-adds', 'course'],
			['no-grant', 'course'],
			['no-grant', 'course'],
			['fence-adds', 'empty'],
			['no-crossing', 'empty'],
			['fence-seals', 'tag'],
			['no-grant', 'tag'],
			['fence-replaces', 'late'],
			['no-crossing', 'late'],
			['fence-beyond', 'wide']
		]);
		expect(steps(all, stranger, tagged).at(-1)).toEqual({
			code: 'fence-beyond',
			fenceId: 'wide',
			endedBy: 'tag',
			isSealed: true
		});
		// Without the seal, what holds throughout further out is tried, too; which fence that is was said with it.
		const throughout = [fence('own', items('lesson'), [line('a')]), all[6]!];
		expect(steps(throughout, stranger, tagged)).toEqual([
			{ code: 'fence-replaces', fenceId: 'own' },
			{ code: 'no-grant', fenceId: 'own', planIds: ['a'] },
			{ code: 'no-grant', fenceId: 'wide', planIds: ['a'] },
			{ code: 'fence-beyond', fenceId: 'wide', endedBy: 'own', isSealed: false }
		]);
		expect(steps([all[0]!], stranger).map(({ code }) => code)).toEqual([
			'fence-adds',
			'no-crossing',
			'base-closed'
		]);
	});
});

describe('the why of an address', () => {
	const policy = world([
		fence('front', { kind: 'path', path: '/' }, [crossing(holders('a'))]),
		...on({ kind: 'anyone' })
	]);
	test.each<[string, Viewer, string, string, string[]]>([
		['that an item has is that of the item', stranger, '/lesson', 'open', ['fence-replaces', 'crossed']],
		['that nothing has, fenced', stranger, '/', 'shut', ['fence-replaces', 'no-grant']],
		['that nothing has, fenced, for a holder', held(), '/', 'open', ['fence-replaces', 'crossed']],
		['that nothing has, without a fence', stranger, '/tags/oil', 'open', ['base-open']],
		['for staff', staff, '/', 'open', ['staff']],
		['for members', member(), '/', 'shut', ['fence-replaces', 'no-grant']]
	])('%s', (_name, viewer, path, verdict, codes) => {
		const explained = explainAddress(policy, viewer, path, NOW);
		expect(explained.decision.verdict).toBe(verdict);
		expect(explained.steps.map(({ code }) => code)).toEqual(codes);
		expect(decideAddress(policy, viewer, path, NOW)).toEqual(explained.decision);
	});
});

describe('what is taken over from what is followed', () => {
	const fences = (...lines: Crossing[]) => [
		...on({ kind: 'may-open', resourceId: 'other' }),
		fence('o', items('other'), lines)
	];
	const over = { opens: { kind: 'at-once' }, closes: { kind: 'on', at: NOW } } as const;
	test.each<[string, Crossing[], Viewer, object]>([
		[
			'that it is over',
			[crossing({ kind: 'anyone' }, { window: over })],
			stranger,
			{ verdict: 'over', standing: 'over' }
		],
		[
			'when it opens',
			[crossing(holders('a'))],
			held({ from: NOW + 5 }),
			{ verdict: 'opens-later', opensAt: NOW + 5, until: NOW + 5 }
		],
		[
			'that what opened it has lapsed',
			[crossing(holders('a'))],
			held({ until: NOW }),
			{ verdict: 'shut', standing: 'lapsed' }
		],
		[
			'that it is held in vain',
			[crossing(holders('a'), { window: after(9, 'day') })],
			held({ until: NOW + 1 }),
			{ verdict: 'shut', isHeldInVain: true, until: NOW + 1 }
		],
		[
			'nothing, where nothing is held',
			[crossing(holders('a'))],
			member(),
			{ verdict: 'shut', standing: 'without-plan', isHeldInVain: false, opensAt: null }
		],
		['nothing for strangers', [crossing(holders('a'))], stranger, { verdict: 'shut', standing: 'stranger' }]
	])('%s', (_name, lines, viewer, expected) => {
		expect(decide(world(fences(...lines)), viewer, 'lesson', NOW)).toMatchObject(expected);
	});
});

describe('who let somebody in, where several ways do', () => {
	const by = (fences: Fence[], viewer: Viewer, context: Context = NO_CONTEXT) => {
		const decision = decide(world(fences), viewer, 'lesson', NOW, context);
		if (decision.verdict !== 'open' || decision.allowedBy.by !== 'crossing')
			throw new Error(decision.verdict);
		const { crossingId, grantId, isCounted } = decision.allowedBy;
		return [crossingId, grantId, isCounted, decision.until];
	};
	const line = (id: string, planId: string, over: Partial<Crossing> = {}) =>
		crossing(holders(planId), { id, ...over });
	const many = (...lines: Crossing[]) => [fence('f', items('lesson'), lines)];
	const both = (a: number | null, b: number | null) =>
		member([
			grant({ id: 'ga', planId: 'a', from: NOW - DAY, until: a && NOW + a }),
			grant({ id: 'gb', planId: 'b', from: NOW - DAY, until: b && NOW + b })
		]);
	const anyone = crossing({ kind: 'anyone' }, { id: 'anyone' });

	test.each<[string, Crossing[], Viewer, unknown[]]>([
		[
			'what ends sooner is used first; it is open to the later end',
			[line('one', 'a'), line('two', 'b')],
			both(9, 5),
			['two', 'gb', false, NOW + 9]
		],
		[
			'the same the other way round',
			[line('one', 'a'), line('two', 'b')],
			both(5, 9),
			['one', 'ga', false, NOW + 9]
		],
		['an end before none', [line('one', 'a'), line('two', 'b')], both(null, 9), ['two', 'gb', false, null]],
		['none after an end', [line('one', 'a'), line('two', 'b')], both(9, null), ['one', 'ga', false, null]],
		[
			'of two without an end, what stands first',
			[line('one', 'a'), line('two', 'b')],
			both(null, null),
			['one', 'ga', false, null]
		],
		[
			'of two that end together, what stands first',
			[line('two', 'b'), line('one', 'a')],
			both(7, 7),
			['two', 'gb', false, NOW + 7]
		],
		['what ends, before anyone', [anyone, line('one', 'a')], both(9, null), ['one', 'ga', false, null]],
		[
			'anyone, before what has no end',
			[anyone, line('one', 'a')],
			both(null, null),
			['anyone', null, false, null]
		],
		['what stands before anyone', [line('one', 'a'), anyone], both(null, null), ['one', 'ga', false, null]],
		[
			'what is not counted',
			[line('one', 'a', { limits }), line('two', 'b')],
			both(5, 9),
			['two', 'gb', false, NOW + 9]
		],
		[
			'what is not counted, wherever it stands',
			[line('one', 'b'), line('two', 'a', { limits })],
			both(5, 9),
			['one', 'gb', false, NOW + 9]
		],
		[
			'of two that are counted, what ends sooner',
			[line('one', 'a', { limits }), line('two', 'b', { limits })],
			both(9, 5),
			['two', 'gb', true, NOW + 9]
		]
	])('%s', (_name, lines, viewer, expected) => {
		expect(by(many(...lines), viewer)).toEqual(expected);
	});
});

describe('the short way', () => {
	const aLine = (id: string): fc.Arbitrary<Crossing> =>
		fc
			.oneof(
				{
					weight: 5,
					arbitrary: fc.subarray(['a', 'b', 'c'], { minLength: 1 }).map((planIds) => holders(...planIds))
				},
				{
					weight: 1,
					arbitrary: fc.constantFrom<Crossing['audience']>({ kind: 'anyone' }, { kind: 'signed-in' })
				}
			)
			.map((audience) => crossing(audience, { id }));
	const plainWorld = fc
		.record({
			lines: fc.tuple(aLine('l1'), aLine('l2'), aLine('l3')),
			base: fc.constantFrom('open', 'closed', 'closed'),
			mode: fc.constantFrom('adds', 'replaces', 'replaces')
		})
		.map(({ lines: [one, two, three], base, mode }) =>
			compile(
				source({
					resources: [resource('lesson', { base: base as Resource['base'] })],
					plans: ['a', 'b', 'c'].map((id) => plan(id)),
					fences: [
						fence('f', items('lesson'), [one, two], { mode: 'adds' }),
						fence('g', { kind: 'everything' }, [three], { mode: mode as Fence['mode'] })
					]
				})
			)
		);
	const aHolder: fc.Arbitrary<Member> = fc
		.tuple(
			fc.option(aGrant('g1')),
			fc.option(aGrant('g2')),
			fc.option(aGrant('g3')),
			fc.integer({ min: -3, max: 20 })
		)
		.map(([g1, g2, g3, day]) =>
			member([...[g1, g2, g3].filter((one) => one !== null)], { since: EPOCH + day * DAY })
		);

	it('gives what the long way gives, down to who let them in', () => {
		const seen = new Set<string>();
		fc.assert(
			fc.property(plainWorld, fc.option(aHolder), fc.integer({ min: -2, max: 25 }), (policy, holder, day) => {
				const viewer = holder ?? stranger;
				for (const at of [
					EPOCH + day * DAY,
					...(holder?.grants.flatMap(({ from, until }) => [from, until ?? from]) ?? [])
				]) {
					const short = decide(policy, viewer, 'lesson', at);
					expect(short).toEqual(explain(policy, viewer, 'lesson', at).decision);
					seen.add(short.verdict === 'open' ? short.allowedBy.by : short.standing);
				}
				expect(policy.place('lesson')?.passage.plain).not.toBeNull();
			}),
			{ seed: 8, numRuns: 400 }
		);
		expect([...seen].sort()).toEqual(['base', 'crossing', 'lapsed', 'stranger', 'too-early', 'without-plan']);
	});

	it('makes a refusal once for everybody of one standing', () => {
		const policy = world(on(holders('a')));
		const shut = (viewer: Viewer) => decide(policy, viewer, 'lesson', NOW);
		expect(shut(stranger)).toBe(shut({ ...stranger }));
		expect(shut(member())).toBe(shut(member([], { id: 'jasper' })));
		expect(shut(held({ until: NOW }))).toBe(shut(held({ until: NOW - 1 })));
		expect(
			[shut(stranger), shut(member()), shut(held({ until: NOW }))].map(
				(one) => 'standing' in one && one.standing
			)
		).toEqual(['stranger', 'without-plan', 'lapsed']);
	});
});
