import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { drained } from '../pieces';
import { TextIndex } from './text-index';
import { runs } from '../../../tests/support/runs';

const indexOf = (texts: readonly string[]) =>
	drained(TextIndex.building(texts.map((text) => ({ text, value: text }))));

describe('the texts that a path contains', () => {
	it.each([
		[['/clock', 'lock/', 'wheel'], '/clock/wheels', ['/clock', 'lock/', 'wheel']],
		[['he', 'she', 'his', 'hers'], '/ushers', ['she', 'he', 'hers']],
		[['abcd', 'bc'], '/abce', ['bc']],
		[['a'], '/bbb', []],
		[['', 'x'], '/', ['']],
		[['größe', 'ö'], '/größen', ['ö', 'größe']],
		[[], '/anything', []]
	])('of %j, %s contains %j', (texts, path, expected) => {
		expect([...indexOf(texts).within(path)].sort()).toEqual([...expected].sort());
	});

	it('gives every value of one text, each once however often it stands there', () => {
		const entries = [
			{ text: 'tick', value: 1 },
			{ text: 'tick', value: 2 }
		];
		expect(drained(TextIndex.building(entries)).within('/tick-tick')).toEqual([1, 2]);
	});

	// "Find all" by the built-in search is the second opinion.
	it('finds what searching for each text alone finds', () => {
		const letters = fc.string({ unit: fc.constantFrom('a', 'b', '/', 'é'), maxLength: 5 });
		fc.assert(
			fc.property(
				fc.uniqueArray(letters, { maxLength: 12 }),
				fc.array(letters, { maxLength: 8 }),
				(texts, parts) => {
					const path = `/${parts.join('')}`;
					const expected = texts.filter((text) => path.includes(text));
					expect([...indexOf(texts).within(path)].sort()).toEqual(expected.sort());
				}
			),
			{ seed: 7, numRuns: runs(400) }
		);
	});

	it('are none of an empty list, and the empty text is in every path', () => {
		expect(TextIndex.empty<number>().within('/tick')).toEqual([]);
		const everywhere = drained(TextIndex.building([{ text: '', value: 1 }]));
		expect(everywhere.within('/tick')).toEqual([1]);
		const both = drained(
			TextIndex.building([
				{ text: '', value: 1 },
				{ text: 'ick', value: 2 }
			])
		);
		expect(both.within('/tick')).toEqual([1, 2]);
		expect(both.within('/')).toEqual([1]);
	});

	it('are filed in pieces of two hundred', () => {
		const pieces = (count: number) => {
			const work = TextIndex.building(Array.from({ length: count }, (_, n) => ({ text: `${n}`, value: n })));
			let found = 0;
			while (!work.next().done) found++;
			return found;
		};
		expect([1, 199, 200, 399, 400].map(pieces)).toEqual([0, 0, 1, 1, 2]);
	});
});
