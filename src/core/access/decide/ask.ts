/** What a decision is asked with, and what is seen on the way to it. */
import { laterEnd, type Instant } from '../../time/instant';
import type { Allowed, Step } from '../decision';
import type { Context, Grant, Viewer } from '../model';
import type { Policy } from '../policy';
import type { PlanWay, Way } from '../walk';
import { factOf, grantFact, type By } from './facts';

export interface Ask {
	policy: Policy;
	viewer: Viewer;
	now: Instant;
	context: Context;
	/** Where the steps are written down; `null` where nobody asks why. */
	trace: Step[] | null;
	/** Resources that are being decided, where one follows the rules of another: a circle opens nothing. */
	visiting: readonly string[];
}

export interface Seen {
	allowed: Allowed | null;
	allowedUntil: Instant | null;
	/** End of the way that is allowed, for the choice between several. */
	until: Instant | null;
	isUsedUp: boolean;
	isOver: boolean;
	hasLapsed: boolean;
	/** Something is held, and it ends before the window opens. */
	isHeldInVain: boolean;
	opensAt: Instant | null;
	/** The first moment at which something changes. */
	next: Instant | null;
}

export function nothingSeen(): Seen {
	return {
		allowed: null,
		allowedUntil: null,
		until: null,
		isUsedUp: false,
		isOver: false,
		hasLapsed: false,
		isHeldInVain: false,
		opensAt: null,
		next: null
	};
}

/** By whom a way is taken: a grant of a plan's, or somebody whom the crossing lets in without one. */
export type Crosser = { grant: Grant; planWay: PlanWay } | { grant: null; by: By };

/** With several ways the answer holds to the latest of their ends; uses are taken where there is no limit first. */
export function allow(ask: Ask, way: Way, crosser: Crosser, until: Instant | null, seen: Seen): void {
	const { grant } = crosser;
	const isCounted = (grant ? crosser.planWay.limits : way.limits) !== null;
	const known = seen.allowed;
	seen.allowedUntil = known ? laterEnd(seen.allowedUntil, until) : until;
	const isBetter =
		known?.by !== 'crossing' ||
		(known.isCounted && !isCounted) ||
		(known.isCounted === isCounted && until !== null && (seen.until === null || until < seen.until));
	if (isBetter) {
		seen.allowed = {
			by: 'crossing',
			fenceId: way.fence.id,
			crossingId: way.crossing.id,
			grantId: grant?.id ?? null,
			isCounted
		};
		seen.until = until;
	}
	ask.trace?.push({ code: 'crossed', ...crosserFact(way, crosser), until });
}

export function crosserFact(way: Way, crosser: Crosser) {
	return crosser.grant ? grantFact(way, crosser.planWay, crosser.grant) : factOf(way, crosser.by);
}
