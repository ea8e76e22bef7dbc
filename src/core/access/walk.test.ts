import { describe, expect, it, test } from 'vitest';
import {
	after,
	crossing,
	fence,
	holders,
	items,
	member,
	grant,
	notice,
	plan,
	release,
	resource,
	source,
	stranger,
	turnAway,
	within
} from '../../../tests/support/access';
import { decide, explain } from './decide/decide';
import { inspect } from './inspect';
import {
	NO_LIMITS,
	type Crossing,
	type Fence,
	type FenceMode,
	type PolicySource,
	type Selector
} from './model';
import { compile } from './policy';
import { isForDevices } from './walk';

const NOW = 1000;
const NO_SITE_LIMITS = { uses: 'none', minutes: 'none', hours: 'none' } as const;
const RESOURCES = [
	resource('lesson', { kind: 'lesson', homeId: 'section', tagIds: ['oil', 'rust'] }),
	resource('section', { kind: 'section', homeId: 'course', address: null }),
	resource('course', { kind: 'course' })
];
const PLANS = ['a', 'b', 'c', 'd'];
const policyOf = (fences: Fence[], site = turnAway(notice('For members'))) =>
	compile(source({ resources: RESOURCES, plans: PLANS.map((id) => plan(id)), fences, turnAway: site }));
const opensFor = (fences: Fence[]) =>
	PLANS.filter(
		(planId) => decide(policyOf(fences), member([grant({ planId })]), 'lesson', NOW).verdict === 'open'
	).join('');

/** Three fences within each other, narrowest first, for the plans a, b and c; the course's and section's hold throughout. */
const nested = (...modes: [FenceMode, FenceMode, FenceMode]): Fence[] =>
	[items('lesson'), within('section'), within('course')].map((selector, n) =>
		fence(`f${n}`, selector, [crossing(holders('abc'[n] ?? ''), { isThroughout: true })], {
			mode: modes[n] ?? 'adds'
		})
	);

describe('three fences within each other', () => {
	// The narrowest replaces or seals, or adds: which of a (nearest), b and c get in.
	test.each([
		['adds', 'adds', 'adds', 'abc'],
		['adds', 'adds', 'replaces', 'abc'],
		['adds', 'replaces', 'adds', 'abc'],
		['replaces', 'adds', 'adds', 'abc'],
		['replaces', 'replaces', 'replaces', 'abc'],
		['seals', 'replaces', 'replaces', 'a'],
		['seals', 'seals', 'seals', 'a'],
		['replaces', 'seals', 'adds', 'ab'],
		['replaces', 'seals', 'replaces', 'ab'],
		['replaces', 'seals', 'seals', 'ab'],
		['adds', 'seals', 'replaces', 'ab'],
		['replaces', 'adds', 'seals', 'abc'],
		['replaces', 'replaces', 'seals', 'abc'],
		['adds', 'adds', 'seals', 'abc']
	] as const)('%s, %s, %s: %s', (first, second, third, expected) => {
		expect(opensFor(nested(first, second, third))).toBe(expected);
	});

	it('keeps out crossings from outside that do not hold throughout', () => {
		const inner = fence('in', items('lesson'), [crossing(holders('a'))]);
		const outer = fence('out', within('course'), [
			crossing(holders('b')),
			crossing(holders('c'), { isThroughout: true })
		]);
		expect(opensFor([inner, outer])).toBe('ac');
	});

	it('says of each fence that was not reached which one it ended at', () => {
		const { steps } = explain(policyOf(nested('replaces', 'seals', 'replaces')), stranger, 'lesson', NOW);
		expect(steps.filter(({ code }) => code === 'fence-beyond')).toEqual([
			{ code: 'fence-beyond', fenceId: 'f1', endedBy: 'f0', isSealed: false },
			{ code: 'fence-beyond', fenceId: 'f2', endedBy: 'f1', isSealed: true }
		]);
		const never = [
			fence('in', items('lesson'), []),
			fence('seal', { kind: 'tag', tagId: 'oil' }, [], { mode: 'seals' }),
			fence('out', { kind: 'kind', itemKind: 'lesson' }, [crossing(holders('a'), { isThroughout: true })])
		];
		expect(inspect(policyOf(never), NOW).findings).toContainEqual({
			code: 'always-beaten',
			fenceId: 'out',
			byIds: ['seal']
		});
	});
});

