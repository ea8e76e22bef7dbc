/** What is computed with once, and what apart. That nothing is put together that opens otherwise is held in next-changes.test.ts. */
import { describe, expect, it, test } from 'vitest';
import {
	after,
	crossing,
	DAY,
	fence,
	grant,
	holders,
	items,
	member,
	plan,
	release,
	resource,
	source,
	stranger
} from '../../../tests/support/access';
import { alikeFor, plansOf, signature } from './alike';
import type { Crossing, Fence, PolicySource, Resource, Viewer } from './model';
import { compile } from './policy';

const JOINED = Date.parse('2026-01-01T09:00Z');
const holder = (...planIds: string[]) =>
	member(planIds.map((planId, n) => grant({ id: `grant-${n}`, planId, from: JOINED })));

/** Whether two resources are one class for a viewer. */
function areAlike(viewer: Viewer, over: Partial<PolicySource>): boolean {
	const plans = [plan('workshop'), plan('patron')];
	const resources = [resource('a'), resource('b'), ...(over.resources ?? [])];
	const policy = compile(source({ plans, ...over, resources }));
	const classes = alikeFor(policy, viewer, ['a', 'b']);
	expect(classes.flatMap(({ resourceIds }) => resourceIds).sort()).toEqual(['a', 'b']);
	expect(classes.every(({ id, resourceIds }) => id === resourceIds[0])).toBe(true);
	return classes.length === 1;
}

const onBoth = (...crossings: Crossing[]) => fence('both', items('a', 'b'), crossings);
const onB = (...crossings: Crossing[]) => fence('b alone', items('b'), crossings);
const workshop = crossing(holders('workshop'));
const patron = crossing(holders('patron'));

