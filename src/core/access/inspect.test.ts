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
import { inspect, MANY, type Finding } from './inspect';
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
		expect(found).toContainEqual({ code: 'plan-opens-nothing', planId: 'idle' });
		expect(found).toContainEqual({
			code: 'rung-opens-less',
			planId: 'high',
			lowerPlanId: 'low',
			resourceIds: ['lesson']
		});
	});
});