describe('fences of one rank', () => {
	const tag = (id: string, tagId: string, planId: string, over: Partial<Fence> = {}) =>
		fence(id, { kind: 'tag', tagId }, [crossing(holders(planId))], over);

	it('join: any of their crossings may be used, whatever each of them does', () => {
		expect(opensFor([tag('one', 'oil', 'a'), tag('two', 'rust', 'b')])).toBe('ab');
		expect(opensFor([tag('one', 'oil', 'a', { mode: 'seals' }), tag('two', 'rust', 'b')])).toBe('ab');
		expect(opensFor([tag('one', 'oil', 'a', { mode: 'adds' }), tag('two', 'rust', 'b')])).toBe('ab');
	});

	it('seal off what is wider where one of them seals, be it the younger', () => {
		const wide = fence('wide', { kind: 'everything' }, [crossing(holders('c'), { isThroughout: true })]);
		const one = tag('one', 'oil', 'a', { createdAt: 1 });
		expect(opensFor([wide, one, tag('two', 'rust', 'b', { createdAt: 2 })])).toBe('abc');
		const sealed = [wide, one, tag('two', 'rust', 'b', { createdAt: 2, mode: 'seals' })];
		expect(opensFor(sealed)).toBe('ab');
		expect(explain(policyOf(sealed), stranger, 'lesson', NOW).steps.at(-1)).toEqual({
			code: 'fence-beyond',
			fenceId: 'wide',
			endedBy: 'two',
			isSealed: true
		});
	});
});

describe('what those get who are turned away', () => {
	const SENT = turnAway({ kind: 'sent', to: '/plans' });
	const GONE = turnAway({ kind: 'absent' });
	const OWN = turnAway(notice('Own'));
	const at = (selector: Selector, turn: typeof OWN | null, over: Partial<Fence> = {}) =>
		fence(`${JSON.stringify(selector)}`, selector, [crossing(holders('a'))], { turnAway: turn, ...over });
	const lesson = items('lesson');
	const [course, section] = [within('course'), within('section')];
	const [oil, rust]: [Selector, Selector] = [
		{ kind: 'tag', tagId: 'oil' },
		{ kind: 'tag', tagId: 'rust' }
	];
	const adds = { mode: 'adds' } as const;
	const refused = (fences: Fence[], site?: typeof OWN) => {
		const decision = decide(policyOf(fences, site), stranger, 'lesson', NOW);
		if (decision.verdict === 'open') throw new Error('It is open');
		return decision;
	};

	test.each([
		['the closing fence’s own', [at(lesson, SENT)], 'sent'],
		['not that of a wider fence that was not reached', [at(lesson, OWN), at(course, GONE)], 'notice'],
		['the site’s default where it has none', [at(lesson, null), at(course, GONE)], 'notice'],
		['the strictest among equals: sent', [at(oil, OWN), at(rust, SENT)], 'sent'],
		['the strictest among equals: absent', [at(oil, SENT), at(rust, GONE)], 'absent'],
		[
			'that of a nearer fence that adds, where it is stricter',
			[at(lesson, GONE, adds), at(course, OWN)],
			'absent'
		],
		['that of what closes, where it is stricter', [at(lesson, OWN, adds), at(course, GONE)], 'absent'],
		['nothing of a nearer fence that adds and has none', [at(lesson, null, adds), at(course, SENT)], 'sent'],
		['nothing of a wider one that adds', [at(section, OWN), at(course, GONE, adds)], 'notice'],
		['the site’s default, where only the base closes', [at(lesson, OWN, adds)], 'notice'],
		['an adding fence’s, where only the base closes and it is stricter', [at(lesson, GONE, adds)], 'absent']
	])('is %s', (_name, fences, expected) => {
		expect(refused(fences).answer.kind).toBe(expected);
	});

	it('counts the site’s default as what it is among equals', () => {
		expect(refused([at(oil, OWN), at(rust, null)], GONE).answer.kind).toBe('absent');
		expect(refused([at(oil, SENT), at(rust, null)], OWN).answer.kind).toBe('sent');
		expect(refused([at(lesson, OWN, adds)], GONE).answer.kind).toBe('absent');
		expect(refused([], SENT).answer.kind).toBe('sent');
	});

	it('counts the site’s default nowhere else: not where what closes has words of its own, whatever adds before it', () => {
		expect(refused([at(lesson, OWN)], GONE).answer.kind).toBe('notice');
		expect(refused([at(lesson, null, adds), at(course, OWN)], GONE).answer.kind).toBe('notice');
		expect(refused([at(lesson, SENT, adds), at(course, OWN)], GONE).answer.kind).toBe('sent');
		expect(refused([at(lesson, SENT, adds), at(course, null)], GONE).answer.kind).toBe('absent');
	});

	it('has words for a case only where somebody has', () => {
		const lapsing = turnAway(notice('Own'), { cases: { lapsed: { kind: 'absent' } } });
		const cases = (...fences: Fence[]) => {
			const policy = policyOf(fences);
			return policy.place('lesson')?.passage.turnAway.cases;
		};
		expect(cases(at(oil, lapsing), at(rust, SENT))).toEqual({ lapsed: { kind: 'absent' } });
		expect(cases(at(oil, lapsing))).toEqual({ lapsed: { kind: 'absent' } });
		expect(cases(at(oil, OWN), at(rust, SENT))).toEqual({});
	});

	it('is that of the nearest among the equally strict, then of the oldest', () => {
		const words = (text: string) => turnAway(notice(text));
		expect(refused([at(lesson, words('near'), adds), at(course, words('far'))]).answer).toEqual(
			notice('near')
		);
		expect(
			refused([at(oil, words('young'), { createdAt: 2 }), at(rust, words('old'), { createdAt: 1 })]).answer
		).toEqual(notice('old'));
	});

	it('weighs each case by itself', () => {
		const kind = turnAway(notice('Own'), { cases: { stranger: { kind: 'absent' } } });
		const sends = turnAway({ kind: 'sent', to: '/plans' }, { cases: { lapsed: notice('Come back') } });
		expect(refused([at(oil, kind), at(rust, sends)])).toMatchObject({ answer: { kind: 'absent' } });
		const lapsed = decide(
			policyOf([at(oil, kind), at(rust, sends)]),
			member([grant({ planId: 'a', until: NOW - 1 })]),
			'lesson',
			NOW
		);
		expect(lapsed).toMatchObject({ standing: 'lapsed', answer: notice('Own') });
	});

	test.each([
		['the closing fence leaves it out', [at(lesson, null, { listing: 'left-out' })], false],
		['one of equals leaves it out', [at(oil, null), at(rust, null, { listing: 'left-out' })], false],
		[
			'a nearer one that adds leaves it out',
			[at(lesson, null, { ...adds, listing: 'left-out' }), at(course, null)],
			false
		],
		[
			'only one that was not reached leaves it out',
			[at(lesson, null), at(course, null, { listing: 'left-out' })],
			true
		],
		[
			'one that adds leaves out what the base closes',
			[at(lesson, null, { ...adds, listing: 'left-out' })],
			false
		],
		['nothing speaks', [], true]
	])('stands in lists or not: %s', (_name, fences, expected) => {
		expect(refused(fences).isListed).toBe(expected);
	});
});

