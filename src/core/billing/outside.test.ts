import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { lastOf, readOutside, type OutsideEvent } from './outside';

const grant = (id: string, at: number, planId = 'workshop'): OutsideEvent => ({
	...{ id, at },
	does: { kind: 'grant', planId, until: null }
});
const withdraw = (id: string, at: number): OutsideEvent => ({ id, at, does: { kind: 'withdraw' } });

describe('of what a checkout elsewhere told', () => {
	it('what happened last counts, however late it was heard of', () => {
		expect(lastOf([])).toBeNull();
		expect(lastOf([grant('a', 1)])?.id).toBe('a');
		expect(lastOf([withdraw('b', 12), grant('a', 11)])?.id).toBe('b');
		expect(lastOf([grant('a', 11), withdraw('b', 12), grant('c', 13)])?.id).toBe('c');
	});

	it('at one moment what takes away counts, and of two alike always the same', () => {
		expect(lastOf([withdraw('a', 5), grant('b', 5)])?.id).toBe('a');
		expect(lastOf([grant('a', 5), grant('b', 5)])?.id).toBe('b');
		expect(lastOf([grant('b', 5), grant('a', 5)])?.id).toBe('b');
	});

	it('order and repetition do not matter', () => {
		const event = fc
			.tuple(fc.constantFrom('a', 'b', 'c', 'd', 'e'), fc.integer({ min: 0, max: 3 }), fc.boolean())
			.map(([id, at, gives]) => (gives ? grant(id, at) : withdraw(id, at)));
		fc.assert(
			fc.property(fc.uniqueArray(event, { selector: ({ id }) => id }), fc.nat(), (events, n) => {
				const again = [...events, ...events.slice(0, n % 3)].reverse();
				expect(lastOf(again)).toEqual(lastOf(events));
			}),
			{ seed: 20_261_206 }
		);
	});
});

describe('a message', () => {
	const good = {
		...{ id: 'e-1', purchase: 'p-1', at: '2026-05-31T10:00:00Z', does: 'grant', plan: 'workshop' },
		email: ' Wren@Mail.example '
	};
	const at = Date.UTC(2026, 4, 31, 10);

	it('is read with what may be left out', () => {
		const base = { id: 'e-1', purchase: 'p-1', at, email: 'Wren@Mail.example', name: '' };
		expect(readOutside(good)).toEqual({
			...{ ok: true, message: { ...base, does: { kind: 'grant', plan: 'workshop', until: null } } }
		});
		expect(readOutside({ ...good, does: 'withdraw', name: 'Wren', until: 'never' })).toEqual({
			...{ ok: true, message: { ...base, name: 'Wren', does: { kind: 'withdraw' } } }
		});
		expect(readOutside({ ...good, until: '2027-05-31T12:00:00+02:00' })).toMatchObject({
			message: { does: { until: Date.UTC(2027, 4, 31, 10) } }
		});
	});

	it.each([
		['id', { id: '' }],
		['id', { id: 'x'.repeat(101) }],
		['id', { id: 7 }],
		['purchase', { purchase: undefined }],
		['at', { at: '31 May' }],
		['at', { at: '2026-05-31' }],
		['at', { at: '2026-05-31T10:00:00' }],
		['at', { at: '2026-13-31T10:00:00Z' }],
		['email', { email: 'wren' }],
		['email', { email: 'a b@mail.example' }],
		['name', { name: 'x'.repeat(121) }],
		['does', { does: 'give' }],
		['plan', { plan: '' }],
		['until', { until: 'soon' }]
	])('is refused for its %s: %o', (field, wrong) => {
		expect(readOutside({ ...good, ...wrong })).toEqual({ ok: false, field });
	});

	it.each([null, undefined, 'text', 7, [], [good]])('is none: %o', (sent) => {
		expect(readOutside(sent)).toEqual({ ok: false, field: 'id' });
	});
});
