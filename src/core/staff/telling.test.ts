import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { atHour, writeLocal } from '../time/calendar';
import { ALL_PERMISSIONS, NO_PERMISSIONS, PERMISSIONS } from './permissions';
import { isToldTo, kindsFor, lastDaily, TELL_KINDS, tellKind, TOLD_ACTIONS, usualHow } from './telling';

const ZONE = 'Europe/Vienna';
const at = (text: string) => Date.parse(`${text}Z`);
const telling = (action: string, over: { actorId?: string; isOfLibrary?: boolean } = {}) => ({
	action,
	actorId: null,
	isOfLibrary: false,
	...over
});

describe('the mail of the day', () => {
	it.each([
		['a moment before seven', '2026-11-28T05:59:59.999', '2026-11-27T06:00'],
		['at seven', '2026-11-28T06:00', '2026-11-28T06:00'],
		['in the evening', '2026-11-28T20:00', '2026-11-28T06:00'],
		['in summer', '2026-07-01T05:00', '2026-07-01T05:00'],
		['the night that the clocks go forward', '2026-03-29T04:59', '2026-03-28T06:00'],
		['the night that the clocks go back', '2026-10-25T06:30', '2026-10-25T06:00']
	])('was due last: %s', (_, now, due) => {
		expect(lastDaily(at(now), ZONE)).toBe(at(due));
	});

	it('is due once on each day, at seven there', () => {
		const zone = fc.constantFrom(ZONE, 'America/New_York', 'Asia/Kathmandu', 'Pacific/Auckland');
		const moment = fc.integer({ min: at('2026-01-01T00:00'), max: at('2028-01-01T00:00') });
		fc.assert(
			fc.property(moment, zone, (now, there) => {
				const due = lastDaily(now, there);
				expect(due).toBeLessThanOrEqual(now);
				expect(writeLocal(due, there).slice(11, 16)).toBe('07:00');
				expect(lastDaily(due, there)).toBe(due);
				expect(lastDaily(due - 1, there)).toBeLessThan(due);
				expect(atHour(now, 7, there) <= now).toBe(due === atHour(now, 7, there));
			})
		);
	});
});

describe('who is told', () => {
	it.each([
		['granted', 'joined'],
		['subscription-lowered', 'left'],
		['subscription-resume', 'joined'],
		['subscription-moved', 'joined'],
		['subscription-cancel', 'left'],
		['subscription-declined', 'left'],
		['payment-refunded', 'left'],
		['deleted-member', 'left'],
		['ran-out', 'left'],
		['payment-disputed', 'wrong'],
		['payment-won', 'wrong'],
		['payment-lost', 'wrong'],
		['failed', 'wrong'],
		['saved-site', null],
		['toString', null]
	])('%s: %s', (action, kind) => {
		expect(tellKind(action)).toBe(kind);
	});

	it('looks in the audit for what the audit knows', () => {
		expect(TOLD_ACTIONS).toHaveLength(11);
		expect(TOLD_ACTIONS).not.toContain('ran-out');
		expect(TOLD_ACTIONS).not.toContain('failed');
	});

	it.each([
		['who joins', 'granted', false, ['members'], ['sales']],
		['a dispute', 'payment-disputed', false, ['sales'], ['members']],
		['a dispute that is won', 'payment-won', false, ['sales'], ['library']],
		['a dispute that is lost', 'payment-lost', false, ['sales'], ['members']],
		['a film that failed', 'failed', true, ['library'], ['members']],
		['a mail that failed', 'failed', false, ['members'], ['library']],
		['a charge that failed', 'failed', false, ['sales'], ['library']]
	] as const)('%s is for whoever may see it', (_, action, isOfLibrary, may, mayNot) => {
		const told = telling(action, { isOfLibrary });
		expect(isToldTo(told, { id: 'one', permissions: new Set(may) })).toBe(true);
		expect(isToldTo(told, { id: 'one', permissions: new Set(mayNot) })).toBe(false);
	});

	it('is not whoever did it', () => {
		const told = telling('granted', { actorId: 'one' });
		expect(isToldTo(told, { id: 'one', permissions: ALL_PERMISSIONS })).toBe(false);
		expect(isToldTo(told, { id: 'two', permissions: ALL_PERMISSIONS })).toBe(true);
	});

	it('may choose among the kinds that they could be told of', () => {
		expect(kindsFor(NO_PERMISSIONS)).toEqual([]);
		expect(kindsFor(ALL_PERMISSIONS)).toEqual([...TELL_KINDS]);
		expect(kindsFor(new Set(['library']))).toEqual(['wrong']);
		expect(kindsFor(new Set(['sales']))).toEqual(['wrong']);
		expect(kindsFor(new Set(['members']))).toEqual(['joined', 'left', 'wrong']);
		for (const one of PERMISSIONS)
			if (!['library', 'members', 'sales'].includes(one)) expect(kindsFor(new Set([one]))).toEqual([]);
	});

	it('is, where nothing was chosen, the owner: what goes wrong at once, the others by day', () => {
		expect(TELL_KINDS.map((kind) => usualHow(kind, true))).toEqual(['daily', 'daily', 'at-once']);
		expect(TELL_KINDS.map((kind) => usualHow(kind, false))).toEqual(['never', 'never', 'never']);
	});
});
