import type { OpenBytes } from './storage';

export type OutboundProblem =
	| 'not-an-address'
	/** Private, mapped, link-local and the like: nothing of ours is fetched for anybody. */
	| 'private-address'
	| 'unreachable'
	| 'too-many-redirects'
	| 'too-large'
	| 'too-slow'
	| 'refused';

export class OutboundError extends Error {
	constructor(
		readonly code: OutboundProblem,
		message: string,
		options?: { cause?: unknown }
	) {
		super(message, options);
	}
}

/** What a request outside found, before its body is read. */
export interface OutboundHead {
	/** After redirects. */
	url: string;
	bytes: number | null;
	mediaType: string | null;
	/** Whether ranges are answered. */
	hasRanges: boolean;
}

export interface Posted {
	status: number;
	/** At most 300 characters, without what does not print. */
	answer: string;
}

/** The only way to the outside: it resolves, pins, refuses what is not public, and caps size and time. */
export interface Outbound {
	head(url: string): Promise<OutboundHead>;
	/** Bytes at an address, passed through. `null` where there is nothing. */
	open(url: string): Promise<OpenBytes | null>;
	/** Sends something to exactly this address: no redirect is followed, and of the answer the first words are read. */
	post(url: string, body: Uint8Array, headers: Record<string, string>): Promise<Posted>;
}
