import { describe, expect, it, test } from 'vitest';
import {
	crossing,
	fence,
	holders,
	items,
	plan,
	resource,
	source,
	within
} from '../../../tests/support/access';
import { followsItself, inspect, MANY, otherCase, type Finding } from './inspect';
import { compile } from './policy';

const NOW = 0;
const base = source({
	resources: [
		resource('course', { kind: 'course', base: 'open', address: '/courses/clock' }),
		resource('lesson', { kind: 'lesson', homeId: 'course', categoryId: 'strip', tagIds: ['oil', 'rust'] }),
		resource('film')
	],
	plans: [plan('workshop')],
	fences: [fence('all', { kind: 'everything' }, [crossing(holders('workshop'))])]
});
const findingsWith = (over: Partial<typeof base>): Finding[] =>
	inspect(compile({ ...base, ...over }), NOW).findings;
const more = (...fences: typeof base.fences) => findingsWith({ fences: [...base.fences, ...fences] });
const anyone = [crossing({ kind: 'anyone' })];

describe('what looks wrong', () => {
	it('is nothing where all is well', () => {
		expect(findingsWith({})).toEqual([]);
	});

	test.each([
		[
			'a fence on an empty category',
			fence('x', { kind: 'category', categoryId: 'empty' }, anyone),
			{ code: 'catches-nothing', fenceId: 'x' }
		],
		[
			'a fence that is off',
			fence('x', items('lesson'), anyone, { isOn: false }),
			{ code: 'is-off', fenceId: 'x' }
		],
		[
			'a pattern that holds on to nothing',
			fence('x', { kind: 'pattern', pattern: 'less' }, []),
			{ code: 'pattern-unanchored', fenceId: 'x' }
		],
		[
			'a path in another case',
			fence('x', { kind: 'path', path: '/Courses/clock' }, []),
			{ code: 'path-other-case', fenceId: 'x', path: '/Courses/clock', meant: '/courses/clock' }
		],
		[
			'what anyone can open',
			fence('x', items('film'), anyone),
			{ code: 'open-to-anyone', resourceIds: ['film'] }
		],
		[
			'a circle',
			fence('x', items('film'), [crossing({ kind: 'may-open', resourceId: 'film' })]),
			{ code: 'follows-in-a-circle', fenceId: 'x', resourceId: 'film' }
		]
	])('reports %s', (_name, suspicious, finding) => {
		expect(more(suspicious)).toContainEqual(finding);
	});

	it('reports a fence that a narrower one always beats', () => {
		expect(
			more(fence('x', within('course', { withPage: false }), []), fence('y', items('lesson'), []))
		).toContainEqual({
			code: 'always-beaten',
			fenceId: 'x',
			byIds: ['y']
		});
	});

	it('does not report a beaten fence whose crossing holds throughout', () => {
		const x = fence('x', within('course', { withPage: false }), [
			crossing(holders('workshop'), { isThroughout: true })
		]);
		expect(more(x, fence('y', items('lesson'), [])).map(({ code }) => code)).not.toContain('always-beaten');
	});

	it('warns where two tags join and where a category meets a tag', () => {
		const oil = fence('oil', { kind: 'tag', tagId: 'oil' }, []);
		const rust = fence('rust', { kind: 'tag', tagId: 'rust' }, []);
		const strip = fence('strip', { kind: 'category', categoryId: 'strip' }, []);
		expect(more(oil, rust)).toContainEqual({
			code: 'tags-join',
			fenceIds: ['oil', 'rust'],
			resourceIds: ['lesson']
		});
		expect(more(oil, strip)).toContainEqual({
			code: 'category-meets-tag',
			fenceIds: ['strip', 'oil'],
			resourceIds: ['lesson']
		});
	});

	it('warns of a pattern that catches more than was meant', () => {
		const resources = Array.from({ length: MANY + 1 }, (_, n) => resource(`film-${n}`));
		const fences = [fence('x', { kind: 'pattern', pattern: '^/film-.*$' }, [])];
		expect(findingsWith({ resources, fences })).toContainEqual({
			code: 'pattern-catches-many',
			fenceId: 'x',
			count: MANY + 1
		});
	});

	it('warns of no rung that opens the same as the one below it, nor of plans on no ladder or on another', () => {
		const rungs = (over: Parameters<typeof plan>[1], fencesOf: string[] = ['low', 'high']) =>
			findingsWith({
				plans: [plan('low', { ladderId: 'l', rung: 0 }), plan('high', { ladderId: 'l', rung: 1, ...over })],
				fences: [fence('a', items('lesson', 'film'), [crossing(holders(...fencesOf))])]
			}).map(({ code }) => code);
		expect(rungs({})).toEqual([]);
		expect(rungs({}, ['low'])).toContain('rung-opens-less');
		expect(rungs({ ladderId: 'other' }, ['low'])).not.toContain('rung-opens-less');
		expect(rungs({ ladderId: null }, ['low'])).not.toContain('rung-opens-less');
		expect(rungs({ rung: 0 }, ['low'])).not.toContain('rung-opens-less');
	});

	it('names an address in another case only where the path itself catches nothing', () => {
		const path = (text: string) => more(fence('x', { kind: 'path', path: text }, [])).map(({ code }) => code);
		expect(path('/COURSES')).toContain('path-other-case');
		expect(path('/courses/clock')).not.toContain('path-other-case');
		expect(path('/courses/clocks')).not.toContain('path-other-case');
		expect(
			more(fence('x', { kind: 'below', path: '/Courses' }, [])).find(({ code }) => code === 'path-other-case')
		).toMatchObject({ path: '/Courses', meant: '/courses' });
	});

	it('warns of a plan that opens nothing and of a higher rung that opens less', () => {
		const plans = [
			plan('low', { ladderId: 'l', rung: 0 }),
			plan('high', { ladderId: 'l', rung: 1 }),
			plan('idle')
		];
		const fences = [
			fence('a', items('lesson', 'film'), [crossing(holders('low'))]),
			fence('b', items('film'), [crossing(holders('high'))], { mode: 'adds' })
		];
		const found = findingsWith({ plans, fences });
		expect(found).toContainEqual({ code: 'plan-opens-nothing', planId: 'idle', drafts: 0 });
		expect(found).toContainEqual({
			code: 'rung-opens-less',
			planId: 'high',
			lowerPlanId: 'low',
			resourceIds: ['lesson']
		});
	});

	const codes = (...fences: typeof base.fences) => more(...fences).map(({ code }) => code);

	it.each<[string, Parameters<typeof fence>[1], string[]]>([
		['a fence on the front page catches no item and is meant to', { kind: 'path', path: '/' }, []],
		['one on any other path that nothing has', { kind: 'path', path: '/nowhere' }, ['catches-nothing']],
		['one below the front page beats the one on everything', { kind: 'below', path: '/' }, ['always-beaten']],
		['one on everything', { kind: 'everything' }, []],
		['a pattern that holds on to both ends', { kind: 'pattern', pattern: '^/film$' }, []],
		[
			'a pattern that holds on to its beginning',
			{ kind: 'pattern', pattern: '^/fil' },
			['pattern-unanchored']
		],
		['a pattern that holds on to its end', { kind: 'pattern', pattern: 'ilm$' }, ['pattern-unanchored']],
		['what is below something that is there', { kind: 'below', path: '/courses' }, []]
	])('of a fence: %s', (_name, selector, expected) => {
		expect(codes(fence('x', selector, [crossing(holders('workshop'))]))).toEqual(expected);
	});

	it('is a pattern that catches more than so many, and not one that catches just as many', () => {
		const resources = Array.from({ length: MANY }, (_, n) => resource(`film-${n}`));
		const fences = [fence('x', { kind: 'pattern', pattern: '^/film-.*$' }, [crossing(holders('workshop'))])];
		expect(findingsWith({ resources, fences })).toEqual([]);
	});

	it('is a fence of which all is decided by narrower ones, if it is on and counts nowhere', () => {
		const narrow = fence('y', items('lesson', 'course'), []);
		const wide = (over: Partial<(typeof base.fences)[number]> = {}) => fence('x', within('course'), [], over);
		expect(codes(wide(), narrow)).toContain('always-beaten');
		expect(codes(wide({ isOn: false }), narrow)).not.toContain('always-beaten');
		expect(codes(wide(), fence('y', items('lesson'), []))).not.toContain('always-beaten');
		const throughout = [crossing(holders('workshop'), { isThroughout: true }), crossing(holders('workshop'))];
		expect(codes(fence('x', within('course'), throughout), narrow)).not.toContain('always-beaten');
		// One that holds throughout elsewhere does not make this one count.
		expect(
			codes(wide(), narrow, fence('z', { kind: 'tag', tagId: 'oil' }, throughout)).filter(
				(code) => code === 'always-beaten'
			)
		).toHaveLength(1);
	});

	it('is where fences on two tags meet, all that they meet at together, and not one that is off or alone', () => {
		const resources = [
			...base.resources,
			resource('second', { tagIds: ['oil', 'rust'] }),
			resource('third', { tagIds: ['oil'] })
		];
		const on = (id: string, over = {}) =>
			fence(id, { kind: 'tag', tagId: id }, [crossing(holders('workshop'))], over);
		const joins = (...fences: typeof base.fences) =>
			findingsWith({ resources, fences: [...base.fences, ...fences] }).filter(({ code }) =>
				code.includes('tag')
			);
		expect(joins(on('oil'), on('rust'))).toEqual([
			{ code: 'tags-join', fenceIds: ['oil', 'rust'], resourceIds: ['lesson', 'second'] }
		]);
		expect(joins(on('oil'), on('rust', { isOn: false }))).toEqual([]);
		expect(joins(on('oil'))).toEqual([]);
		const strips = ['a', 'b'].map((id) =>
			fence(id, { kind: 'category', categoryId: 'strip' }, [crossing(holders('workshop'))])
		);
		expect(joins(...strips)).toEqual([]);
	});

	it('is what anyone can open, but for pages, collections and what has no address', () => {
		const open = (over: Partial<Parameters<typeof resource>[1]>) =>
			findingsWith({ resources: [resource('x', { base: 'open', ...over })], fences: [], plans: [] });
		expect(open({})).toEqual([{ code: 'open-to-anyone', resourceIds: ['x'] }]);
		expect(open({ kind: 'page' })).toEqual([]);
		expect(open({ kind: 'shelf' })).toEqual([]);
		expect(open({ address: null })).toEqual([]);
		expect(open({ base: 'closed' })).toEqual([]);
	});

	it('is no rung where plans stand on none', () => {
		const found = findingsWith({
			plans: [plan('low', { rung: 0 }), plan('high', { rung: 1 })],
			fences: [
				fence('a', items('lesson'), [crossing(holders('low'))]),
				fence('b', items('film'), [crossing(holders('high'))])
			]
		});
		expect(found).toEqual([]);
	});
});

