/** The answer to "may this viewer open this now?", and the steps that led to it. Codes only; wording is elsewhere. */
import type { Instant } from '../time/instant';
import type { Answer, Standing, Teaser, UseLimit } from './model';

/** In order of precedence. */
export const VERDICTS = ['kept-out', 'open', 'used-up', 'opens-later', 'over', 'shut'] as const;
export type Verdict = (typeof VERDICTS)[number];

export type Decision =
	| {
			verdict: 'open';
			/** The first moment at which the answer may change without any event; `null` when there is none. */
			until: Instant | null;
			allowedBy: Allowed;
	  }
	| {
			verdict: Exclude<Verdict, 'open'>;
			until: Instant | null;
			standing: Standing;
			/** For this standing. */
			answer: Answer;
			teaser: Teaser;
			/** Whether lists show it, with its mark. */
			isListed: boolean;
			/** When it opens for this viewer by itself. */
			opensAt: Instant | null;
			/** They hold something that would open it, and it ends before the window opens. */
			isHeldInVain: boolean;
	  };

export type Denied = Exclude<Decision, { verdict: 'open' }>;

export type Allowed =
	| { by: 'staff' }
	| { by: 'base' }
	| { by: 'crossing'; fenceId: string; crossingId: string; grantId: string | null; isCounted: boolean };

/** One step of the why. */
export type Step =
	| { code: 'staff' }
	| { code: 'no-such-resource' }
	| { code: 'draft' }
	| { code: 'archived' }
	| { code: 'not-published-yet'; at: Instant }
	/** From a place that is blocked. */
	| { code: 'kept-out'; by: 'country' | 'network' }
	| { code: 'fence-off'; fenceId: string }
	/** A wider fence that the walk did not reach. */
	| { code: 'fence-beyond'; fenceId: string; endedBy: string; isSealed: boolean }
	| { code: 'fence-replaces' | 'fence-seals' | 'fence-adds' | 'no-crossing'; fenceId: string }
	| ({ code: 'crossed' } & CrossingFact & { until: Instant | null })
	| { code: 'not-signed-in'; fenceId: string }
	| { code: 'not-named'; fenceId: string }
	| { code: 'no-code'; fenceId: string; batchId: string }
	| { code: 'may-not-open'; fenceId: string; resourceId: string }
	| { code: 'no-grant'; fenceId: string; planIds: string[] }
	| ({ code: 'grant-not-begun'; at: Instant } & CrossingFact)
	| ({ code: 'grant-ended'; at: Instant; isRevoked: boolean } & CrossingFact)
	| ({ code: 'window-later'; at: Instant } & CrossingFact)
	/** The window opens only after the grant has run out. */
	| ({ code: 'window-too-late'; at: Instant } & CrossingFact)
	| ({ code: 'window-over'; at: Instant } & CrossingFact)
	| ({ code: 'uses-used-up'; limit: UseLimit } & CrossingFact)
	| ({ code: 'minutes-used-up'; minutes: number } & CrossingFact)
	| { code: 'base-open' }
	| { code: 'base-closed' };

/** Whom a crossing is for, and what of theirs was looked at. */
export type CrossingFact = { fenceId: string; crossingId: string; isThroughout: boolean } & (
	| { by: 'anyone' | 'signed-in' | 'named' }
	| { by: 'code'; batchId: string }
	| { by: 'may-open'; resourceId: string }
	| { by: 'grant'; planId: string; grantId: string; releaseId: string | null }
);
