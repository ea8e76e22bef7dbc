import { describe, expect, it } from 'vitest';
import { nextTry } from './retry';

const HOUR = 3_600_000;

describe('trying again', () => {
	it.each([
		[1, 2000],
		[2, 4000],
		[3, 8000],
		[11, 2048_000],
		[12, HOUR],
		[400, HOUR]
	])('waits after %i tries for %i ms', (attempts, wait) => {
		expect(nextTry({ kind: 'for-ever' }, attempts, 0, 1000)).toBe(1000 + wait);
	});

	it('ends where the next try would come after its time', () => {
		const patience = { kind: 'for', ms: 48 * HOUR } as const;
		expect(nextTry(patience, 40, 0, 47 * HOUR)).toBe(48 * HOUR);
		expect(nextTry(patience, 40, 0, 47 * HOUR + 1)).toBeNull();
	});

	it('ends after so many tries', () => {
		expect(nextTry({ kind: 'tries', count: 8 }, 7, 0, 0)).not.toBeNull();
		expect(nextTry({ kind: 'tries', count: 8 }, 8, 0, 0)).toBeNull();
	});
});
