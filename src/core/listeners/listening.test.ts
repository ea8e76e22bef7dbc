import { describe, expect, it } from 'vitest';
import {
	afterCall,
	CALL_EVENTS,
	GIVEN_UP_AFTER_MS,
	isToldOf,
	type CallAnswer,
	type CallEnd
} from './listening';

const SINCE = Date.UTC(2026, 11, 1, 8);
const answered = (status: number): CallAnswer => ({ kind: 'answered', status });

describe('a call that was made', () => {
	// Which statuses speak of the content: RFC 9110 §15.5, by their definitions.
	it.each<[string, CallAnswer, CallEnd]>([
		['is taken by 200', answered(200), 'taken'],
		['is taken by 202, whatever becomes of it there', answered(202), 'taken'],
		['is taken by 204', answered(204), 'taken'],
		[
			'is tried again where it is sent elsewhere: no call is made to where a redirect leads',
			answered(302),
			'again'
		],
		['is refused by 400', answered(400), 'refused'],
		['is tried again while the key is not known there', answered(401), 'again'],
		['is tried again while it may not', answered(403), 'again'],
		['is tried again while there is nothing at the address', answered(404), 'again'],
		['is tried again after a time-out there', answered(408), 'again'],
		['is refused by 410', answered(410), 'refused'],
		['is refused by 422', answered(422), 'refused'],
		['is tried again by whoever has too much to do', answered(429), 'again'],
		['is tried again after 500', answered(500), 'again'],
		['is tried again after 503', answered(503), 'again'],
		['is tried again where nobody answered', { kind: 'silent' }, 'again']
	])('%s', (_name, answer, end) => {
		expect(afterCall(answer, SINCE, SINCE + 1000)).toBe(end);
	});

	it.each([
		[GIVEN_UP_AFTER_MS - 1, 'again'],
		[GIVEN_UP_AFTER_MS, 'refused'],
		[GIVEN_UP_AFTER_MS + 1, 'refused']
	])('that nobody answered is, %d ms later, %s', (ms, end) => {
		expect(afterCall({ kind: 'silent' }, SINCE, SINCE + ms)).toBe(end);
	});

	it('that is taken at last is taken, however late', () => {
		expect(afterCall(answered(200), SINCE, SINCE + 10 * GIVEN_UP_AFTER_MS)).toBe('taken');
	});
});

describe('a program', () => {
	it.each([
		['of any plan', null, 'a', true],
		['of a plan that it listens to', ['a', 'b'], 'b', true],
		['of no other plan', ['a', 'b'], 'c', false],
		['of none, where it listens to none', [], 'a', false]
	])('is told %s', (_name, planIds, planId, isTold) => {
		expect(isToldOf({ events: ['joined'], planIds }, 'joined', planId)).toBe(isTold);
	});

	it.each(CALL_EVENTS)('that does not listen for “%s” is told nothing of it', (event) => {
		const events = CALL_EVENTS.filter((one) => one !== event);
		expect(isToldOf({ events, planIds: null }, event, 'a')).toBe(false);
		expect(isToldOf({ events: [event], planIds: null }, event, 'a')).toBe(true);
	});
});
