import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
	after,
	crossing,
	fence,
	grant,
	holders,
	items,
	member,
	plan,
	release,
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
import { compile, MAX_DEPTH, openedByPlan, type Policy } from './policy';

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
		/** Of another world, only its plans, its releases or the rules of its site. */
		const partOf = (before: PolicySource) =>
			fc
				.tuple(aSource, fc.constantFrom('plans', 'releases', 'site', 'fences'))
				.map(([other, part]): PolicySource => {
					const { resources: _, fences, plans, releases, ...site } = other;
					const parts = { plans: { plans }, releases: { releases }, fences: { fences }, site };
					return { ...before, ...parts[part as keyof typeof parts] };
				});
		const pair = aSource.chain((before) =>
			fc.tuple(
				fc.constant(before),
				fc.oneof(
					{ weight: 3, arbitrary: anew(before) },
					{ weight: 2, arbitrary: partOf(before) },
					{ weight: 1, arbitrary: aSource }
				)
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

describe('what a policy knows', () => {
	const chain = (count: number) =>
		Array.from({ length: count }, (_, n) =>
			resource(`r${n}`, { kind: 'page', homeId: n === 0 ? null : `r${n - 1}` })
		);

	it('of homes: from the nearest outward, round no circle, and no deeper than is sensible', () => {
		const homesOf = (resources: Resource[], id: string) => {
			const policy = compile(source({ resources }));
			return policy.homesOf(policy.resources.get(id)!);
		};
		expect(homesOf(chain(4), 'r3')).toEqual(['r2', 'r1', 'r0']);
		expect(homesOf(chain(4), 'r0')).toEqual([]);
		expect(homesOf([resource('a', { homeId: 'gone' })], 'a')).toEqual(['gone']);
		const circle = [
			resource('a', { homeId: 'b' }),
			resource('b', { homeId: 'c' }),
			resource('c', { homeId: 'a' })
		];
		expect(homesOf(circle, 'a')).toEqual(['b', 'c']);
		expect(homesOf([resource('x', { homeId: 'a' }), ...circle], 'x')).toEqual(['a', 'b', 'c']);
		expect(homesOf([resource('a', { homeId: 'a' })], 'a')).toEqual([]);
		expect(homesOf(chain(MAX_DEPTH + 9), `r${MAX_DEPTH + 8}`)).toHaveLength(MAX_DEPTH);
	});

	it('of what a plan opens: what strangers know of and has an address', () => {
		const made = compile(
			source({
				plans: [plan('a'), plan('b')],
				resources: [
					resource('open'),
					resource('draft', { state: 'draft' }),
					resource('archived', { state: 'archived' }),
					resource('scheduled', { state: 'scheduled' }),
					resource('section', { address: null }),
					resource('other')
				],
				fences: [
					fence('f', items('open', 'draft', 'archived', 'scheduled', 'section'), [crossing(holders('a'))]),
					fence('g', items('other'), [crossing(holders('b'))])
				]
			})
		);
		expect(openedByPlan(made, 'a').map(({ id }) => id)).toEqual(['open', 'scheduled']);
		expect(openedByPlan(made, 'b').map(({ id }) => id)).toEqual(['other']);
		expect(openedByPlan(made, 'c')).toEqual([]);
		expect(openedByPlan(made, 'a', 'drafts').map(({ id }) => id)).toEqual(['draft']);
		expect(openedByPlan(made, 'b', 'drafts')).toEqual([]);
	});

	it('of a place without an item: it is open and there; what it works out it keeps, site by site', () => {
		const made = compile(
			source({
				plans: [plan('a')],
				fences: [
					fence('own', { kind: 'path', path: '/x' }, [crossing(holders('a'))]),
					fence('theirs', { kind: 'path', path: '/x', siteId: 'school' }, [])
				]
			})
		);
		expect(made.place('/y')).toMatchObject({ base: 'open', state: 'published', publishAt: null });
		expect(made.place('nothing')).toBeNull();
		expect(made.passageOf('/x')).toBe(made.passageOf('/x'));
		expect(made.passageOf('/x').met.map(({ id }) => id)).toEqual(['own']);
		expect(made.passageOf('/x', 'school').met.map(({ id }) => id)).toEqual(['theirs']);
		expect(made.fencesAt('/x').map(({ id }) => id)).toEqual(['own']);
		// Strangers may ask for any number of addresses: what is kept for them has an end.
		const first = made.passageOf('/0 of many');
		for (let n = 1; n < 9000; n++) made.passageOf(`/${n} of many`);
		expect(made.passageOf('/0 of many')).toEqual(first);
	});

	it('of releases: the nearest home’s before a wider one’s, and both before a category’s', () => {
		const resources = [
			resource('lesson', { homeId: 'inner', categoryId: 'strip' }),
			resource('inner', { kind: 'section', homeId: 'outer' }),
			resource('outer', { kind: 'course' })
		];
		const days = { lesson: 1, inner: 2, outer: 3, strip: 4 };
		const first = (...targets: (keyof typeof days)[]) =>
			compile(
				source({
					resources,
					plans: [plan('a')],
					fences: [fence('f', { kind: 'everything' }, [crossing(holders('a'))])],
					releases: targets.map((id) =>
						release('a', id, after(days[id], 'day'), id === 'strip' ? 'category' : 'resource')
					)
				})
			)
				.place('lesson')
				?.passage.ways[0]?.plans?.get('a')?.releaseId;
		expect(first('strip', 'outer', 'inner', 'lesson')).toBe('release-a-lesson');
		expect(first('strip', 'outer', 'inner')).toBe('release-a-inner');
		expect(first('outer', 'strip')).toBe('release-a-outer');
		expect(first('strip')).toBe('release-a-strip');
	});

	it('of the time with a plan: that of its ladder and of no other, worked out once', () => {
		const made = compile(source({ plans: [plan('a'), plan('b')] }));
		const both = member([grant({ planId: 'a', from: 5 }), grant({ id: 'g2', planId: 'b', from: 1 })], {
			tenures: [
				{ planId: 'a', firstJoinedAt: 5, isSetByHand: false },
				{ planId: 'b', firstJoinedAt: 1, isSetByHand: false }
			]
		});
		expect(made.heldBy(both, ['a'])).toBe(made.heldBy(both, ['a']));
		expect(made.heldBy(both, ['a'])).not.toEqual(made.heldBy(both, ['a', 'b']));
		expect(made.heldBy(both, ['a'])).toEqual(
			made.heldBy({ ...both, grants: [both.grants[0]!], tenures: [both.tenures[0]!] }, ['a'])
		);
		expect(made.heldBy(member(), ['a'])).toBeNull();
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
