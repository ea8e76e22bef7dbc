import { describe, expect, it, test } from 'vitest';
import { crossing, fence, holders, items, within } from '../../../tests/support/access';
import type { Fence } from './model';
import { ownFences } from './plan-fences';

const mine = [crossing(holders('apprentice'))];
const everywhere = [{ ...crossing(holders('apprentice')), isThroughout: true }];
const told = (...fences: Fence[]) => {
	const { everything, items, within } = ownFences(fences, 'apprentice');
	return [everything?.id ?? null, items?.id ?? null, ...[...within].map(([of, { id }]) => `${of}: ${id}`)];
};
const adds = { mode: 'adds' as const };

describe('a fence that is a plan’s alone', () => {
	test.each<[string, Fence, (string | null)[]]>([
		['adds it to everything', fence('f', { kind: 'everything' }, everywhere, adds), ['f', null]],
		['adds it to what was picked', fence('f', items('a'), mine, adds), [null, 'f']],
		['stands around a collection', fence('f', within('course'), mine), [null, null, 'course: f']],
		['adds it to a collection', fence('f', within('course'), mine, adds), [null, null, 'course: f']]
	])('%s', (_what, one, expected) => {
		expect(told(one)).toEqual(expected);
	});

	test.each<[string, Fence]>([
		['lets others in', fence('f', within('course'), [crossing(holders('apprentice', 'patron'))])],
		['is another plan’s', fence('f', within('course'), [crossing(holders('patron'))])],
		['has two crossings', fence('f', within('course'), [...mine, crossing({ kind: 'anyone' })])],
		['lets nobody in', fence('f', within('course'), [])],
		['is off', fence('f', within('course'), mine, { isOn: false })],
		['seals itself off', fence('f', within('course'), mine, { mode: 'seals' })],
		[
			'counts uses',
			fence('f', within('course'), [
				{ ...mine[0]!, limits: { uses: 'site', minutes: 'none', hours: 'none' } }
			])
		],
		[
			'waits',
			fence('f', within('course'), [
				{ ...mine[0]!, window: { opens: { kind: 'on', at: 5 }, closes: { kind: 'never' } } }
			])
		],
		['takes some files of a shelf', fence('f', { ...within('shelf'), extensions: ['pdf'] } as never, mine)],
		['keeps others from what was picked', fence('f', items('a'), mine)],
		['does not reach into narrower ones', fence('f', { kind: 'everything' }, mine, adds)],
		['catches a tag', fence('f', { kind: 'tag', tagId: 't' }, mine, adds)]
	])('is none that %s', (_what, one) => {
		expect(told(one)).toEqual([null, null]);
	});

	it('is the oldest of several', () => {
		const [newer, older] = [fence('newer', items('a'), mine, adds), fence('older', items('b'), mine, adds)];
		expect(told(newer, older)).toEqual([null, 'older']);
	});
});
