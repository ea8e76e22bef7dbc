/**
 * Whether something is offered besides to whoever has just paid by card: one press takes it, and it is charged to that card.
 *
 * Only what they could buy at its own page, and do not have: nobody is sold a thing twice. Within the hour, on the device that paid
 * or signed in: later a card is not charged by one press. Each offer is answered once. Example: Workshop is paid at ten; until eleven
 * its buyer is offered the dial templates, for a fifth less.
 */
import type { Instant } from '../time/instant';

/** As long after paying it is offered. */
export const EXTRA_FOR_MS = 3_600_000;

/** More are a nuisance: buyers want on to what they bought. */
export const MOST_EXTRAS = 5;

export interface ExtraStanding {
	/** When what it is offered after was paid; `null`: it was not, or went back. */
	paidAt: Instant | null;
	/** Whether a card is kept that it could be charged to. */
	hasCard: boolean;
	isAnswered: boolean;
	/** It is on sale here, to this buyer, at the price that is offered. */
	isSold: boolean;
	/** It is held, or another rung of its ladder. */
	isHeld: boolean;
	/** All that it opens is open for them. */
	isIncluded: boolean;
	/** Something would have to be asked first: where to send it, or in which country they are. */
	hasQuestions: boolean;
}

export const NOT_OFFERED = [
	'not-paid',
	'too-late',
	'no-card',
	'answered',
	'not-sold',
	'held',
	'included',
	'has-questions'
] as const;
export type NotOffered = (typeof NOT_OFFERED)[number];

/** @returns `null`: it is offered; else the first reason why not */
export function whyNotOffered(extra: ExtraStanding, now: Instant): NotOffered | null {
	if (extra.paidAt === null) return 'not-paid';
	if (now - extra.paidAt >= EXTRA_FOR_MS) return 'too-late';
	if (!extra.hasCard) return 'no-card';
	if (extra.isAnswered) return 'answered';
	if (!extra.isSold) return 'not-sold';
	if (extra.isHeld) return 'held';
	if (extra.isIncluded) return 'included';
	return extra.hasQuestions ? 'has-questions' : null;
}
