import { describe, expect, it } from 'vitest';
import { ORDER_STATES } from './order';
import {
	NOT_REMINDED,
	REMINDED_AGAIN_AFTER_MS,
	whyNotReminded,
	type Abandoned,
	type NotReminded,
	type Remindable
} from './reminding';

const NOW = Date.UTC(2026, 10, 30, 10);
const LEFT: Abandoned = {
	...{ state: 'open', isForOneself: true, isByMember: true },
	...{ hasLater: false, isHeld: false, isSold: true }
};
const WREN: Remindable = { isProved: true, offAt: null, remindedAt: null };

type Case = [NotReminded | null, string, Partial<Abandoned>, Partial<Remindable>];
const CASES: Case[] = [
	[null, 'a page that was left', {}, {}],
	[null, 'a page that has ended meanwhile', { state: 'expired' }, {}],
	['not-left', 'what is paid', { state: 'paid' }, {}],
	['not-left', 'what waits for a transfer', { state: 'waiting' }, {}],
	['not-for-oneself', 'a gift or a move', { isForOneself: false }, {}],
	['only-typed', 'an address that a stranger typed, and be it a member’s', { isByMember: false }, {}],
	['only-typed', 'a member whose mailbox is not proved', {}, { isProved: false }],
	['goes-on', 'what was ordered again since', { hasLater: true }, {}],
	['held', 'what is held by now', { isHeld: true }, {}],
	['not-sold', 'what is not sold any more', { isSold: false }, {}],
	['wants-none', 'somebody who wishes for none', {}, { offAt: NOW - 1 }],
	['lately', 'somebody reminded an hour ago', {}, { remindedAt: NOW - 3_600_000 }]
];

describe('a reminder of what was begun', () => {
	it.each(CASES)('is %s for %s', (why, _of, order, buyer) => {
		expect(whyNotReminded({ ...LEFT, ...order }, { ...WREN, ...buyer }, NOW)).toBe(why);
	});

	it('has a case for every reason', () => {
		expect(
			CASES.flatMap(([why]) => why ?? [])
				.filter((why, n, all) => all.indexOf(why) === n)
				.sort()
		).toEqual([...NOT_REMINDED].sort());
	});

	it.each(ORDER_STATES)(
		'is given of an order that is %s only where nothing of it was paid or is waited for',
		(state) => {
			const isLeft = state === 'open' || state === 'expired';
			expect(whyNotReminded({ ...LEFT, state }, WREN, NOW)).toBe(isLeft ? null : 'not-left');
		}
	);

	it.each([
		[-1, 'lately'],
		[0, null],
		[1, null]
	])('comes again a week after the last one, and %d ms from then is %s', (ms, why) => {
		const remindedAt = NOW - REMINDED_AGAIN_AFTER_MS - ms;
		expect(whyNotReminded(LEFT, { ...WREN, remindedAt }, NOW)).toBe(why);
	});
});
