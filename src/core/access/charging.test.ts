import { describe, expect, it } from 'vitest';
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
import { chargedPlaces, openToAll, stillOpen } from './charging';
import { compile } from './policy';

const NOW = Date.parse('2026-06-01T12:00Z');
const resources = [
	resource('course', { kind: 'course', base: 'open' }),
	resource('one', { homeId: 'course', base: 'open' }),
	resource('two', { homeId: 'course' }),
	resource('letter', { kind: 'page', base: 'open' }),
	resource('below', { kind: 'page', homeId: 'letter', base: 'open' }),
	resource('draft', { homeId: 'course', base: 'open', state: 'draft' })
];
const world = (fences: ReturnType<typeof fence>[] = []) =>
	compile(source({ resources, plans: [plan('workshop')], fences }));

describe('beginning to charge', () => {
	it('is for what lives in a course, whose own page stays as it is, and for a page with those below it', () => {
		expect(chargedPlaces(world(), ['course']).sort()).toEqual(['draft', 'one', 'two']);
		expect(chargedPlaces(world(), ['letter']).sort()).toEqual(['below', 'letter']);
		expect(chargedPlaces(world(), ['one', 'course', 'nowhere']).sort()).toEqual(['draft', 'one', 'two']);
	});

	it('finds what anyone may open, and what an account alone opens', () => {
		const all = ['one', 'two', 'draft'];
		expect(openToAll(world(), all, NOW)).toEqual(['one']);
		const signedIn = fence('f', items('two'), [crossing({ kind: 'signed-in' })]);
		expect(openToAll(world([signedIn]), all, NOW)).toEqual(['one', 'two']);
		const held = fence('f', items('two'), [crossing(holders('workshop'))]);
		expect(openToAll(world([held]), all, NOW)).toEqual(['one']);
	});

	it('names the fence by which something would stay open', () => {
		const anyone = fence('try', items('one'), [crossing({ kind: 'anyone' })], { mode: 'adds' });
		const around = fence('around', within('course'), [crossing(holders('workshop'))]);
		expect(stillOpen(world([around]), ['one', 'two'], NOW)).toEqual([]);
		expect(stillOpen(world([anyone, around]), ['one', 'two'], NOW)).toEqual([
			{ id: 'one', fenceIds: ['try'] }
		]);
		// By its base, and by no fence.
		expect(stillOpen(world(), ['one'], NOW)).toEqual([{ id: 'one', fenceIds: [] }]);
	});
});
