import { isReserved } from '$core/access/address';
import { decideAddress } from '$core/access/decide/decide';
import type { Answer, TurnAway } from '$core/access/model';
import type { Policy } from '$core/access/policy';
import { STRANGER } from '$core/access/model';

export type TurnAwayProblem = 'sent-to-closed' | 'sent-in-a-circle';

/** What is wrong with a turn-away under the policy that it would be part of; `null` when it can be used. */
export function turnAwayProblem(policy: Policy, { answer, cases }: TurnAway): TurnAwayProblem | null {
	const answers = [answer, ...Object.values(cases)];
	return answers.map((one) => sentProblem(policy, one)).find((problem) => problem !== null) ?? null;
}

/** Nobody is sent to where they would be turned away again. */
function sentProblem(policy: Policy, answer: Answer): TurnAwayProblem | null {
	if (answer.kind !== 'sent') return null;
	const path = answer.to.split('?')[0] ?? '';
	if (isReserved(path)) return null;
	const there = decideAddress(policy, STRANGER, path, 0);
	if (there.verdict === 'open') return null;
	return there.answer.kind === 'sent' ? 'sent-in-a-circle' : 'sent-to-closed';
}
