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
import { idleReleases, pagesIn } from './idle-releases';
import type { Fence, Release } from './model';
import { compile } from './policy';

const LATER = {
	opens: { kind: 'after' as const, count: 2, unit: 'week' as const },
	closes: { kind: 'never' as const }
};
const release = (of: string, planId = 'apprentice'): Release => ({
	id: `${planId}-${of}`,
	planId,
	target: { kind: 'resource', id: of },
	window: LATER
});
const base = source({
	resources: [
		resource('course', { kind: 'course', base: 'open' }),
		resource('part', { kind: 'section', homeId: 'course', address: null }),
		resource('one', { kind: 'lesson', homeId: 'part', base: 'closed' }),
		resource('two', { kind: 'lesson', homeId: 'part', base: 'closed' }),
		resource('film', { base: 'open' }),
		resource('empty', { kind: 'section', homeId: 'course', address: null })
	],
	plans: [plan('apprentice'), plan('journeyman')]
});
const idle = (fences: Fence[], ...releases: Release[]) =>
	Object.fromEntries(idleReleases(compile({ ...base, fences, releases }), 'apprentice'));
const lessons = (...plans: string[]) => fence('lessons', within('part'), [crossing(holders(...plans))]);

describe('a release', () => {
	test.each<[string, Fence[], Release[], Record<string, string>]>([
		['counts where a fence lets the plan in', [lessons('apprentice')], [release('one')], {}],
		['of a section counts for what is in it', [lessons('apprentice')], [release('part')], {}],
		['of a course that is open counts for its lessons', [lessons('apprentice')], [release('course')], {}],
		[
			'does nothing where a fence lets others in',
			[lessons('journeyman')],
			[release('one')],
			{ one: 'not-let-in' }
		],
		['does nothing where no fence lets anybody in', [], [release('part')], { part: 'not-let-in' }],
		['does nothing where anybody comes in', [], [release('film')], { film: 'open-anyway' }],
		[
			'does nothing where a fence lets anybody in',
			[fence('anyone', items('one'), [crossing({ kind: 'anyone' }), crossing(holders('apprentice'))])],
			[release('one')],
			{ one: 'open-anyway' }
		],
		[
			'does nothing on a plan that a fence adds to what is open',
			[fence('adds', items('film'), [crossing(holders('apprentice'))], { mode: 'adds' })],
			[release('film')],
			{ film: 'open-anyway' }
		],
		[
			'of a section is passed over by those of all its lessons',
			[lessons('apprentice')],
			[release('part'), release('one'), release('two')],
			{ part: 'passed-over' }
		],
		['of another plan is not looked at', [], [release('one', 'journeyman')], {}],
		['of what holds no page is neither', [], [release('empty')], {}],
		['of what is gone is neither', [], [release('gone')], {}]
	])('%s', (_what, fences, releases, expected) => {
		expect(idle(fences, ...releases)).toEqual(expected);
	});
});

describe('pages', () => {
	it('are what has an address, of a collection all that live in it', () => {
		expect(pagesIn(compile(base), ['part', 'film', 'one']).sort()).toEqual(['film', 'one', 'two']);
	});
});
