import { describe, expect, it } from 'vitest';
import { crossing, DAY, fence, holders, items, plan, resource, source } from '../../../tests/support/access';
import type { Crossing, Window } from './model';
import { widerThan } from './wider';

const NOW = Date.UTC(2026, 2, 1);
const AT_ONCE: Window = { opens: { kind: 'at-once' }, closes: { kind: 'never' } };

const both = (lesson: Crossing[] | null, film: Crossing[] | null) =>
	source({
		plans: [plan('gold'), plan('silver')],
		resources: [
			resource('lesson', { base: lesson === null ? 'open' : 'closed', state: 'draft' }),
			resource('film', { kind: 'video', base: film === null ? 'open' : 'closed' })
		],
		fences: [
			...(lesson ? [fence('f1', items('lesson'), lesson)] : []),
			...(film ? [fence('f2', items('film'), film)] : [])
		]
	});
const gold = crossing(holders('gold'));
const signedIn = crossing({ kind: 'signed-in' });
const after = (count: number): Window => ({
	opens: { kind: 'after', count, unit: 'day' },
	closes: { kind: 'never' }
});

const named = [
	{ id: 'wren', namings: [{ crossingId: 'at the lesson', since: 0 }] },
	{ id: 'edda', namings: ['at the film', 'at the lesson'].map((crossingId) => ({ crossingId, since: 0 })) },
	{ id: 'alder', namings: [{ crossingId: 'elsewhere', since: 0 }] }
];

describe('a lesson that shows a film', () => {
	it.each([
		['opens to the same people', [gold], [gold], []],
		['opens to fewer', [gold], [crossing(holders('gold', 'silver'))], []],
		[
			'opens to another plan',
			[crossing(holders('gold', 'silver'))],
			[gold],
			[{ kind: 'holders', planId: 'silver' }]
		],
		['opens to whoever is signed in', [signedIn], [gold], [{ kind: 'signed-in' }]],
		[
			'names members, of whom one may see the film anyhow',
			[crossing({ kind: 'named' }, { id: 'at the lesson' })],
			[crossing({ kind: 'named' }, { id: 'at the film' })],
			[{ kind: 'named', memberIds: ['wren'] }]
		],
		[
			'opens to whoever has a code',
			[gold, crossing({ kind: 'code', batchId: 'fair' })],
			[gold],
			[{ kind: 'code', batchId: 'fair' }]
		],
		['is open to anyone', null, [gold], [{ kind: 'strangers' }]],
		['is closed, and the film open', [gold], null, []],
		[
			'opens before the film does',
			[crossing(holders('gold'), { window: after(3) })],
			[crossing(holders('gold'), { window: after(4) })],
			[{ kind: 'holders', planId: 'gold' }]
		],
		[
			'opens after the film does',
			[crossing(holders('gold'), { window: after(4) })],
			[crossing(holders('gold'), { window: after(3) })],
			[]
		],
		['opens at once, like the film', [crossing(holders('gold'), { window: AT_ONCE })], [gold], []]
	] as const)('%s', (_name, lesson, film, wider) => {
		expect(widerThan(both(lesson && [...lesson], film && [...film]), 'lesson', 'film', NOW, named)).toEqual(
			wider
		);
	});

	it('is compared from the moment on, and not for what is past', () => {
		const until = (at: number): Window => ({ opens: { kind: 'at-once' }, closes: { kind: 'on', at } });
		const open = both([crossing({ kind: 'anyone' }, { window: until(NOW - DAY) })], [gold]);
		expect(widerThan(open, 'lesson', 'film', NOW, named)).toEqual([]);
		expect(widerThan(open, 'lesson', 'film', NOW - 2 * DAY, named)).toEqual([{ kind: 'strangers' }]);
	});

	it('names members and batches in order, and what is as open elsewhere is not looked at', () => {
		const line = [
			crossing({ kind: 'named' }, { id: 'line' }),
			...['letter', 'fair'].map((batchId) => crossing({ kind: 'code', batchId }))
		];
		const people = ['wren', 'edda', 'alder'].map((id) => ({
			id,
			namings: [{ crossingId: 'line', since: 0 }]
		}));
		const made = both(line, [gold]);
		expect(widerThan(made, 'lesson', 'film', NOW, people)).toEqual([
			{ kind: 'named', memberIds: ['alder', 'edda', 'wren'] },
			{ kind: 'code', batchId: 'fair' },
			{ kind: 'code', batchId: 'letter' }
		]);
		// Both are taken as published, and nothing else is: a third that they follow stays a draft.
		const follows = crossing({ kind: 'may-open', resourceId: 'third' });
		const third = resource('third', { state: 'draft', base: 'open' });
		const following = both([follows], [gold]);
		expect(
			widerThan({ ...following, resources: [...following.resources, third] }, 'lesson', 'film', NOW, [])
		).toEqual([]);
		const draft = both([gold], [gold]);
		const unpublished = draft.resources.map((one) => ({ ...one, state: 'draft' as const }));
		expect(widerThan({ ...draft, resources: unpublished }, 'lesson', 'film', NOW, [])).toEqual([]);
	});
});
