/** What those get who may not open something. */
import type { Instant } from '../../time/instant';
import type { Decision, Denied, Verdict } from '../decision';
import type { Answer, Standing, Teaser, Viewer } from '../model';
import type { Passage } from '../walk';
import type { Seen } from './ask';

const ABSENT: Answer = { kind: 'absent' };
const NO_TEASER: Teaser = { kind: 'nothing' };

/** Why somebody is refused, and until when that holds. */
export interface Reason {
	verdict: Exclude<Verdict, 'open'>;
	standing: Standing;
	until: Instant | null;
	opensAt: Instant | null;
	isHeldInVain: boolean;
}

export function refusal({ turnAway, isListed }: Passage, reason: Reason): Denied {
	const { verdict, standing, until, opensAt, isHeldInVain } = reason;
	const answer = turnAway.cases[standing] ?? turnAway.answer;
	return { verdict, standing, until, opensAt, isHeldInVain, answer, teaser: turnAway.teaser, isListed };
}

export function denied(passage: Passage, viewer: Viewer, seen: Seen): Decision {
	const { isUsedUp, isOver, isHeldInVain, opensAt, next } = seen;
	const verdict = isUsedUp ? 'used-up' : opensAt !== null ? 'opens-later' : isOver ? 'over' : 'shut';
	return refusal(passage, {
		verdict,
		standing: standingOf(viewer, verdict, seen.hasLapsed),
		until: next,
		opensAt,
		isHeldInVain: verdict === 'shut' && isHeldInVain
	});
}

/** Whoever comes from a place that is blocked gets nothing of it, not even a taste. */
export function keptOut(passage: Passage, viewer: Viewer): Decision {
	const standing = withoutPlan(viewer);
	return {
		...refusal(passage, {
			verdict: 'kept-out',
			standing,
			until: null,
			opensAt: null,
			isHeldInVain: false
		}),
		teaser: NO_TEASER
	};
}

/** What is behind a gate is as if it were not there. `until`: when the gate opens by itself. */
export function unseen(viewer: Viewer, until: Instant | null): Decision {
	return {
		verdict: 'shut',
		standing: withoutPlan(viewer),
		until,
		opensAt: until,
		isHeldInVain: false,
		answer: ABSENT,
		teaser: NO_TEASER,
		isListed: false
	};
}

function standingOf(viewer: Viewer, verdict: Exclude<Verdict, 'open'>, hasLapsed: boolean): Standing {
	switch (verdict) {
		case 'used-up':
			return 'used-up';
		case 'opens-later':
			return 'too-early';
		case 'over':
			return 'over';
		default:
			return hasLapsed ? 'lapsed' : withoutPlan(viewer);
	}
}

function withoutPlan(viewer: Viewer): Standing {
	return viewer.kind === 'stranger' ? 'stranger' : 'without-plan';
}
