import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
	crossing,
	fence,
	holders,
	items,
	plan,
	resource,
	source,
	stranger,
	within
} from '../../../tests/support/access';
import { aMember, aSource, EPOCH } from '../../../tests/support/arbitrary-access';
import { runs } from '../../../tests/support/runs';
import { DAY } from '../../../tests/support/access';
import { decide, decideAddress } from './decide/decide';
import { applied, deltaBetween, joined, type Delta } from './delta';
import type { PolicySource, Resource, Viewer } from './model';
import { compile, type Policy } from './policy';

/** Everything that can be decided, for some viewers at some moments; asking it fills what the policy keeps. */
function everything(policy: Policy, viewers: readonly Viewer[]): unknown {
	return [...policy.source.resources.map(({ id }) => id), 'unknown'].map((id) =>
		viewers.map((viewer) =>
			[0, 9, 20].map((day) => {
				const at = EPOCH + day * DAY;
				const address = policy.resources.get(id)?.address;
				return [decide(policy, viewer, id, at), address && decideAddress(policy, viewer, address, at)];
			})
		)
	);
}

/** Resources moved, filed under other labels, added, taken out, or with their addresses exchanged. */
const anew = (before: PolicySource): fc.Arbitrary<PolicySource> =>
	fc
		.array(
			fc.record({
				n: fc.nat({ max: before.resources.length - 1 }),
				what: fc.constantFrom('home', 'label', 'base', 'gone', 'added', 'swap'),
				homeId: fc.option(fc.constantFrom(...before.resources.map(({ id }) => id)))
			}),
			{ minLength: 1, maxLength: 3 }
		)
		.map((steps) => {
			let resources = before.resources;
			const change = (id: string | undefined, over: Partial<Resource>) => {
				resources = resources.map((one) => (one.id === id ? { ...one, ...over } : one));
			};
			for (const { n, what, homeId } of steps) {
				const one = resources[n % resources.length];
				const other = resources[(n + 1) % resources.length];
				if (!one || !other) continue;
				if (what === 'home') change(one.id, { homeId });
				if (what === 'label') change(one.id, { tagIds: ['oil'], categoryId: 'strip' });
				if (what === 'base') change(one.id, { base: one.base === 'open' ? 'closed' : 'open' });
				if (what === 'gone') resources = resources.filter(({ id }) => id !== one.id);
				if (what === 'added' && !resources.some(({ id }) => id === `new-${n}`))
					resources = [...resources, { ...one, id: `new-${n}`, address: `/new/${n}`, homeId }];
				if (what === 'swap') {
					change(one.id, { address: other.address });
					change(other.id, { address: one.address });
				}
			}
			return { ...before, resources };
		});

describe('a policy after a change', () => {
	it('decides like one that is compiled from the start, and the one before it decides as it did', () => {
		const pair = aSource.chain((before) =>
			fc.tuple(
				fc.constant(before),
				fc.oneof({ weight: 3, arbitrary: anew(before) }, { weight: 1, arbitrary: aSource })
			)
		);
		let moved = 0;
		fc.assert(
			fc.property(pair, fc.array(aMember, { minLength: 1, maxLength: 2 }), ([before, after], members) => {
				const viewers = [stranger, ...members];
				const policy = compile(before);
				const was = everything(policy, viewers);
				const changed = policy.with(deltaBetween(before, after));
				const fresh = compile(applied(before, deltaBetween(before, after)));
				const is = everything(fresh, viewers);
				expect(changed.source).toEqual(fresh.source);
				expect([...changed.resources]).toEqual([...fresh.resources]);
				expect(everything(changed, viewers)).toEqual(is);
				expect(new Map(changed.byAddress)).toEqual(new Map(fresh.byAddress));
				expect(everything(policy, viewers)).toEqual(was);
				if (JSON.stringify(was) !== JSON.stringify(is)) moved++;
			}),
			{ seed: 12, numRuns: runs(400) }
		);
		expect(moved).toBeGreaterThan(runs(100));
	});

	it('is the same policy where nothing of it changes', () => {
		const policy = compile(source({ resources: [resource('wheel')] }));
		expect(policy.with([])).toBe(policy);
		const named = { crossingId: 'line', memberId: 'wren', since: 0 };
		expect(policy.with([{ kind: 'naming', id: 'line wren', before: null, after: named }])).toBe(policy);
	});

	it('keeps what was worked out where the change does not reach, and only there', () => {
		const made = source({
			plans: [plan('a')],
			resources: [
				resource('lesson', { homeId: 'section' }),
				resource('section', { kind: 'section', homeId: 'course', address: null }),
				resource('course', { kind: 'course' }),
				resource('far')
			],
			fences: [fence('c', within('course'), [crossing(holders('a'))]), fence('f', items('far'), [])]
		});
		const policy = compile(made);
		const passages = (of: Policy) => made.resources.map((one) => of.entry(one.id)?.passage);
		const was = passages(policy);
		const moved = (over: Partial<Resource>, id = 'section') =>
			policy.with(
				deltaBetween(made, {
					...made,
					resources: made.resources.map((one) => (one.id === id ? { ...one, ...over } : one))
				})
			);
		expect(passages(moved({ homeId: null })).map((one, n) => one === was[n])).toEqual([
			false,
			false,
			true,
			true
		]);
		// Places that the same fences catch share what was worked out.
		expect(passages(moved({ state: 'draft' })).every((one, n) => one === was[n])).toBe(true);
		const renamed = policy.with(
			deltaBetween(made, { ...made, fences: made.fences.map((one) => ({ ...one, isOn: false })) })
		);
		expect(passages(renamed).some((one, n) => one === was[n])).toBe(false);
	});

	it('takes two that exchange their addresses, and one that comes where another went', () => {
		const [a, b] = [resource('a'), resource('b')];
		const before = source({ resources: [a, b] });
		const swapped = compile(before).with(
			deltaBetween(before, {
				...before,
				resources: [
					{ ...a, address: b.address },
					{ ...b, address: a.address }
				]
			})
		);
		expect([swapped.resourceAt('/a')?.id, swapped.resourceAt('/b')?.id]).toEqual(['b', 'a']);
		const gone = compile(before).with(
			deltaBetween(before, { ...before, resources: [{ ...a, address: '/b' }] })
		);
		expect([gone.resourceAt('/a'), gone.resourceAt('/b')?.id]).toEqual([null, 'a']);
		const there = { ...before, resources: [a, { ...b, siteId: 'school' }] };
		const elsewhere = compile(before).with(deltaBetween(before, there));
		expect([elsewhere.resourceAt('/b'), elsewhere.resourceAt('/b', 'school')?.id]).toEqual([null, 'b']);
		expect(elsewhere.with(deltaBetween(there, before)).resourceAt('/b', 'school')).toBeNull();
	});
});

describe('several changes as one', () => {
	it('do what they do one after the other', () => {
		fc.assert(
			fc.property(aSource, aSource, aSource, (one, two, three) => {
				const steps: Delta[] = [deltaBetween(one, two), deltaBetween(two, three)];
				const byId = (a: { id: string }, b: { id: string }) => (a.id < b.id ? -1 : 1);
				const sorted = (all: PolicySource) => ({
					...all,
					fences: [...all.fences].sort(byId),
					releases: [...all.releases].sort(byId)
				});
				expect(sorted(applied(one, joined(steps)))).toEqual(sorted(three));
				const together = joined(steps);
				expect(new Set(together.map(({ kind, id }) => `${kind} ${id}`)).size).toBe(together.length);
			}),
			{ seed: 6, numRuns: runs(100) }
		);
	});
});