describe('a place where nothing waits and nothing is counted', () => {
	const limited = { ...NO_LIMITS, minutes: 5 };
	const window = after(1, 'day');
	const plainAt = (crossings: Crossing[], over: Partial<PolicySource> = {}) =>
		compile(
			source({
				resources: RESOURCES,
				plans: PLANS.map((id) => plan(id)),
				fences: [fence('f', items('lesson'), crossings)],
				...over
			})
		).place('lesson')?.passage.plain;

	test.each<[string, Crossing[], Partial<PolicySource>, boolean]>([
		['holders', [crossing(holders('a'))], {}, true],
		['anyone', [crossing({ kind: 'anyone' })], {}, true],
		['whoever is signed in', [crossing({ kind: 'signed-in' })], {}, true],
		['nobody', [], {}, true],
		['holders with a window', [crossing(holders('a'), { window })], {}, false],
		['holders with a limit', [crossing(holders('a'), { limits: limited })], {}, false],
		['anyone from a day on', [crossing({ kind: 'anyone' }, { window })], {}, false],
		['anyone, a counted time', [crossing({ kind: 'anyone' }, { limits: limited })], {}, false],
		['named members', [crossing({ kind: 'named' })], {}, false],
		['holders of a code', [crossing({ kind: 'code', batchId: 'fair' })], {}, false],
		[
			'holders, and one of them with a window',
			[crossing(holders('a')), crossing(holders('b'), { window })],
			{},
			false
		],
		[
			'holders of whom one waits for a release',
			[crossing(holders('a', 'b'))],
			{ releases: [release('b', 'lesson', window)] },
			false
		],
		[
			'holders, a release for others',
			[crossing(holders('a'))],
			{ releases: [release('b', 'lesson', window)] },
			true
		],
		[
			'holders, by the site’s limit',
			[crossing(holders('a'), { limits: { ...NO_LIMITS, hours: 'site' } })],
			{ limits: { ...NO_SITE_LIMITS, hours: 3 } },
			false
		],
		[
			'holders, by no limit of the site',
			[crossing(holders('a'), { limits: { ...NO_LIMITS, hours: 'site' } })],
			{},
			true
		]
	])('where the crossing is for %s', (_name, crossings, over, expected) => {
		expect(plainAt(crossings, over) !== null).toBe(expected);
	});

	it('knows the first way of each', () => {
		const crossings = [
			crossing(holders('b', 'c'), { id: 'one' }),
			crossing(holders('c', 'd'), { id: 'two' }),
			crossing({ kind: 'anyone' }, { id: 'three' }),
			crossing({ kind: 'signed-in' }, { id: 'four' }),
			crossing({ kind: 'anyone' }, { id: 'five' })
		];
		const plain = plainAt(crossings);
		expect([plain?.anyone?.crossing.id, plain?.signedIn?.crossing.id]).toEqual(['three', 'four']);
		expect([...(plain?.holders ?? [])]).toEqual([-1, 0, 0, 1]);
	});
});

