import { describe, expect, test } from 'vitest';
import { eventWords, whyWords } from './events';

describe('what happened', () => {
	test.each([
		['granted', null, 'Apprentice', 'joined Apprentice'],
		['granted', null, null, 'joined'],
		['ran-out', null, 'Apprentice', 'lapsed: Apprentice ran out'],
		['ran-out', null, null, 'lapsed: a plan ran out'],
		['subscription-declined', { kind: 'ended' }, null, 'lapsed: what was due was not paid'],
		['subscription-moved', null, 'Journeyman', 'moved to Journeyman'],
		['subscription-moved', null, null, 'moved to another plan'],
		['subscription-lowered', null, 'Apprentice', 'went down to Apprentice'],
		['subscription-declined', { kind: 'tried' }, null, 'had a card declined'],
		['something-else', null, null, 'something else']
	])('%s with %j of %s is said', (action, after, plan, words) => {
		expect(eventWords(action, after, plan)).toBe(words);
	});

	test.each([
		['no-time: The bench is full', 'I have no time for it: The bench is full'],
		['only words', 'only words'],
		['a: b', 'a: b']
	])('the reason %j reads %j', (why, words) => {
		expect(whyWords(why)).toBe(words);
	});
});
