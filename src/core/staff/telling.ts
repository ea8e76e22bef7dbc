/**
 * Who of the staff is mailed what: at once, once a day, or never, by kind. Nobody is told what they may not see, nor what they
 * did themselves.
 *
 * Example: an owner who chose “daily” for who leaves finds yesterday's cancellations in one mail after seven in the morning.
 */
import { addCalendar, atHour } from '../time/calendar';
import type { Instant } from '../time/instant';
import { mayAny, type Permission, type Permissions } from './permissions';

export const TELL_KINDS = ['joined', 'left', 'wrong'] as const;
export type TellKind = (typeof TELL_KINDS)[number];

export const TELL_HOWS = ['at-once', 'daily', 'never'] as const;
export type TellHow = (typeof TELL_HOWS)[number];

/** As a publisher asks it to be: what goes wrong at once, and the others by day. Staff who are no owners ask first. */
export function usualHow(kind: TellKind, isOwner: boolean): TellHow {
	if (!isOwner) return 'never';
	return kind === 'wrong' ? 'at-once' : 'daily';
}

/** In the publisher's zone. */
export const DAILY_HOUR = 7;

/** The last moment, up to now, at which the mail of the day was due. */
export function lastDaily(now: Instant, zone: string): Instant {
	const today = atHour(now, DAILY_HOUR, zone);
	return today <= now ? today : atHour(addCalendar(now, -1, 'day', zone), DAILY_HOUR, zone);
}

/** What is told of, as the audit or the queue calls it, and its kind. `ran-out` is worked out, `failed` is a job. */
const KIND_OF: Readonly<Record<string, TellKind>> = {
	granted: 'joined',
	'subscription-resume': 'joined',
	'subscription-moved': 'joined',
	'subscription-lowered': 'left',
	'subscription-cancel': 'left',
	'subscription-declined': 'left',
	'payment-refunded': 'left',
	'deleted-member': 'left',
	'ran-out': 'left',
	'payment-disputed': 'wrong',
	'payment-won': 'wrong',
	'payment-lost': 'wrong',
	failed: 'wrong'
};

/** Actions of the audit that are told of. */
export const TOLD_ACTIONS = Object.keys(KIND_OF).filter(
	(action) => action !== 'ran-out' && action !== 'failed'
);

export interface Telling {
	action: string;
	/** Who did it; `null`: Stile, or somebody who is no staff. */
	actorId: string | null;
	/** Of a job that failed: whether it is one of the Library. */
	isOfLibrary: boolean;
}

export function tellKind(action: string): TellKind | null {
	return Object.hasOwn(KIND_OF, action) ? (KIND_OF[action] ?? null) : null;
}

const DISPUTES: ReadonlySet<string> = new Set(['payment-disputed', 'payment-won', 'payment-lost']);

/** What one has to be allowed to see to be told of it. */
function needsOf({ action, isOfLibrary }: Telling): readonly Permission[] {
	if (action === 'failed') return isOfLibrary ? ['library'] : ['members', 'sales'];
	return DISPUTES.has(action) ? ['sales'] : ['members'];
}

/** Kinds that somebody could be told of. */
export function kindsFor(held: Permissions): TellKind[] {
	return TELL_KINDS.filter((kind) =>
		Object.entries(KIND_OF).some(
			([action, of]) =>
				of === kind &&
				[true, false].some((isOfLibrary) => mayAny(held, needsOf({ action, actorId: null, isOfLibrary })))
		)
	);
}

/** Whether somebody is told of it, who wishes to be told so of its kind. */
export function isToldTo(telling: Telling, who: { id: string; permissions: Permissions }): boolean {
	return telling.actorId !== who.id && mayAny(who.permissions, needsOf(telling));
}
