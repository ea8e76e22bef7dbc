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
import { meetingsOf } from './meets';
import type { Fence, FenceMode } from './model';
import { compile } from './policy';

const everything = (id: string, over: Partial<Fence> = {}) =>
	fence(id, { kind: 'everything' }, [crossing(holders('a'))], over);
const world = (fences: Fence[]) =>
	compile(
		source({
			resources: [
				resource('course', { kind: 'course' }),
				resource('one', { kind: 'lesson', homeId: 'course' }),
				resource('two', { kind: 'lesson', homeId: 'course' }),
				resource('other')
			],
			plans: [plan('a')],
			fences
		})
	);
const own = (mode: FenceMode) => fence('own', items('one', 'two'), [crossing(holders('a'))], { mode });
const CAUGHT = ['one', 'two'];

describe('a fence', () => {
	test.each(['replaces', 'adds', 'seals'] as const)(
		'that %s meets the wider ones, each with what both catch',
		(mode) => {
			const policy = world([own(mode), everything('site'), fence('course', within('course'), [])]);
			const met = meetingsOf(policy, 'own', CAUGHT);
			expect(met).toContainEqual({ fenceId: 'course', exampleId: 'one', count: 2 });
			expect(met.map(({ fenceId }) => fenceId)).toContain(mode === 'adds' ? 'course' : 'site');
		}
	);

	it('meets none where nothing else catches the same, and none that is off', () => {
		expect(meetingsOf(world([own('replaces')]), 'own', CAUGHT)).toEqual([]);
		expect(meetingsOf(world([own('replaces'), fence('x', items('other'), [])]), 'own', CAUGHT)).toEqual([]);
		expect(meetingsOf(world([own('replaces'), everything('site', { isOn: false })]), 'own', CAUGHT)).toEqual(
			[]
		);
		expect(meetingsOf(world([own('replaces'), everything('site')]), 'own', ['gone'])).toEqual([]);
	});

	it('that is wider meets none of those inside it', () => {
		const policy = world([everything('own', { mode: 'replaces' }), fence('inner', items('one'), [])]);
		expect(meetingsOf(policy, 'own', ['one', 'two', 'other', 'course'])).toEqual([]);
	});

	it('counts those first with which it shares the most', () => {
		const policy = world([own('replaces'), fence('b', within('course'), []), everything('a')]);
		const counts = meetingsOf(policy, 'own', CAUGHT).map(({ count }) => count);
		expect(counts).toEqual(counts.toSorted((x, y) => y - x));
	});
});
