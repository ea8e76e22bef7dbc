import { expect, test } from 'vitest';
import type { Foreseen, Step } from '$core/billing/agreement-foreseen';
import { agreementWords, foreseenWords } from './agreement';

const at = (day: string) => Date.parse(`${day}T12:00Z`);

test.each([
	[{ state: 'first', nextAt: at('2026-12-29') }, 'in its first stretch, then charged on 29 Dec 2026'],
	[{ state: 'running', nextAt: at('2026-12-29') }, 'next payment 29 Dec 2026'],
	[{ state: 'running' }, 'goes on'],
	[{ state: 'renewing', nextAt: at('2026-12-29') }, 'being charged'],
	[{ state: 'renewing', processor: 'offline' }, 'asked for the next payment'],
	[{ state: 'owing', attempt: 2, nextAt: at('2026-12-29') }, 'declined once; next try 29 Dec 2026'],
	[{ state: 'owing', attempt: 3, nextAt: at('2026-12-29') }, 'declined twice; next try 29 Dec 2026'],
	[{ state: 'owing', attempt: 4 }, 'declined 3 times'],
	[{ state: 'owing' }, 'declined, not tried again'],
	[{ state: 'ending', paidThrough: at('2026-12-29') }, 'cancelled, open until 29 Dec 2026'],
	[{ state: 'resting', paidThrough: at('2026-12-29') }, 'rests from 29 Dec 2026 on'],
	[
		{ state: 'resting', paidThrough: at('2026-12-29'), nextAt: at('2027-02-28') },
		'rests from 29 Dec 2026 on, goes on 28 Feb 2027'
	],
	[{ state: 'finished' }, 'all paid'],
	[{ state: 'ended', paidThrough: at('2026-12-29') }, 'ended']
] as const)('%j', (given, expected) => {
	const usual = { attempt: 0, nextAt: null, paidThrough: null, processor: 'card' as const };
	expect(agreementWords({ ...usual, ...given }, 'UTC')).toBe(expected);
});

const foreseen = (step: Step, kind: string, until: string | null, next: string | null) =>
	({
		step,
		state: { kind, period: 1 },
		open: until === null ? null : { until: at(until) },
		next: next === null ? null : { at: at(next), amountMinor: 1800 },
		paidThrough: null
	}) as Foreseen;

test.each([
	[
		foreseen('cancel', 'ending', '2027-02-18', null),
		'Workshop stays open for Wren until 18 Feb 2027, and with it 3 items. Nothing more is charged, and nothing is paid back.'
	],
	[
		foreseen('rest-2', 'resting', '2027-02-18', '2027-04-18'),
		'Workshop stays open for Wren until 18 Feb 2027, and with it 3 items. The next payment is 18.00 EUR on 18 Apr 2027.'
	],
	[
		foreseen('rest', 'resting', '2027-02-18', null),
		'Workshop stays open for Wren until 18 Feb 2027, and with it 3 items. Nothing is charged until somebody lets it go on.'
	],
	[
		foreseen('wake', 'renewing', null, '2027-02-18'),
		'18.00 EUR is charged to the card now, and with it Workshop opens for Wren: 3 items.'
	],
	[
		foreseen('wake', 'running', '2027-02-25', '2027-02-18'),
		'Workshop goes on for Wren as if nothing had been. The next payment is 18.00 EUR on 18 Feb 2027.'
	],
	[
		foreseen('stop', 'ended', null, null),
		'Workshop is shut for Wren from now on, and with it 3 items. Nothing more is charged, and nothing is paid back.'
	]
])('what would become of it: %#', (step, expected) => {
	const of = { plan: 'Workshop', member: 'Wren', opens: 3, currency: 'EUR', zone: 'UTC' };
	expect(foreseenWords(step, of)).toBe(expected);
});
