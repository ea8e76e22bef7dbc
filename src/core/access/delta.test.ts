import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { crossing, fence, holders, items, plan, resource, source } from '../../../tests/support/access';
import { aSource } from '../../../tests/support/arbitrary-access';
import { applied, canonical, deltaBetween, undone } from './delta';
import { compile } from './policy';
import { runs } from '../../../tests/support/runs';

const sorted = (one: ReturnType<typeof source>) => ({
	...one,
	resources: [...one.resources].sort(byId),
	fences: [...one.fences].sort(byId),
	plans: [...one.plans].sort(byId),
	releases: [...one.releases].sort(byId)
});
const byId = (a: { id: string }, b: { id: string }) => (a.id < b.id ? -1 : 1);

describe('a change of the policy', () => {
	it('leads from one source to the other, and back', () => {
		fc.assert(
			fc.property(aSource, aSource, (before, after) => {
				const delta = deltaBetween(before, after);
				expect(sorted(applied(before, delta))).toEqual(sorted(after));
				expect(sorted(applied(applied(before, delta), undone(delta)))).toEqual(sorted(before));
				// What it leads to decides: it can be compiled.
				expect(compile(applied(before, delta)).resources.size).toBe(after.resources.length);
			}),
			{ seed: 4, numRuns: runs(200) }
		);
	});

	it('is empty where nothing differs, whatever the order of keys', () => {
		const one = resource('wheel');
		const same = Object.fromEntries(Object.entries(one).reverse()) as unknown as typeof one;
		expect(deltaBetween(source({ resources: [one] }), source({ resources: [same] }))).toEqual([]);
	});

	it('is written in one spelling only, sorted', () => {
		const a = source({ resources: [resource('b'), resource('a')], plans: [plan('x')] });
		const b = source({
			plans: [plan('x', { isOnSale: false })],
			resources: [resource('a', { base: 'open' })],
			fences: [fence('f', items('a'), [crossing(holders('x'))])]
		});
		const delta = deltaBetween(a, b);
		expect(delta.map(({ kind, id, before, after }) => [kind, id, before !== null, after !== null])).toEqual([
			['fence', 'f', false, true],
			['plan', 'x', true, true],
			['resource', 'a', true, true],
			['resource', 'b', true, false]
		]);
		expect(canonical(delta)).toBe(canonical(JSON.parse(JSON.stringify(delta))));
		expect(canonical({ b: 1, a: undefined, c: [null, 'é"'] })).toBe('{"b":1,"c":[null,"é\\""]}');
	});

	it('carries the site that an address is on', () => {
		const own = resource('own');
		const theirs = { ...own, siteId: 'school' };
		const delta = deltaBetween(source({ resources: [own] }), source({ resources: [theirs] }));
		expect(applied(source({ resources: [own] }), delta).resources).toEqual([theirs]);
		expect(applied(source({ resources: [theirs] }), undone(delta)).resources).toEqual([own]);
	});

	it('is spelled alike, whatever the order of names, and of nothing as nothing', () => {
		expect(canonical({ b: 1, a: { d: 2, c: [] } })).toBe('{"a":{"c":[],"d":2},"b":1}');
		expect([undefined, null, 0, '', false].map(canonical)).toEqual(['null', 'null', '0', '""', 'false']);
		expect(canonical([undefined, { a: undefined }])).toBe('[null,{}]');
		expect(canonical({ a: null })).not.toBe(canonical({}));
	});

	it('is none where labels stand in another order, or twice', () => {
		const tagged = (...tagIds: string[]) => source({ resources: [resource('a', { tagIds })] });
		expect(deltaBetween(tagged('oil', 'rust'), tagged('rust', 'oil', 'oil'))).toEqual([]);
		expect(deltaBetween(tagged('oil'), tagged('rust'))).toHaveLength(1);
		const [change] = deltaBetween(tagged('oil'), tagged('rust', 'oil'));
		expect(change?.after).toMatchObject({ tagIds: ['oil', 'rust'] });
		expect(change?.after).not.toHaveProperty('siteId');
	});

	it('of the rules of the site has no id, and stands alone', () => {
		const delta = deltaBetween(source({}), source({ zone: 'Asia/Tokyo' }));
		expect(delta.map(({ kind, id }) => [kind, id])).toEqual([['site', '']]);
		expect(applied(source({}), delta).zone).toBe('Asia/Tokyo');
	});

	it('stands in order of its keys, however much there is', () => {
		const many = Array.from({ length: 40 }, (_, n) => resource(`r${(n * 17) % 40}`));
		const ids = deltaBetween(source({}), source({ resources: many })).map(({ id }) => id);
		expect(ids).toEqual([...ids].sort());
		expect(ids).toHaveLength(40);
	});

	it('leaves what is not touched as the same object', () => {
		const before = source({
			resources: [resource('a'), resource('b')],
			fences: [fence('f', items('a'), [])]
		});
		const after = applied(
			before,
			deltaBetween(before, { ...before, resources: [resource('a'), resource('b', { base: 'open' })] })
		);
		expect(after.fences).toBe(before.fences);
		expect(after.resources[0]).toBe(before.resources[0]);
		expect(applied(before, [])).toBe(before);
	});
});
