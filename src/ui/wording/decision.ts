/** The one place where decisions become words. Every code has its sentence; a new code does not compile without one. */
import type { CrossingFact, Step, Verdict } from '$core/access/decision';
import type { UseLimit } from '$core/access/model';
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
	resource: (id: string) => string;
	batch: (id: string) => string;
	when: (at: Instant) => string;
}

export interface Sentence {
	text: string;
	/** Where to edit what it speaks of, at the Desk. */
	href: string | null;
	hrefLabel: string;
}

export function whyOf(steps: readonly Step[], names: Names): Sentence[] {
	return steps.map((step) => ({ text: sentence(step, names), ...placeOf(step) }));
}

/** A release decides before the fence that its crossing belongs to. */
function placeOf(step: Step): { href: string | null; hrefLabel: string } {
	if ('releaseId' in step && step.releaseId !== null)
		return { href: `/desk/releases?plan=${step.planId}`, hrefLabel: 'Edit the release' };
	if ('fenceId' in step) return { href: `/desk/fences/${step.fenceId}`, hrefLabel: 'Edit the fence' };
	return { href: null, hrefLabel: '' };
}

function sentence(step: Step, names: Names): string {
	const { fence, plan, resource, batch, when } = names;
	const named = 'fenceId' in step ? `The fence “${fence(step.fenceId)}”` : '';
	switch (step.code) {
		case 'staff':
			return 'Staff may open everything. A member would not see it this way.';
		case 'no-such-resource':
			return 'There is no such item.';
		case 'draft':
			return 'It is a draft: nobody but staff can open it.';
		case 'archived':
			return 'It is archived: nobody but staff can open it.';
		case 'not-published-yet':
			return `It is published on ${when(step.at)}; until then nobody but staff can open it.`;
		case 'kept-out':
			return step.by === 'country'
				? 'It is asked for from a country that is blocked in Settings.'
				: 'It is asked for from an address that is blocked in Settings.';
		case 'fence-off':
			return `${named} is off, so it was passed over.`;
		case 'fence-beyond':
			return `${named} was not reached: “${fence(step.endedBy)}” is nearer and ${step.isSealed ? 'seals itself off' : 'replaces wider ones'}.`;
		case 'fence-replaces':
			return `${named} closes it to all but those it lets cross.`;
		case 'fence-seals':
			return `${named} closes it to all but those it lets cross, and seals itself off from wider ones.`;
		case 'fence-adds':
			return `${named} lets more people in and closes nothing.`;
		case 'no-crossing':
			return `${named} has no crossing: it lets nobody through.`;
		case 'crossed':
			return `${crossed(step, names)}${step.until === null ? '' : `, until ${when(step.until)}`}.`;
		case 'not-signed-in':
			return `${named} wants people to be signed in, and this viewer is not.`;
		case 'not-named':
			return `${named} lets named members cross, and this viewer is none of them.`;
		case 'no-code':
			return `${named} wants a code of “${batch(step.batchId)}”, and none was redeemed.`;
		case 'may-not-open':
			return `${named} lets those cross who may open “${resource(step.resourceId)}”, and this viewer may not.`;
		case 'no-grant':
			return `${named} wants ${listed(step.planIds.map(plan))}, which was never held.`;
		case 'grant-not-begun':
			return `${crossed(step, names)}, but the grant begins ${when(step.at)}.`;
		case 'grant-ended':
			return `${crossed(step, names)}, but the grant ${step.isRevoked ? 'was ended' : 'ran out'} ${when(step.at)}.`;
		case 'window-later':
			return `${crossed(step, names)}, but ${windowWords(step)} opens ${when(step.at)}.`;
		case 'window-too-late':
			return `${crossed(step, names)}, but ${windowWords(step)} opens only after the grant has run out.`;
		case 'window-over':
			return `${crossed(step, names)}, but ${windowWords(step)} closed ${when(step.at)}.`;
		case 'uses-used-up':
			return `${crossed(step, names)}, but ${useWords(step.limit)} used up.`;
		case 'minutes-used-up':
			return `${crossed(step, names)}, but the ${step.minutes} minutes since the first opening are over.`;
		case 'base-open':
			return 'No fence closes it, and it is open by itself.';
		case 'base-closed':
			return 'No fence opens it, and it is closed by itself.';
		default:
			return step satisfies never;
	}
}

/** Whom the crossing is for. */
function crossed(fact: CrossingFact, { fence, plan, resource, batch }: Names): string {
	const named = `The fence “${fence(fact.fenceId)}” lets`;
	const far = fact.isThroughout ? ', throughout,' : '';
	switch (fact.by) {
		case 'anyone':
			return `${named} anyone${far} cross`;
		case 'signed-in':
			return `${named} everyone${far} cross who is signed in`;
		case 'named':
			return `${named} this member${far} cross by name`;
		case 'code':
			return `${named} holders of a code of “${batch(fact.batchId)}”${far} cross`;
		case 'may-open':
			return `${named} those${far} cross who may open “${resource(fact.resourceId)}”`;
		case 'grant':
			return `${named} holders of ${plan(fact.planId)}${far} cross`;
		default:
			return fact satisfies never;
	}
}

function windowWords(fact: CrossingFact): string {
	return fact.by === 'grant' && fact.releaseId !== null ? 'its release' : 'its window';
}

function useWords({ count, per }: UseLimit): string {
	const uses = count === 1 ? 'the one use' : `all ${count} uses`;
	const scope = per === 'period' ? 'of this paid period' : 'of this grant';
	return `${uses} ${scope} ${count === 1 ? 'is' : 'are'}`;
}

function listed(words: string[]): string {
	if (words.length === 0) return 'a plan, but names none';
	return words.length === 1 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} or ${words.at(-1)}`;
}
