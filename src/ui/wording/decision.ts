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

/** What had no part in it comes last. */
const APART: readonly Step['code'][] = ['fence-beyond', 'fence-off'];

export function whyOf(steps: readonly Step[], names: Names): Sentence[] {
	const inOrder = steps.toSorted((a, b) => APART.indexOf(a.code) - APART.indexOf(b.code));
	return inOrder.map((step) => ({ text: sentence(step, names), ...placeOf(step) }));
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

/** Whoever is asked about: "this member", "a stranger". */
export interface Asked {
	/** At the beginning of a clause. */
	who: string;
	whose: string;
}

/**
 * The first sentence of a why: what decided, and what would open it.
 *
 * @param step what decided; `null`: nothing that can be said in a sentence
 * @param offers plans that would open it if they were bought now
 */
export function becauseWords(
	verdict: Verdict,
	step: Step | null,
	offers: readonly { planId: string; opensAt: Instant | null }[],
	{ who, whose }: Asked,
	names: Names
): string {
	const because = step === null ? `${VERDICT_WORDS[verdict]}.` : reason(verdict, step, { who, whose }, names);
	const atOnce = offers.filter(({ opensAt }) => opensAt === null).map(({ planId }) => names.plan(planId));
	const later = offers.flatMap(({ planId, opensAt }) =>
		opensAt === null ? [] : [`${names.plan(planId)} would open it on ${names.when(opensAt)}.`]
	);
	return [because, ...(atOnce.length > 0 ? [`${listed(atOnce)} would open it.`] : []), ...later].join(' ');
}

function reason(verdict: Verdict, step: Step, { who, whose }: Asked, names: Names): string {
	const { plan, resource, batch, when } = names;
	const by = 'by' in step && step.code !== 'kept-out' ? step : null;
	/** What of theirs it is about. */
	const theirs = by?.by === 'grant' ? `${whose} ${plan(by.planId)}` : 'what lets them in';
	switch (step.code) {
		case 'staff':
			return 'Open, because staff may open everything. A member would not see it this way.';
		case 'no-such-resource':
			return 'There is no such item.';
		case 'draft':
			return 'A draft: nobody but staff can open it.';
		case 'archived':
			return 'Archived: nobody but staff can open it.';
		case 'not-published-yet':
			return `Not published yet: it is on ${when(step.at)}.`;
		case 'kept-out':
			return `Kept out, because the ${step.by === 'country' ? 'country' : 'address'} that it is asked for from is blocked.`;
		case 'crossed': {
			const until = step.until === null ? '' : `, until ${when(step.until)}`;
			return `Open, because ${opened(step, { who, whose }, names)}${until}.`;
		}
		case 'base-open':
			return 'Open to anyone: no fence closes it.';
		case 'uses-used-up':
			return `Used up, because ${useWords(step.limit)} used.`;
		case 'minutes-used-up':
			return `Used up, because the ${step.minutes} minutes since the first opening are over.`;
		case 'window-later':
			return `Opens on ${when(step.at)}, because ${windowWords(step)} for ${by?.by === 'grant' ? plan(by.planId) : 'them'} opens then.`;
		case 'grant-not-begun':
			return `Opens on ${when(step.at)}, when ${theirs} begins.`;
		case 'window-over':
			return `Over, because ${windowWords(step)} for ${by?.by === 'grant' ? plan(by.planId) : 'them'} closed on ${when(step.at)}.`;
		case 'window-too-late':
			return `Shut, because ${theirs} runs out before ${windowWords(step)} opens.`;
		case 'grant-ended':
			return `Shut, because ${theirs} ${step.isRevoked ? 'was ended' : 'ran out'} on ${when(step.at)}.`;
		case 'no-grant':
			return `Shut, because ${who} never held ${listed(step.planIds.map(plan))}.`;
		case 'may-not-open':
			return `Shut, because ${who} may not open “${resource(step.resourceId)}”, which it follows.`;
		case 'no-code':
			return `Shut, because ${who} redeemed no code of “${batch(step.batchId)}”.`;
		case 'not-named':
			return `Shut, because ${who} is none of those who are named.`;
		case 'not-signed-in':
			return 'Shut, because nobody is signed in.';
		case 'no-crossing':
		case 'fence-replaces':
		case 'fence-seals':
			return `Shut, because the fence “${names.fence(step.fenceId)}” lets nobody in.`;
		case 'base-closed':
			return 'Shut, because it is closed by itself and no fence lets anybody in.';
		case 'fence-off':
		case 'fence-beyond':
		case 'fence-adds':
			return `${VERDICT_WORDS[verdict]}.`;
		default:
			return step satisfies never;
	}
}

function opened(fact: CrossingFact, { who }: Asked, { fence, plan, resource, batch }: Names): string {
	switch (fact.by) {
		case 'anyone':
			return `the fence “${fence(fact.fenceId)}” lets anyone in`;
		case 'signed-in':
			return `whoever is signed in may come in`;
		case 'named':
			return `the fence “${fence(fact.fenceId)}” names them`;
		case 'code':
			return `${who} redeemed a code of “${batch(fact.batchId)}”`;
		case 'may-open':
			return `${who} may open “${resource(fact.resourceId)}”`;
		case 'grant':
			return `${who} holds ${plan(fact.planId)}`;
		default:
			return fact satisfies never;
	}
}

export interface Mend {
	label: string;
	href: string;
}

/** What can be done about it at the Desk; each leads to where it is rehearsed. */
export function mendsOf(
	step: Step | null,
	offers: readonly { planId: string }[],
	{ memberId, itemId }: { memberId: string | null; itemId: string },
	names: Names
): Mend[] {
	const mends: Mend[] = [];
	if (memberId)
		for (const { planId } of offers.slice(0, MOST_MENDS))
			mends.push({
				label: `Give them ${names.plan(planId)}`,
				href: `/desk/members/${memberId}?give=${planId}#give`
			});
	switch (step?.code) {
		case 'draft':
		case 'archived':
		case 'not-published-yet':
			mends.push({ label: 'Publish it', href: `/desk/library/${itemId}#publish` });
			break;
		case 'window-later':
		case 'window-over':
		case 'window-too-late':
			if (step.by === 'grant' && step.releaseId !== null)
				mends.push({
					label: 'Move the release',
					href: `/desk/releases?${new URLSearchParams({ plan: step.planId, q: names.resource(itemId) })}`
				});
			else mends.push({ label: 'Move the window', href: `/desk/fences/${step.fenceId}` });
			break;
		case 'uses-used-up':
		case 'minutes-used-up':
			if (memberId) mends.push({ label: 'Give them more', href: `/desk/members/${memberId}#files` });
			mends.push({ label: 'Lift the limit', href: `/desk/fences/${step.fenceId}` });
			break;
		case 'no-crossing':
		case 'base-closed':
			mends.push({
				label: 'Let somebody in',
				href: step.code === 'no-crossing' ? `/desk/fences/${step.fenceId}` : `/desk/fences/new?item=${itemId}`
			});
			break;
		case 'kept-out':
			mends.push({ label: 'Places that are blocked', href: '/desk/settings/media' });
			break;
		default:
	}
	return mends;
}

const MOST_MENDS = 3;
