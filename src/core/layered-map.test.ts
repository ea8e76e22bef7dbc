import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LayeredMap } from './layered-map';

const key: fc.Arbitrary<string> = fc.constantFrom('a', 'b', 'c', 'd', 'e');
const changes = fc.uniqueArray(fc.tuple(key, fc.option(fc.nat({ max: 9 }))), { selector: ([name]) => name });

/** What it stands for: a map whose keys keep their place, and come last when they come back. */
function changed(map: Map<string, { n: number }>, list: readonly (readonly [string, number | null])[]) {
	const made = new Map(map);
	for (const [name, n] of list) {
		if (n === null) made.delete(name);
		else made.set(name, { n });
	}
	return made;
}

describe('a map in layers', () => {
	it('is the map that the changes make, and none before it changes', () => {
		fc.assert(
			fc.property(fc.array(key), fc.array(changes, { maxLength: 6 }), (names, steps) => {
				let plain = new Map(names.map((name) => [name, { n: 0 }]));
				let layered = LayeredMap.of(plain);
				const all: [LayeredMap<{ n: number }>, Map<string, { n: number }>][] = [[layered, plain]];
				for (const step of steps) {
					plain = changed(plain, step);
					layered = layered.with(new Map(step.map(([name, n]) => [name, n === null ? null : { n }])));
					all.push([layered, plain]);
				}
				for (const [is, wanted] of all) {
					expect([...is]).toEqual([...wanted]);
					expect([...is.entries()]).toEqual([...wanted]);
					expect([...is.keys()]).toEqual([...wanted.keys()]);
					expect([...is.values()]).toEqual([...wanted.values()]);
					expect(is.size).toBe(wanted.size);
					for (const name of ['a', 'b', 'c', 'd', 'e', 'f']) {
						expect(is.get(name)).toEqual(wanted.get(name));
						expect(is.has(name)).toBe(wanted.has(name));
					}
				}
			}),
			{ seed: 3, numRuns: 500 }
		);
	});

	it('is written out once very much lies over it, and stays what it is', () => {
		let map = LayeredMap.of(new Map(Array.from({ length: 3000 }, (_, n) => [`k${n}`, { n }])));
		for (let n = 0; n < 3000; n += 2) map = map.with(new Map([[`k${n}`, n % 4 === 0 ? null : { n: -n }]]));
		expect(map.size).toBe(2250);
		expect([map.get('k0'), map.get('k2'), map.get('k3'), map.get('k2998')]).toEqual([
			undefined,
			{ n: -2 },
			{ n: 3 },
			{ n: -2998 }
		]);
		const visited: string[] = [];
		map.forEach((_, name, of) => void (of === map && visited.push(name)));
		expect(visited).toEqual([...map.keys()]);
		expect(map.with(new Map())).toBe(map);
	});
});
