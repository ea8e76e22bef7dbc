import { expect, it } from 'vitest';
import { firstDay, mailsByDay } from './by-day';

const at = (text: string) => Date.parse(text);
/** A day after the clocks went back there. */
const NOW = at('2026-10-26T12:00:00Z');
const ZONE = 'Europe/Berlin';

it('counts each mail on the day that it was there, the day of 25 hours among them', () => {
	const counted = [
		// 24 October, 23:45 there; 25 October, 00:00 and 23:45; 26 October, 00:00.
		{ at: at('2026-10-24T21:45:00Z'), count: 1, isBack: false },
		{ at: at('2026-10-24T22:00:00Z'), count: 2, isBack: false },
		{ at: at('2026-10-25T22:45:00Z'), count: 4, isBack: true },
		{ at: at('2026-10-25T23:00:00Z'), count: 8, isBack: false }
	];
	expect(mailsByDay(counted, NOW, 3, ZONE)).toEqual([
		{ at: at('2026-10-23T22:00:00Z'), sent: 1, back: 0 },
		{ at: at('2026-10-24T22:00:00Z'), sent: 2, back: 4 },
		{ at: at('2026-10-25T23:00:00Z'), sent: 8, back: 0 }
	]);
});

it('shows days on which nothing left, and leaves out what was before them', () => {
	const before = { at: firstDay(NOW, 14, ZONE) - 1, count: 9, isBack: false };
	const days = mailsByDay([before], NOW, 14, ZONE);
	expect(days).toHaveLength(14);
	expect(days.every(({ sent, back }) => sent === 0 && back === 0)).toBe(true);
});
