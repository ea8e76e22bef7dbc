import { describe, expect, it } from 'vitest';
import { windowDraft } from './fence-draft';
import { readTyped } from './release-typed';

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
