import { expect, test } from 'vitest';
import { agreementWords } from './agreement';

const at = (day: string) => Date.parse(`${day}T12:00Z`);

test.each([
	[{ state: 'first', nextAt: at('2026-12-29') }, 'in its first stretch, then charged on 29 Dec 2026'],
	[{ state: 'running', nextAt: at('2026-12-29') }, 'next payment 29 Dec 2026'],
	[{ state: 'running' }, 'goes on'],
	[{ state: 'renewing', nextAt: at('2026-12-29') }, 'being charged'],
	[{ state: 'owing', attempt: 2, nextAt: at('2026-12-29') }, 'declined once; next try 29 Dec 2026'],
	[{ state: 'owing', attempt: 3, nextAt: at('2026-12-29') }, 'declined twice; next try 29 Dec 2026'],
	[{ state: 'owing', attempt: 4 }, 'declined 3 times'],
	[{ state: 'owing' }, 'declined, not tried again'],
	[{ state: 'ending', paidThrough: at('2026-12-29') }, 'cancelled, open until 29 Dec 2026'],
	[{ state: 'resting', paidThrough: at('2026-12-29') }, 'rests from 29 Dec 2026 on'],
	[{ state: 'finished' }, 'all paid'],
	[{ state: 'ended', paidThrough: at('2026-12-29') }, 'ended']
] as const)('%j', (given, expected) => {
	expect(agreementWords({ attempt: 0, nextAt: null, paidThrough: null, ...given }, 'UTC')).toBe(expected);
});