describe('two things of one fence', () => {
	it('are alike, whoever looks', () => {
		for (const viewer of [stranger, member(), holder('workshop'), holder('patron', 'workshop')])
			expect(areAlike(viewer, { fences: [onBoth(workshop)] })).toBe(true);
	});

	it('are apart for holders of a plan with a release of one, and for nobody else', () => {
		const over = {
			fences: [onBoth(workshop, patron)],
			releases: [release('workshop', 'b', after(2, 'week'))]
		};
		expect(areAlike(holder('workshop'), over)).toBe(false);
		expect(areAlike(holder('patron', 'workshop'), over)).toBe(false);
		expect(areAlike(holder('patron'), over)).toBe(true);
		expect(areAlike(stranger, over)).toBe(true);
	});

	it('are apart where others are named, and alike where the same crossing names them', () => {
		const line = (id: string) => crossing({ kind: 'named' }, { id });
		const edda = member([], { namings: [{ crossingId: 'near', since: 0 }] });
		const apart = [fence('one', items('a'), [line('near')]), fence('two', items('b'), [line('far')])];
		expect(areAlike(edda, { fences: apart })).toBe(false);
		expect(areAlike(edda, { fences: [onBoth(line('near'))] })).toBe(true);
		const coded = (batchId: string) => crossing({ kind: 'code', batchId });
		const codes = [fence('one', items('a'), [coded('fair')]), fence('two', items('b'), [coded('letter')])];
		expect(areAlike(stranger, { fences: codes })).toBe(false);
	});

	it('are apart where one is published, on another day or not at all', () => {
		const fences = [onBoth(workshop)];
		const b = (over: Partial<Resource>) => ({ fences, resources: [resource('b', over)] });
		expect(areAlike(holder('workshop'), b({}))).toBe(true);
		expect(areAlike(holder('workshop'), b({ state: 'draft' }))).toBe(false);
		expect(areAlike(holder('workshop'), b({ state: 'scheduled', publishAt: 5 }))).toBe(false);
	});

	it('do not care in which order a plan’s ways stand', () => {
		const early = crossing(holders('workshop'), { window: after(1, 'day') });
		const late = crossing(holders('workshop'), { window: after(3, 'day') });
		const fences: Fence[] = [fence('a', items('a'), [early, late]), fence('b', items('b'), [late, early])];
		expect(areAlike(holder('workshop'), { fences })).toBe(true);
		const other = crossing(holders('workshop'), { window: after(4, 'day') });
		const apart: Fence[] = [fence('a', items('a'), [early, late]), fence('b', items('b'), [early, other])];
		expect(areAlike(holder('workshop'), { fences: apart })).toBe(false);
	});

	test.each<[string, Partial<Resource>]>([
		['is published later', { state: 'scheduled', publishAt: JOINED + 9 * DAY }],
		['is a draft', { state: 'draft' }]
	])('are apart where one %s', (_, over) => {
		const resources = [resource('b', over)];
		expect(areAlike(holder('workshop'), { fences: [onBoth(workshop)], resources })).toBe(false);
	});

	it('are apart where one is reached by its open base', () => {
		const adds = fence('both', items('a', 'b'), [workshop], { mode: 'adds' });
		const resources = [resource('b', { base: 'open' })];
		expect(areAlike(stranger, { fences: [adds], resources })).toBe(false);
		expect(areAlike(stranger, { fences: [onBoth(workshop)], resources })).toBe(true);
	});

	it('are apart where what they follow opens otherwise', () => {
		const follows = (id: string, resourceId: string) =>
			fence(`${id} follows`, items(id), [crossing({ kind: 'may-open', resourceId })]);
		const resources = [resource('c'), resource('d'), resource('e')];
		const closing = [fence('c', items('c', 'e'), [workshop]), fence('d', items('d'), [patron])];
		const over = (target: string) => ({
			resources,
			fences: [...closing, follows('a', 'c'), follows('b', target)]
		});
		expect(areAlike(holder('workshop'), over('d'))).toBe(false);
		expect(areAlike(holder('workshop'), over('e'))).toBe(true);
		// Who follows itself opens nothing, alone or by another.
		const circles = [
			follows('a', 'a'),
			follows('b', 'c'),
			fence('c', items('c'), [crossing({ kind: 'may-open', resourceId: 'b' })])
		];
		expect(areAlike(stranger, { resources, fences: [follows('a', 'a'), follows('b', 'b')] })).toBe(true);
		expect(areAlike(stranger, { resources, fences: circles })).toBe(false);
	});

	test.each<[string, Partial<Crossing>]>([
		['a window', { window: after(2, 'week') }],
		['a limit', { limits: { uses: 'none', minutes: 5, hours: 'none' } }]
	])('are apart where one has %s for whoever is signed in', (_, over) => {
		const signedIn = crossing({ kind: 'signed-in' });
		const fences = [
			fence('a', items('a'), [signedIn]),
			fence('b', items('b'), [crossing({ kind: 'signed-in' }, over)])
		];
		expect(areAlike(member(), { fences })).toBe(false);
		expect(areAlike(member(), { fences: [onBoth(signedIn)] })).toBe(true);
	});

	test.each<[string, Partial<Crossing>]>([
		['a window', { window: after(2, 'week') }],
		['a limit', { limits: { uses: 'none', minutes: 5, hours: 'none' } }]
	])('are apart for holders where one has %s', (_, over) => {
		const fences = [fence('a', items('a'), [workshop]), onB(crossing(holders('workshop'), over))];
		expect(areAlike(holder('workshop'), { fences })).toBe(false);
		expect(areAlike(holder('patron'), { fences })).toBe(true);
	});
});

it('puts together what is not there', () => {
	const policy = compile(source({}));
	expect(alikeFor(policy, holder('workshop'), ['x', 'y'])).toEqual([{ id: 'x', resourceIds: ['x', 'y'] }]);
	expect(signature(policy, 'x', [])).toBe('none');
});

it('knows a viewer by their plans, whatever the order of the grants', () => {
	expect(plansOf(holder())).toEqual({ planIds: [], key: '' });
	expect(plansOf(holder('workshop'))).toEqual({ planIds: ['workshop'], key: 'workshop' });
	expect(plansOf(holder('workshop', 'patron', 'workshop'))).toEqual({
		planIds: ['patron', 'workshop'],
		key: 'patron,workshop'
	});
});
