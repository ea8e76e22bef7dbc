/**
 * The one step of a why that decided: what is said first.
 *
 * Example: a lapsed member before a lesson for Apprentice or Journeyman has two steps, one grant that ended in July and a
 * plan that was never held. What decided is the grant that ended: whoever asks why has had something.
 */
import type { Explained } from './decide/decide';
import type { Step, Verdict } from './decision';
import type { Instant } from '../time/instant';

type Code = Step['code'];

/** Nobody comes past these, whatever they hold. */
const GATES: readonly Code[] = [
	'staff',
	'no-such-resource',
	'draft',
	'archived',
	'not-published-yet',
	'kept-out'
];

/** What can have decided, the nearest to what somebody has, had or could have first. */
const IN_ORDER: readonly Code[] = [
	'uses-used-up',
	'minutes-used-up',
	'window-later',
	'grant-not-begun',
	'window-over',
	'window-too-late',
	'grant-ended',
	'no-grant',
	'may-not-open',
	'no-code',
	'not-named',
	'not-signed-in',
	'no-crossing',
	'base-closed',
	'fence-replaces',
	'fence-seals'
];

/** What an answer speaks of, before everything else. */
const OF_VERDICT: Partial<Record<Verdict, readonly Code[]>> = {
	'used-up': ['uses-used-up', 'minutes-used-up'],
	'opens-later': ['window-later', 'grant-not-begun'],
	over: ['window-over'],
	shut: ['window-too-late', 'grant-ended']
};

/** `null`: the steps do not say it (an answer that was not explained). */
export function decidingStep({ decision, steps }: Explained): Step | null {
	const gate = steps.find(({ code }) => GATES.includes(code));
	if (gate) return gate;
	if (decision.verdict === 'open') {
		const { allowedBy } = decision;
		if (allowedBy.by !== 'crossing') return steps.find(({ code }) => code === 'base-open') ?? null;
		return steps.find((step) => step.code === 'crossed' && step.crossingId === allowedBy.crossingId) ?? null;
	}
	const codes = [...(OF_VERDICT[decision.verdict] ?? []), ...IN_ORDER];
	const rank = (step: Step) => codes.indexOf(step.code);
	// Of several that have ended the last counts, of several that begin the first.
	const isLater = decision.verdict === 'opens-later';
	return (
		steps
			.filter((step) => rank(step) >= 0)
			.toSorted((a, b) => rank(a) - rank(b) || (isLater ? atOf(a) - atOf(b) : atOf(b) - atOf(a)))[0] ?? null
	);
}

function atOf(step: Step): Instant {
	return 'at' in step ? step.at : 0;
}
