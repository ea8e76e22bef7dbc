/** Where bars stand on the release board, and what moving one means. Units are whole: bars snap to them. */
import { readLocal, type CalendarUnit } from '$core/time/calendar';
import type { Window } from '$core/access/model';
import type { WindowDraft } from './fence-draft';

export type BoardUnit = Exclude<CalendarUnit, 'year'>;

const DAYS: Record<CalendarUnit, number> = { day: 1, week: 7, month: 30.44, year: 365.25 };
const DAY_MS = 86_400_000;

/** Columns that are drawn, by unit. */
export const COLUMNS: Record<BoardUnit, number> = { day: 31, week: 20, month: 18 };

/** A stretch since joining, in units; `null` for no end. */
export function span(
	start: number,
	end: number | null,
	joinedAt: number,
	unit: BoardUnit
): { from: number; to: number | null } {
	const units = (at: number) => (at - joinedAt) / DAY_MS / DAYS[unit];
	return { from: Math.max(0, units(start)), to: end === null ? null : units(end) };
}

/** Moves an opening by whole units; it never comes before joining, and a date moves by days. */
export function moved(window: Window, by: number, unit: BoardUnit): Window {
	const { opens } = window;
	if (opens.kind === 'on')
		return { ...window, opens: { kind: 'on', at: opens.at + by * Math.round(DAYS[unit]) * DAY_MS } };
	const now = opens.kind === 'after' ? Math.round((opens.count * DAYS[opens.unit]) / DAYS[unit]) : 0;
	const count = Math.max(0, now + by);
	return { ...window, opens: count === 0 ? { kind: 'at-once' } : { kind: 'after', count, unit } };
}

/** Lengthens or shortens by whole units, to no less than one; shortening a window without an end gives it one. */
export function resized(window: Window, by: number, unit: BoardUnit): Window {
	const { closes } = window;
	if (closes.kind === 'on')
		return { ...window, closes: { kind: 'on', at: closes.at + by * Math.round(DAYS[unit]) * DAY_MS } };
	if (closes.kind === 'never')
		return by < 0 ? { ...window, closes: { kind: 'after', count: 4, unit } } : window;
	const now = Math.max(1, Math.round((closes.count * DAYS[closes.unit]) / DAYS[unit]));
	return { ...window, closes: { kind: 'after', count: Math.max(1, now + by), unit } };
}

/** A window as it was typed, dates in the publisher's zone: what is drawn from then on is what is saved. */
export function readTyped(
	{ opens, closes }: WindowDraft,
	zone: string
): { ok: true; window: Window } | { ok: false; message: string } {
	const from = edge(opens, zone, 0);
	const to = edge(closes, zone, 1);
	if (from === null || to === null)
		return { ok: false, message: 'Type whole numbers, and dates such as 31 March 2026, 18:00.' };
	return {
		ok: true,
		window: {
			opens: from === 'none' ? { kind: 'at-once' } : from,
			closes: to === 'none' ? { kind: 'never' } : to
		}
	};
}

type Edge = { kind: 'after'; count: number; unit: CalendarUnit } | { kind: 'on'; at: number };

function edge(typed: WindowDraft['opens' | 'closes'], zone: string, least: number): Edge | 'none' | null {
	if (typed.kind === 'after') {
		const count = /^\d{1,4}$/.test(typed.count.trim()) ? Number(typed.count) : NaN;
		return count >= least ? { kind: 'after', count, unit: typed.unit } : null;
	}
	if (typed.kind !== 'on') return 'none';
	const read = readLocal(typed.local, zone);
	return read.ok ? { kind: 'on', at: read.at } : null;
}
