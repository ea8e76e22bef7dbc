/**
 * What a program that listens is told of, and what becomes of a call once it was made.
 *
 * Calls to one program are made one after the other, in the order of what happened. What its answer says of the call itself
 * is final; whatever speaks of the program (it is away, slow, elsewhere, or does not know us) is tried again, and the later
 * calls wait behind it. After two days a call is given up, and the next one is tried.
 * Example: 503 now and 200 in a minute is told once, a minute late; 422 is listed as refused, and the next call is made.
 */
import type { Instant } from '../time/instant';

export const CALL_EVENTS = ['joined', 'left', 'bought'] as const;
export type CallEvent = (typeof CALL_EVENTS)[number];

/** `trial`: somebody at the Desk looks whether it is heard. */
export type CallKind = CallEvent | 'trial';

export interface Listening {
	events: readonly CallEvent[];
	/** `null`: whatever plan it is about. */
	planIds: readonly string[] | null;
}

export function isToldOf({ events, planIds }: Listening, event: CallEvent, planId: string): boolean {
	return events.includes(event) && (planIds === null || planIds.includes(planId));
}

/** A call as it is sent: the same however often. What it is about cannot take its name or its kind. */
export function callBody({
	id,
	event,
	content
}: {
	id: string;
	event: CallKind;
	content: Record<string, unknown>;
}): string {
	return JSON.stringify({ ...content, id, event });
}

/** What the other side said, or why it said nothing. */
export type CallAnswer =
	| { kind: 'answered'; status: number }
	/** No answer came: it cannot be reached, or was too slow. */
	| { kind: 'silent' };

/** `again`: later, and what comes after it waits; `refused`: never by itself. */
export type CallEnd = 'taken' | 'refused' | 'again';

/** RFC 9110 §15.5: the content, not the sender, the address or the moment, is what is wrong. */
const ABOUT_THE_CALL: ReadonlySet<number> = new Set([400, 405, 406, 409, 410, 411, 413, 415, 422]);

export const GIVEN_UP_AFTER_MS = 48 * 3_600_000;

/**
 * @param waitsSince when the call could first have been made: what stood behind another one is not given up with it
 */
export function afterCall(answer: CallAnswer, waitsSince: Instant, now: Instant): CallEnd {
	if (answer.kind === 'answered') {
		if (answer.status >= 200 && answer.status < 300) return 'taken';
		if (ABOUT_THE_CALL.has(answer.status)) return 'refused';
	}
	return now - waitsSince >= GIVEN_UP_AFTER_MS ? 'refused' : 'again';
}
