import { describe, expect, it, test } from 'vitest';
import { PROCESSORS, readWays, WAY_LISTS, waysToPay, type ProcessorName } from './pay-by';

describe('the ways to pay', () => {
	test.each<[string, ProcessorName[], ProcessorName[] | null, ProcessorName[]]>([
		['of a plan without its own are the site’s', ['card', 'offline'], null, ['card', 'offline']],
		['stand in the plan’s own order', ['card', 'offline'], ['offline', 'card'], ['offline', 'card']],
		['are those of the plan that the site has', ['card'], ['offline', 'card'], ['card']],
		['are the site’s where nothing of the plan’s is left', ['card'], ['offline'], ['card']]
	])('%s', (_name, site, plan, expected) => {
		expect(waysToPay(site, plan)).toEqual(expected);
	});

	it('are never none, and none that the site has not', () => {
		const lists = WAY_LISTS.map(readWays);
		for (const site of lists)
			for (const plan of [null, [], ...lists]) {
				const ways = waysToPay(site, plan);
				expect(ways.length).toBeGreaterThan(0);
				expect(ways.every((way) => site.includes(way))).toBe(true);
				expect(new Set(ways).size).toBe(ways.length);
			}
	});

	it('are read as forms send them, each of them in some list, and what is none is left out', () => {
		expect(WAY_LISTS.map((list) => readWays(list).join(' '))).toEqual([...WAY_LISTS]);
		for (const name of PROCESSORS) expect(WAY_LISTS.some((list) => readWays(list).includes(name))).toBe(true);
		expect(readWays('card toString offline  ')).toEqual(['card', 'offline']);
	});
});
