import { describe, expect, it, test } from 'vitest';
import {
	crossing,
	fence,
	holders,
	items,
	plan,
	release,
	resource,
	source
} from '../../../tests/support/access';
import { applied, deltaBetween, type Delta } from './delta';
import type { PolicySource } from './model';
import { takingBack } from './taking-back';

const LATER = { opens: { kind: 'on' as const, at: 5 }, closes: { kind: 'never' as const } };
const base = source({
	resources: [
		resource('course', { kind: 'course' }),
		resource('lesson', { homeId: 'course', tagIds: ['oil', 'rust'], categoryId: 'train' })
	],
	plans: [plan('workshop')],
	fences: [fence('f', items('lesson'), [crossing(holders('workshop'))])]
});
const lesson = (over: object) => ({
	...base,
	resources: base.resources.map((one) => (one.id === 'lesson' ? { ...one, ...over } : one))
});
const back = (now: PolicySource, change: Delta, isThere = (_: string) => true) =>
	takingBack(now, change, isThere);
const codeOf = (now: PolicySource, change: Delta, isThere?: (id: string) => boolean) => {
	const found = back(now, change, isThere);
	return found.ok ? 'ok' : found.code;
};

describe('a change', () => {
	test.each<[string, PolicySource]>([
		['of a fence', { ...base, fences: [fence('f', items('lesson'), [])] }],
		['that puts up a fence', { ...base, fences: [...base.fences, fence('g', items('course'), [])] }],
		['that takes one down', { ...base, fences: [] }],
		['that makes a release', { ...base, releases: [release('workshop', 'lesson', LATER)] }],
		['of a base and a home', lesson({ base: 'closed', homeId: null })],
		['of labels', lesson({ tagIds: [], categoryId: null })],
		['of a state', lesson({ state: 'archived' })],
		['of an address', lesson({ address: '/elsewhere' })],
		['of the site’s rules', { ...base, releaseHour: 8, zone: 'Asia/Tokyo' }],
		['of a plan', { ...base, plans: [plan('workshop', { isPublic: false, afterLapse: 'anew' })] }]
	])('%s is taken back to where it began', (_what, after) => {
		const found = back(after, deltaBetween(base, after));
		if (!found.ok) throw new Error(found.code);
		expect(deltaBetween(applied(after, found.delta), base)).toEqual([]);
	});

	it('is not taken back once the same was changed again, and is where other things were', () => {
		const first = { ...base, fences: [fence('f', items('lesson'), [])] };
		const change = deltaBetween(base, first);
		expect(codeOf({ ...first, fences: [fence('f', items('course'), [])] }, change)).toBe('changed-since');
		expect(codeOf({ ...first, fences: [] }, change)).toBe('changed-since');
		expect(codeOf({ ...first, fences: [...first.fences, fence('g', items('course'), [])] }, change)).toBe(
			'ok'
		);
	});

	it('of rules or a plan is not taken back once they were changed again', () => {
		const later = { ...base, releaseHour: 8 };
		expect(codeOf({ ...base, releaseHour: 9 }, deltaBetween(base, later))).toBe('changed-since');
		const hidden = { ...base, plans: [plan('workshop', { isPublic: false })] };
		const again = { ...base, plans: [plan('workshop', { isPublic: false, isOnSale: false })] };
		expect(codeOf(again, deltaBetween(base, hidden))).toBe('changed-since');
		expect(codeOf({ ...base, plans: [] }, deltaBetween(base, hidden))).toBe('changed-since');
	});

	it('of an address is not taken back where something else has it by now', () => {
		const was = base.resources.find(({ id }) => id === 'lesson')?.address ?? '';
		const moved = lesson({ address: '/elsewhere' });
		const change = deltaBetween(base, moved);
		const other = resource('other', { address: was });
		expect(codeOf({ ...moved, resources: [...moved.resources, other] }, change)).toBe('address');
		const free = resource('other', { address: '/another' });
		expect(codeOf({ ...moved, resources: [...moved.resources, free] }, change)).toBe('ok');
		// Two that have changed places change back.
		const [first, second] = base.resources.filter(({ address }) => address !== null);
		const swapped = {
			...base,
			resources: base.resources.map((one) =>
				one === first
					? { ...one, address: second?.address ?? null }
					: one === second
						? { ...one, address: first?.address ?? null }
						: one
			)
		};
		expect(codeOf(swapped, deltaBetween(base, swapped))).toBe('ok');
	});

	it('is the same whatever order tags stand in', () => {
		const after = lesson({ base: 'closed' });
		const change = deltaBetween(base, after);
		expect(codeOf(lesson({ base: 'closed', tagIds: ['rust', 'oil'] }), change)).toBe('ok');
	});

	test.each<[string, PolicySource, string]>([
		['a plan that was made', { ...base, plans: [...base.plans, plan('new')] }, 'made-or-gone'],
		['an item that was made', { ...base, resources: [...base.resources, resource('new')] }, 'made-or-gone']
	])('of %s is not taken back here', (_what, after, code) => {
		expect(codeOf(after, deltaBetween(base, after))).toBe(code);
	});

	it('is not taken back to a home, label or plan that is gone', () => {
		const moved = lesson({ homeId: null });
		const withoutCourse = { ...moved, resources: moved.resources.filter(({ id }) => id === 'lesson') };
		expect(codeOf(withoutCourse, deltaBetween(base, moved))).toBe('leads-nowhere');
		const unlabelled = lesson({ tagIds: [], categoryId: null });
		expect(codeOf(unlabelled, deltaBetween(base, unlabelled), (id) => id !== 'rust')).toBe('leads-nowhere');
		expect(codeOf(unlabelled, deltaBetween(base, unlabelled), (id) => id !== 'train')).toBe('leads-nowhere');
		const released = { ...base, releases: [release('workshop', 'lesson', LATER)] };
		expect(codeOf({ ...base, plans: [] }, deltaBetween(released, base))).toBe('leads-nowhere');
	});
});
