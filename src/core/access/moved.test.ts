import { describe, expect, it, test } from 'vitest';
import {
	after,
	crossing,
	fence,
	holders,
	items,
	plan,
	release,
	resource,
	source,
	within
} from '../../../tests/support/access';
import { applied, deltaBetween } from './delta';
import { hasMoved, lookedAt } from './moved';
import type { PolicySource } from './model';
import { compile } from './policy';

const base = source({
	resources: [
		resource('course', { kind: 'course', address: '/course' }),
		resource('lesson', { kind: 'lesson', homeId: 'course', categoryId: 'strip' }),
		resource('elsewhere'),
		resource('follower')
	],
	plans: [plan('workshop'), plan('other')],
	fences: [
		fence('on-course', within('course'), [crossing(holders('workshop'))]),
		fence('on-elsewhere', items('elsewhere'), [crossing(holders('other'))]),
		fence('following', items('follower'), [crossing({ kind: 'may-open', resourceId: 'lesson' })])
	],
	releases: [release('workshop', 'lesson', after(1, 'week')), release('other', 'elsewhere', after(1, 'week'))]
});

type Edit = (source: PolicySource) => PolicySource;
const editFence =
	(id: string, over: object): Edit =>
	(s) => ({ ...s, fences: s.fences.map((one) => (one.id === id ? { ...one, ...over } : one)) });
const editResource =
	(id: string, over: object): Edit =>
	(s) => ({ ...s, resources: s.resources.map((one) => (one.id === id ? { ...one, ...over } : one)) });

/** Whether a yes to `wish`, given against `base`, still holds after `meanwhile`. */
function moved(wish: Edit, meanwhile: Edit): boolean {
	const delta = deltaBetween(base, wish(base));
	const looked = lookedAt(compile(base), compile(applied(base, delta)), delta);
	const since = deltaBetween(base, meanwhile(base));
	return hasMoved(looked, since, compile(applied(base, since)));
}

const closeCourse = editFence('on-course', { crossings: [] });

describe('a yes to closing a course', () => {
	test.each<[string, Edit]>([
		['a file came in', (s) => ({ ...s, resources: [...s.resources, resource('file', { state: 'draft' })] })],
		['something was published elsewhere', (s) => ({ ...s, resources: [...s.resources, resource('film')] })],
		['another fence was changed elsewhere', editFence('on-elsewhere', { crossings: [] })],
		['a release elsewhere was set', (s) => ({ ...s, releases: s.releases.slice(0, 1) })],
		[
			'a plan that nothing here speaks of was changed',
			(s) => ({ ...s, plans: [s.plans[0]!, plan('other', { isPublic: false })] })
		]
	])('holds although %s', (_name, meanwhile) => {
		expect(moved(closeCourse, meanwhile)).toBe(false);
	});

	test.each<[string, Edit]>([
		['its own fence was changed', editFence('on-course', { isOn: false })],
		['a lesson of it was opened', editResource('lesson', { base: 'open' })],
		['a lesson of it was moved out', editResource('lesson', { homeId: null })],
		[
			'a fence that catches one of its lessons was put up',
			(s) => ({ ...s, fences: [...s.fences, fence('new', items('lesson'), [])] })
		],
		[
			'a fence came that catches it by its category',
			(s) => ({ ...s, fences: [...s.fences, fence('new', { kind: 'category', categoryId: 'strip' }, [])] })
		],
		['a release of its lesson was taken away', (s) => ({ ...s, releases: s.releases.slice(1) })],
		[
			'the plan that opens it was changed',
			(s) => ({ ...s, plans: [plan('workshop', { afterLapse: 'anew' }), s.plans[1]!] })
		],
		['a page that follows its lesson got another fence', editFence('following', { isOn: false })],
		['the rules of the site were changed', (s) => ({ ...s, zone: 'Europe/Vienna' })]
	])('does not hold where %s', (_name, meanwhile) => {
		expect(moved(closeCourse, meanwhile)).toBe(true);
	});
});

describe('a yes to what concerns everything', () => {
	const zone: Edit = (s) => ({ ...s, zone: 'Asia/Tokyo' });
	it('holds although drafts came in, and not where something was published', () => {
		const came =
			(state: 'draft' | 'published'): Edit =>
			(s) => ({
				...s,
				resources: [...s.resources, resource('new', { state })]
			});
		expect(moved(zone, came('draft'))).toBe(false);
		expect(moved(zone, came('published'))).toBe(true);
	});
});
