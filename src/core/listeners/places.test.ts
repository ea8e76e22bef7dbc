import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { placeChanges, type Place } from './places';

const WREN: Place = { memberId: 'wren', planId: 'apprentice', email: 'wren@mail.example' };
const JOURNEYMAN = { ...WREN, planId: 'journeyman' };
const MOVED = { ...WREN, email: 'alder@mail.example' };

describe('what is told of who holds a plan', () => {
	it.each([
		['nothing of what is as it was', [WREN], [WREN], [], []],
		['that somebody joined', [], [WREN], [], [WREN]],
		['that somebody left', [WREN], [], [WREN], []],
		['both of a move to another plan', [WREN], [JOURNEYMAN], [WREN], [JOURNEYMAN]],
		['both of another address', [WREN], [MOVED], [WREN], [MOVED]],
		['one plan of two', [WREN, JOURNEYMAN], [JOURNEYMAN], [WREN], []]
	])('%s', (_name, told, held, left, joined) => {
		expect(placeChanges(told, held)).toEqual({ left, joined });
	});

	it('leads a list that takes departures first to what is held, from whatever it had', () => {
		const place = fc.record({
			memberId: fc.constantFrom('a', 'b', 'c'),
			planId: fc.constantFrom('p', 'q'),
			email: fc.constantFrom('x@mail.example', 'y@mail.example')
		});
		const key = (one: Place) => JSON.stringify(one);
		const places = fc.uniqueArray(place, { selector: key, maxLength: 12 });
		fc.assert(
			fc.property(places, places, (told, held) => {
				const { left, joined } = placeChanges(told, held);
				const list = new Set(told.map(key));
				for (const one of left) list.delete(key(one));
				for (const one of joined) list.add(key(one));
				expect([...list].sort()).toEqual(held.map(key).sort());
				// Nobody is told what is known.
				expect(joined.filter((one) => told.some((other) => key(other) === key(one)))).toEqual([]);
			}),
			{ seed: 20261129, numRuns: 2000 }
		);
	});
});
