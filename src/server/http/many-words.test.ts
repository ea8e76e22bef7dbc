import { describe, expect, it } from 'vitest';
import { besidesWords } from './many-words';

describe('what else would happen to some of many', () => {
	it.each([
		[{ paying: 0, unproved: 0 }, []],
		[{ paying: 1, unproved: 0 }, [/^One of them pays .* nothing more is charged/]],
		[{ paying: 7, unproved: 1 }, [/^7 of them pay /, /^One of them has not shown/]],
		[{ paying: 0, unproved: 3 }, [/^3 of them have not shown .* signed out/]]
	])('is said of %j', (besides, expected) => {
		expect(besidesWords(besides)).toEqual(expected.map((words) => expect.stringMatching(words) as string));
	});
});
