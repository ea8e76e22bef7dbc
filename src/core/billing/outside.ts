/**
 * What a checkout elsewhere tells of a purchase: that it grants a plan, or takes it away again.
 *
 * It tells late, twice and out of order. What happened last counts, by when it happened and not by when it was heard of; of
 * what happened at one moment, what takes away. Example: withdrawn at noon and granted at eleven, heard in this order: it is
 * withdrawn.
 */
import type { Instant } from '../time/instant';

export type OutsideDeed =
	/** `until`: as they sold it; `null`: as long as the plan gives access. */
	{ kind: 'grant'; planId: string; until: Instant | null } | { kind: 'withdraw' };

export interface OutsideEvent {
	/** The checkout's own name for it. */
	id: string;
	at: Instant;
	does: OutsideDeed;
}

/** The event that counts; `null`: there is none. */
export function lastOf<E extends OutsideEvent>(events: readonly E[]): E | null {
	return events.reduce<E | null>((last, one) => (last === null || isAfter(one, last) ? one : last), null);
}

function isAfter(a: OutsideEvent, b: OutsideEvent): boolean {
	const order = a.at - b.at || RANK[a.does.kind] - RANK[b.does.kind];
	return order > 0 || (order === 0 && a.id > b.id);
}

const RANK = { grant: 0, withdraw: 1 } as const;

const MOST_ID_LENGTH = 100;
const MOST_NAME_LENGTH = 120;
/** RFC 5321 §4.5.3.1.3, without the brackets. */
const MOST_EMAIL_LENGTH = 254;

/** A message as it was sent, with the names that the checkout has for things. */
export interface OutsideMessage {
	id: string;
	/** The purchase that it is about. */
	purchase: string;
	at: Instant;
	email: string;
	name: string;
	does: { kind: 'grant'; plan: string; until: Instant | null } | { kind: 'withdraw' };
}

export type ReadOutside = { ok: true; message: OutsideMessage } | { ok: false; field: string };

/** Reads a message; `field`: the first that is missing, or is not what it should be. */
export function readOutside(sent: unknown): ReadOutside {
	const fields: Record<string, unknown> =
		typeof sent === 'object' && sent !== null && !Array.isArray(sent) ? { ...sent } : {};
	const text = (name: string, most: number) => {
		const value = fields[name];
		return typeof value === 'string' && value.trim() !== '' && value.length <= most ? value.trim() : null;
	};
	const wrong = (field: string): ReadOutside => ({ ok: false, field });
	const [id, purchase] = [text('id', MOST_ID_LENGTH), text('purchase', MOST_ID_LENGTH)];
	if (id === null) return wrong('id');
	if (purchase === null) return wrong('purchase');
	const at = momentOf(fields.at);
	if (at === null) return wrong('at');
	const email = text('email', MOST_EMAIL_LENGTH);
	if (email === null || !/^[^\s@]+@[^\s@]+$/.test(email)) return wrong('email');
	const name = fields.name === undefined ? '' : text('name', MOST_NAME_LENGTH);
	if (name === null) return wrong('name');
	const base = { id, purchase, at, email, name };
	if (fields.does === 'withdraw') return { ok: true, message: { ...base, does: { kind: 'withdraw' } } };
	if (fields.does !== 'grant') return wrong('does');
	const plan = text('plan', MOST_ID_LENGTH);
	if (plan === null) return wrong('plan');
	const until = fields.until === undefined || fields.until === null ? null : momentOf(fields.until);
	if (until === null && fields.until !== undefined && fields.until !== null) return wrong('until');
	return { ok: true, message: { ...base, does: { kind: 'grant', plan, until } } };
}

/** ISO 8601 with its zone, such as 2026-05-31T10:00:00Z. */
function momentOf(value: unknown): Instant | null {
	if (typeof value !== 'string' || !/^\d{4}-\d{2}-\d{2}T[\d:.]+(?:Z|[+-]\d{2}:\d{2})$/.test(value))
		return null;
	const at = Date.parse(value);
	return Number.isFinite(at) ? at : null;
}
