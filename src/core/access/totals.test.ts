import { describe, expect, it } from 'vitest';
import { DAY, grant, member } from '../../../tests/support/access';
import { totalsOf } from './totals';

const NOW = Date.parse('2026-07-01T09:00Z');
const running = { from: NOW - 9 * DAY };

describe('totals of members', () => {
	it.each([
		['holds', [grant(running)]],
		['holds', [grant({ ...running, until: NOW + 1 })]],
		['lapsed', [grant({ ...running, until: NOW })]],
		['lapsed', [grant({ ...running, revokedAt: NOW })]],
		['holds', [grant({ ...running, revokedAt: NOW + 1 })]],
		['holds', [grant({ ...running, until: NOW - DAY }), grant({ from: NOW })]],
		['never', []],
		['never', [grant({ from: NOW + 1 })]],
		['never', [grant({ ...running, planId: 'friends' })]],
		['lapsed', [grant({ ...running, planId: 'friends' }), grant({ ...running, until: NOW - 1 })]]
	] as const)('count as one who %s: %#', (state, grants) => {
		const totals = totalsOf([member([...grants])], new Set(['friends']), NOW);
		expect(totals).toEqual({ all: 1, holds: 0, lapsed: 0, never: 0, [state]: 1 });
	});
});
