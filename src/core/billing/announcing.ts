/**
 * What is said before it is charged: a payment for a long time, two weeks before; and one that asks for more than the last did,
 * such as the first after a stretch for nothing, or the one after a discount, at most a week before.
 *
 * Example: a plan for 90.00 a year, bought on 1 March: on 15 February of the next year its member reads what is charged on
 * 1 March, and how to end it before.
 */
import { addCalendar } from '../time/calendar';
import type { Instant } from '../time/instant';
import type { Course } from './agreement-course';
import { amountAsked, periodStart, phaseOf, type Phases } from './phases';
import { amountDue } from './terms';

const DAY_MS = 86_400_000;
/** Of that many days or more is a long time. */
const LONG_DAYS = 180;
const LONG_BEFORE_DAYS = 14;
const MORE_BEFORE_DAYS = 7;

export interface Announcement {
	/** That it pays for. */
	period: number;
	/** When it is said. */
	at: Instant;
	dueAt: Instant;
	/** In minor units. */
	amountMinor: number;
}

/** What is to be said of the next payment; `null`: nothing, or there is none. */
export function announcementOf({ state, phases, zone, due }: Course): Announcement | null {
	if ((state.kind !== 'running' && state.kind !== 'first') || due?.event.kind !== 'period-over') return null;
	const period = state.period + 1;
	const amountMinor = amountAsked(phases, period) ?? 0;
	const begun = periodStart(phases, zone, state.period);
	if (amountMinor === 0 || begun === null) return null;
	const span = due.at - begun;
	const said = { period, dueAt: due.at, amountMinor };
	if (span >= LONG_DAYS * DAY_MS) return { ...said, at: addCalendar(due.at, -LONG_BEFORE_DAYS, 'day', zone) };
	if (amountMinor <= askedLast(phases, state.period)) return null;
	return { ...said, at: due.at - Math.min(MORE_BEFORE_DAYS * DAY_MS, Math.floor(span / 3)) };
}

/** Until when another price may be told of, to count from the next due on; `null`: nothing is due by the calendar. */
export function repriceNotice({
	state,
	phases,
	zone,
	due
}: Course): { until: Instant; dueAt: Instant } | null {
	if ((state.kind !== 'running' && state.kind !== 'first') || due?.event.kind !== 'period-over') return null;
	const begun = periodStart(phases, zone, state.period) ?? due.at;
	// Of a week there are no two weeks.
	const notice = Math.min(LONG_BEFORE_DAYS * DAY_MS, Math.floor((due.at - begun) / 2));
	return { until: due.at - notice, dueAt: due.at };
}

/** What a period has asked for, but for what is paid once at joining. */
function askedLast(phases: Phases, period: number): number {
	const { terms, from } = phaseOf(phases, period);
	return amountDue({ ...terms, feeMinor: 0 }, period - from) ?? 0;
}
