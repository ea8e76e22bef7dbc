/** The one place where decisions become words. Every code has its sentence; a new code does not compile without one. */
import type { Decision, Standing, Step, Verdict } from '$core/access/model';
import type { Instant } from '$core/time/instant';

export const VERDICT_WORDS: Record<Verdict, string> = {
	open: 'Open',
	'opens-later': 'Opens later',
	over: 'Over',
	shut: 'Shut',
	'used-up': 'Used up',
	'kept-out': 'Kept out'
};

/** Names and moments as the reader knows them. */
export interface Names {
	fence: (id: string) => string;
	plan: (id: string) => string;
	when: (at: Instant) => string;
}

export interface Sentence {
	text: string;
	/** What to edit: a fence of the Desk. */
	fenceId: string | null;
}

export function whyOf(decision: Decision, names: Names): Sentence[] {
	return decision.steps.map((step) => ({
		text: sentence(step, names),
		fenceId: 'fenceId' in step ? step.fenceId : null
	}));
}

function sentence(step: Step, { fence, plan, when }: Names): string {
	switch (step.code) {
		case 'staff':
			return 'Staff may open everything. A member would not see it this way.';
		case 'no-such-item':
			return 'There is no such item.';
		case 'draft':
			return 'It is a draft: nobody but staff can open it.';
		case 'archived':
			return 'It is archived: nobody but staff can open it.';
		case 'not-published-yet':
			return `It is published on ${when(step.at)}; until then nobody but staff can open it.`;
		case 'fence-off':
			return `The fence “${fence(step.fenceId)}” is off, so it was passed over.`;
		case 'crossed-as-anyone':
			return `The fence “${fence(step.fenceId)}” lets anyone cross.`;
		case 'crossed-signed-in':
			return `The fence “${fence(step.fenceId)}” lets everyone cross who is signed in.`;
		case 'crossed-by-grant':
			return `The fence “${fence(step.fenceId)}” lets holders of ${plan(step.planId)} cross, and the grant holds ${
				step.until === null ? 'without an end' : `until ${when(step.until)}`
			}.`;
		case 'not-signed-in':
			return `The fence “${fence(step.fenceId)}” is closed to those who are not signed in.`;
		case 'no-grant':
			return `The fence “${fence(step.fenceId)}” wants ${listed(step.planIds.map(plan))}, which was never held.`;
		case 'grant-not-begun':
			return `The fence “${fence(step.fenceId)}” lets holders of ${plan(step.planId)} cross, and the grant begins ${when(step.at)}.`;
		case 'grant-ended':
			return `The fence “${fence(step.fenceId)}” lets holders of ${plan(step.planId)} cross, but the grant ${
				step.revoked ? 'was ended' : 'ran out'
			} ${when(step.at)}.`;
		case 'no-crossing':
			return `The fence “${fence(step.fenceId)}” has no crossing: it lets nobody through.`;
		case 'base-open':
			return 'No fence closes it, and it is open by itself.';
		case 'base-closed':
			return 'No fence opens it, and it is closed by itself.';
		default:
			return step satisfies never;
	}
}

function listed(words: string[]): string {
	if (words.length === 0) return 'a plan, but names none';
	return words.length === 1 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} or ${words.at(-1)}`;
}

/** What somebody who is turned away is told, above the publisher's own words. */
export function turnAwayTitle(standing: Standing): string {
	switch (standing) {
		case 'stranger':
			return 'This is closed to visitors';
		case 'without-plan':
			return 'Your plans do not open this';
		case 'lapsed':
			return 'Your access has ended';
		case 'too-early':
			return 'This opens for you later';
		default:
			return standing satisfies never;
	}
}

/** The way on: who owns it sees “open”, whose access ran out sees “buy again”. */
export function buyWords(standing: Standing): string {
	return standing === 'lapsed' ? 'Buy again' : 'Buy';
}
