import { describe, expect, it, test } from 'vitest';
import {
	crossing,
	fence,
	holders,
	items,
	member,
	grant,
	notice,
	plan,
	resource,
	source,
	stranger,
	turnAway,
	within
} from '../../../tests/support/access';
import { decide, explain } from './decide/decide';
import { inspect } from './inspect';
import type { Fence, FenceMode, Selector } from './model';
import { compile } from './policy';

const NOW = 1000;
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
