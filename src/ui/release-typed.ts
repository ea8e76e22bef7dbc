/** Windows as they are typed at the Desk. */
import { readLocal, type CalendarUnit } from '$core/time/calendar';
import type { Window } from '$core/access/model';
import type { WindowDraft } from './fence-draft';

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