describe('what follows itself', () => {
	const follows = (id: string, other: string) =>
		fence(`f-${id}`, items(id), [crossing({ kind: 'may-open', resourceId: other }), crossing(holders('a'))]);
	const policy = compile(
		source({
			plans: [plan('a')],
			resources: ['one', 'two', 'three', 'four', 'five'].map((id) => resource(id)),
			fences: [
				follows('one', 'two'),
				follows('two', 'three'),
				follows('three', 'two'),
				follows('four', 'gone')
			]
		})
	);

	it.each([
		['itself', 'one', ['one'], true],
		['what is followed at once', 'one', ['two'], true],
		['what is followed in the end', 'one', ['three'], true],
		['what nothing here follows', 'one', ['four'], false],
		['nothing, round a circle of others', 'two', ['one'], false],
		['nothing, past something that is gone', 'four', ['one'], false],
		['something that follows nothing', 'five', ['one', 'two', 'three', 'four'], false]
	])('%s', (_name, from, targets, expected) => {
		expect(followsItself(policy, from, targets)).toBe(expected);
	});
});

describe('an address in other letters', () => {
	const policy = compile(
		source({ resources: [resource('a', { address: '/Films/Clock' }), resource('b', { address: '/tools' })] })
	);
	it.each([
		['/films/clock', '/Films/Clock'],
		['/FILMS', '/Films'],
		['/Films/Clock', null],
		['/Tools', '/tools'],
		['/tools', null],
		['/tool', null],
		['/film', null]
	])('%s is meant as %s', (typed, meant) => {
		expect(otherCase(policy, typed)).toBe(meant);
	});
});