describe('the ways at a place', () => {
	const waysAt = (over: Partial<PolicySource>, id = 'lesson') =>
		compile(source({ resources: RESOURCES, plans: PLANS.map((one) => plan(one)), ...over })).place(id)
			?.passage.ways ?? [];

	it('are made once for places without a release near them, and apart where one is', () => {
		const policy = compile(
			source({
				resources: [...RESOURCES, resource('far'), resource('farther')],
				plans: PLANS.map((one) => plan(one)),
				fences: [fence('f', items('lesson', 'far', 'farther'), [crossing(holders('a'))])],
				releases: [release('a', 'lesson', after(1, 'day'))]
			})
		);
		const way = (id: string) => policy.place(id)?.passage.ways[0];
		expect(way('far')).toBe(way('farther'));
		expect(way('lesson')).not.toBe(way('far'));
		expect([way('lesson')?.plans?.get('a')?.window, way('far')?.plans?.get('a')?.window]).toEqual([
			after(1, 'day'),
			null
		]);
	});

	it('say whether they come from past the end of the walk', () => {
		const over = [
			fence('n', items('lesson'), [crossing(holders('a'))]),
			fence('w', within('course'), [crossing(holders('b'), { isThroughout: true })])
		];
		expect(waysAt({ fences: over }).map(({ fence, isThroughout }) => [fence.id, isThroughout])).toEqual([
			['n', false],
			['w', true]
		]);
		// What is met on the walk at another place is no such way there.
		const policy = policyOf(over);
		policy.place('lesson');
		expect(policy.place('course')?.passage.ways.map(({ isThroughout }) => isThroughout)).toEqual([false]);
	});

	it('have the nearest of several releases, and of plans that are gone no way', () => {
		const releases = [
			release('a', 'course', after(3, 'day')),
			release('a', 'lesson', after(1, 'day')),
			release('a', 'section', after(2, 'day'))
		];
		const [way] = waysAt({
			fences: [fence('f', items('lesson'), [crossing(holders('a', 'gone'))])],
			releases
		});
		expect([...(way?.plans?.keys() ?? [])]).toEqual(['a']);
		expect(way?.plans?.get('a')?.releaseId).toBe('release-a-lesson');
	});

	it('count the time of a ladder as one, and of a plan on none by itself', () => {
		const plans = [
			plan('a', { ladderId: 'l' }),
			plan('b', { ladderId: 'l', rung: 1 }),
			plan('c'),
			plan('d', { ladderId: 'm' })
		];
		const [way] = waysAt({
			plans,
			fences: [fence('f', items('lesson'), [crossing(holders('a', 'b', 'c', 'd'))])]
		});
		expect([...(way?.plans?.values() ?? [])].map(({ tenureOf }) => tenureOf)).toEqual([
			['a', 'b'],
			['a', 'b'],
			['c'],
			['d']
		]);
	});

	it('stand with the oldest fence first, and those of one moment by their ids, however they were written down', () => {
		const on = (id: string, tagId: string, createdAt: number) =>
			fence(id, { kind: 'tag', tagId }, [crossing(holders('a'))], { createdAt });
		const order = (...fences: Fence[]) => waysAt({ fences }).map((way) => way.fence.id);
		expect(order(on('x', 'oil', 2), on('y', 'rust', 1))).toEqual(['y', 'x']);
		expect(order(on('x', 'oil', 1), on('y', 'rust', 2))).toEqual(['x', 'y']);
		expect(order(on('y', 'oil', 1), on('x', 'rust', 1))).toEqual(['x', 'y']);
		expect(order(on('x', 'oil', 1), on('y', 'rust', 1))).toEqual(['x', 'y']);
		expect(order(on('z', 'oil', 1), on('y', 'oil', 1), on('x', 'oil', 1))).toEqual(['x', 'y', 'z']);
	});

	test.each([
		['nothing is counted', {}, true],
		['hours are', { hours: 3 }, true],
		['openings are', { uses: { count: 1, per: 'grant' } }, false],
		['minutes are', { minutes: 3 }, false],
		['openings and hours are', { uses: { count: 1, per: 'grant' }, hours: 3 }, false]
	] as const)('are for devices without an account where %s', (_name, limits, expected) => {
		const coded = crossing({ kind: 'code', batchId: 'fair' }, { limits: { ...NO_LIMITS, ...limits } });
		const [way] = waysAt({ fences: [fence('f', items('lesson'), [coded])] });
		expect(way && isForDevices(way)).toBe(expected);
	});
});
