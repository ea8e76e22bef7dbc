import { describe, expect, it } from 'vitest';
import { answerWords, callStanding, listenWords } from './calls';

const NONE = { waiting: 0, taken: 0, refused: 0, 'let-go': 0 };

describe('what a program is told of', () => {
	it.each([
		['who joins a plan', ['joined' as const]],
		[
			'who joins a plan, who leaves it, and what is bought',
			['joined' as const, 'left' as const, 'bought' as const]
		]
	])('reads “%s”', (words, events) => {
		expect(listenWords(events)).toBe(words);
	});
});

describe('how it goes with a program that is told', () => {
	it.each([
		['nothing to tell yet', { endedAt: null, failures: 0, count: NONE }],
		['3 told', { endedAt: null, failures: 0, count: { ...NONE, taken: 3 } }],
		[
			'takes nothing now, 2 waiting, 3 told',
			{ endedAt: null, failures: 4, count: { ...NONE, waiting: 2, taken: 3 } }
		],
		['1 refused', { endedAt: null, failures: 0, count: { ...NONE, refused: 1 } }],
		['told nothing any more', { endedAt: 1, failures: 4, count: { ...NONE, waiting: 2 } }]
	])('reads “%s”', (words, of) => {
		expect(callStanding(of)).toBe(words);
	});

	it.each([
		[200, 'ok', 'It answered 200: ok'],
		[422, '', 'It answered 422'],
		[200, 'x'.repeat(300), `It answered 200: ${'x'.repeat(160)}…`],
		[301, 'Moved', 'It answered 301, and sends on to another address: give that one here.'],
		[null, 'list.example cannot be reached.', 'list.example cannot be reached.']
	])('says of %s “%s”: %s', (status, answer, words) => {
		expect(answerWords(status, answer)).toBe(words);
	});
});
