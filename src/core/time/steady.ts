import { Temporal } from 'temporal-polyfill';
import type { Instant } from './instant';

/** A span in which the clocks of a zone are set once: they stand `offset` milliseconds before UTC. */
export interface Steady {
	/** `-Infinity`: since ever. */
	from: Instant;
	/** The first moment after it. */
	until: Instant;
	offset: number;
}

const known = new Map<string, Steady[]>();
const KEPT_AT_MOST = 400;

/** The span that an instant lies in. Spans are kept: there are two a year, and dates by the million. */
export function steadyAt(at: Instant, zone: string): Steady {
	const spans = known.get(zone) ?? [];
	const found = spans.find(({ from, until }) => from <= at && at < until);
	if (found) return found;
	const here = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone);
	// A change that happens at this very moment lies before the next.
	const next = here.getTimeZoneTransition('next');
	const last = here.add({ milliseconds: 1 }).getTimeZoneTransition('previous');
	const span = {
		from: last?.epochMilliseconds ?? -Infinity,
		until: next?.epochMilliseconds ?? Infinity,
		offset: here.offsetNanoseconds / 1e6
	};
	known.set(zone, spans.length < KEPT_AT_MOST ? [...spans, span] : [span]);
	return span;
}
