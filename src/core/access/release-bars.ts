/**
 * Bars of the release board: where they stand, and what moving one means. Bars snap to whole units of the calendar.
 *
 * Example: on a board of weeks, a lesson that opens after 2 weeks begins at 2; moved by 1 it opens after 3 weeks.
 */
import { addCalendar, calendarBetween, type CalendarUnit } from '../time/calendar';
import type { Instant } from '../time/instant';
import type { Closes, Opens, Window } from './model';

export type BoardUnit = Exclude<CalendarUnit, 'year'>;

export interface Board {
	/** Where it begins: when somebody joins. */
	joinedAt: Instant;
	unit: BoardUnit;
	zone: string;
}

/** Columns that are drawn, by unit. */
export const COLUMNS: Record<BoardUnit, number> = { day: 31, week: 20, month: 18 };

export interface Span {
	start: Instant;
	end: Instant | null;
}

/** A stretch of time in units since joining; `null` for no end. What came before joining begins with it. */
export function barOf({ start, end }: Span, board: Board): { from: number; to: number | null } {
	return { from: Math.max(0, since(start, board)), to: end === null ? null : since(end, board) };
}

/** When a window is open for whoever joins where the board begins, by itself: fences, and an hour of the site's, have no part. */
export function spanOf({ opens, closes }: Window, { joinedAt, zone }: Board): Span {
	const start = Math.max(joinedAt, edgeOf(opens, joinedAt, zone));
	return { start, end: closes.kind === 'never' ? null : edgeOf(closes, start, zone) };
}

function edgeOf(edge: Opens | Exclude<Closes, { kind: 'never' }>, from: Instant, zone: string): Instant {
	if (edge.kind === 'on') return edge.at;
	return edge.kind === 'after' ? addCalendar(from, edge.count, edge.unit, zone) : from;
}

/** Moves an opening by whole units, and what closes on a date with it; it never comes before joining. */
export function moved(window: Window, by: number, board: Board): Window {
	const { opens, closes } = window;
	const later =
		opens.kind === 'on' && closes.kind === 'on' ? { ...closes, at: stepped(closes.at, by, board) } : closes;
	if (opens.kind === 'on') return { opens: { kind: 'on', at: stepped(opens.at, by, board) }, closes: later };
	const count = Math.max(0, startOf(opens, board) + by);
	return { opens: count === 0 ? { kind: 'at-once' } : { kind: 'after', count, unit: board.unit }, closes };
}

/**
 * Lengthens or shortens by whole units, to no less than one. What has no end is shortened from where the board ends, and
 * what is lengthened beyond it keeps its end.
 */
export function resized(window: Window, by: number, board: Board): Window {
	const { opens, closes } = window;
	const start = spanOf(window, board).start;
	if (closes.kind === 'on') {
		const at = stepped(closes.at, by, board);
		return at > start ? { opens, closes: { kind: 'on', at } } : window;
	}
	if (closes.kind === 'never' && by >= 0) return window;
	const now =
		closes.kind === 'never'
			? Math.max(2, COLUMNS[board.unit] - Math.round(since(start, board)))
			: closes.unit === board.unit
				? closes.count
				: Math.round(calendarBetween(start, edgeOf(closes, start, board.zone), board.unit, board.zone));
	return { opens, closes: { kind: 'after', count: Math.max(1, now + by), unit: board.unit } };
}

function startOf(opens: Opens, board: Board): number {
	if (opens.kind === 'after' && opens.unit === board.unit) return opens.count;
	return Math.round(since(edgeOf(opens, board.joinedAt, board.zone), board));
}

const since = (at: Instant, { joinedAt, unit, zone }: Board) => calendarBetween(joinedAt, at, unit, zone);
const stepped = (at: Instant, by: number, { unit, zone }: Board) => addCalendar(at, by, unit, zone);
