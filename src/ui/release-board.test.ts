import { describe, expect, it } from 'vitest';
import { windowDraft } from './fence-draft';
import { moved, readTyped, resized, span } from './release-board';

const never = { kind: 'never' } as const;
const after = (count: number, unit: 'day' | 'week') => ({
	opens: { kind: 'after' as const, count, unit },
	closes: never
});

describe('bars', () => {
	it('stand where they open, counted from joining', () => {
		expect(span(14 * 86_400_000, null, 0, 'week')).toEqual({ from: 2, to: null });
		expect(span(-5, 7 * 86_400_000, 0, 'week')).toEqual({ from: 0, to: 1 });
	});
	it('move by whole units, never before joining, and change their unit for the board’s', () => {
		expect(moved(after(1, 'week'), 2, 'week').opens).toEqual({ kind: 'after', count: 3, unit: 'week' });
		expect(moved(after(1, 'week'), -2, 'week').opens).toEqual({ kind: 'at-once' });
		expect(moved(after(14, 'day'), 1, 'week').opens).toEqual({ kind: 'after', count: 3, unit: 'week' });
		expect(moved({ opens: { kind: 'on', at: 0 }, closes: never }, 1, 'week').opens).toEqual({
			kind: 'on',
			at: 7 * 86_400_000
		});
	});
	it('are resized to no less than one unit', () => {
		const short = {
			...after(1, 'week'),
			closes: { kind: 'after' as const, count: 1, unit: 'week' as const }
		};
		expect(resized(short, -1, 'week').closes).toEqual({ kind: 'after', count: 1, unit: 'week' });
		expect(resized(short, 3, 'week').closes).toEqual({ kind: 'after', count: 4, unit: 'week' });
		expect(resized(after(1, 'week'), -1, 'week').closes).toEqual({ kind: 'after', count: 4, unit: 'week' });
		expect(resized(after(1, 'week'), 1, 'week').closes).toEqual(never);
	});
});

describe('a typed window', () => {
	const edge = { count: '1', unit: 'week' as const, local: '' };
	const typed = (opens: object, closes: object = { kind: 'never' }) =>
		readTyped({ opens: { ...edge, ...opens }, closes: { ...edge, ...closes } } as never, 'Europe/Vienna');

	it('is drawn where it will be saved: dates are those of the publisher’s zone', () => {
		const read = typed({ kind: 'on', local: '2026-07-01T09:00' });
		expect(read).toMatchObject({ ok: true, window: { opens: { at: Date.parse('2026-07-01T07:00Z') } } });
		if (!read.ok) return;
		expect(windowDraft(read.window, 'Europe/Vienna').opens.local).toBe('2026-07-01T09:00');
	});

	it.each([
		['letters', { kind: 'after', count: 'two' }],
		['a fraction', { kind: 'after', count: '1.5' }],
		['no date', { kind: 'on', local: '' }],
		['a day that there is not', { kind: 'on', local: '2026-02-30T09:00' }]
	])('of %s is said to be none', (_name, opens) => {
		expect(typed(opens)).toMatchObject({ ok: false });
	});

	it('closes no sooner than one unit after it opens', () => {
		expect(typed({ kind: 'at-once' }, { kind: 'after', count: '0' })).toMatchObject({ ok: false });
		expect(typed({ kind: 'after', count: '0' })).toMatchObject({ ok: true });
	});
});
