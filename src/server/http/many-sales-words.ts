/** What something done to many payments or subscriptions would come to, and came to, in sentences. */
import { monthsOf, type Step } from '$core/billing/agreement-foreseen';
import { formatMoney } from '$core/billing/money';
import {
	MOST_SALES,
	type Foretold,
	type LeftAgreement,
	type LeftPayment,
	type ManySales
} from '../usecases/sales/run-many-sales';

export type ManyWhat = 'refund' | 'came' | 'not-came' | Step;

const isPayments = (did: ManyWhat) => did === 'refund' || did === 'came' || did === 'not-came';

const LEFT_WORDS: Record<LeftPayment | LeftAgreement, [one: string, many: string]> = {
	'nothing-left': ['has nothing left to refund', 'have nothing left to refund'],
	'not-waiting': ['does not wait for money', 'do not wait for money'],
	'has-ended': ['has ended', 'have ended'],
	'all-paid': ['is all paid', 'are all paid'],
	instalments: ['is owed in instalments', 'are owed in instalments'],
	'not-cancelled': ['is not cancelled', 'are not cancelled'],
	'not-running': ['is not running', 'are not running'],
	'not-resting': ['does not rest', 'do not rest'],
	'too-soon': ['would go on before the pause begins', 'would go on before the pause begins'],
	'already-so': ['is so already', 'are so already']
};

/** @param endsAccess of a refund */
export function foretoldWords(
	did: ManyWhat,
	{ count, sums, left, byHand, plans }: Foretold<LeftPayment | LeftAgreement>,
	endsAccess = false
): string[] {
	const isOf = isPayments(did) ? 'payment' : 'subscription';
	const some = (n: number) => (n === 1 ? `One ${isOf}` : `${n} ${isOf}s`);
	const said = [doneTo(did, count, some(count), sums.map(formatMoney).join(' and '), endsAccess)];
	if (byHand > 0)
		said.push(
			`${byHand === 1 ? 'One of them was' : `${byHand} of them were`} paid without a card: you send that money back yourself.`
		);
	if (plans.length > 0) said.push(`To ${plans.map(({ name, count }) => `${name} (${count})`).join(', ')}.`);
	for (const { why, count } of left)
		said.push(
			`${some(count)} ${LEFT_WORDS[why][count === 1 ? 0 : 1]}, and ${count === 1 ? 'stays as it is' : 'stay as they are'}.`
		);
	said.push(count === 1 ? 'The member is told by mail.' : 'Each member is told by mail.');
	return said;
}

/** @param money empty: none is asked for next */
function doneTo(did: ManyWhat, count: number, some: string, money: string, endsAccess: boolean): string {
	const verb = (one: string, many: string) => (count === 1 ? one : many);
	const noMore = money === '' ? '' : ` Not asked for any more: ${money} of next payments.`;
	switch (did) {
		case 'refund': {
			const access = endsAccess
				? 'What they pay for now ends with it, and what it opens closes.'
				: 'Access stays as it is.';
			return `${some} ${verb('goes', 'go')} back: ${money}. ${access}`;
		}
		case 'came':
			return `${some} came in: ${money}. What was bought opens.`;
		case 'not-came':
			return `${some} did not come in: ${money}. An order is refused by that, and what was due counts as declined.`;
		case 'cancel':
			return `${some} ${verb('ends', 'end')} when what is paid runs out.${noMore}`;
		case 'stop':
			return `${some} ${verb('ends', 'end')} now, and what ${verb('it opens closes', 'they open closes')}. Nothing is paid back.${noMore}`;
		case 'resume':
			return `${some} ${verb('goes', 'go')} on as if nothing had been.`;
		case 'wake':
			return `${some} ${verb('goes', 'go')} on now. Where what was paid has run out, the next payment is asked for at once.`;
		default: {
			const months = monthsOf(did);
			const long =
				months === null
					? 'until somebody lets it go on'
					: months === 1
						? 'for a month'
						: `for ${months} months`;
			return `${some} ${verb('rests', 'rest')} ${long}, from the end of what is paid on.${money === '' ? '' : ` The next payments, ${money}, wait as long.`}`;
		}
	}
}

export function doneWords(
	isOf: 'payment' | 'subscription',
	{ count, missed, later }: Extract<ManySales<never>, { kind: 'done' }>
): string {
	const done = count === 1 ? `Done with one ${isOf}.` : `Done with ${count} ${isOf}s.`;
	const follows = later === 0 ? '' : ` The last ${later} of them show it within a minute.`;
	if (missed === 0) return done + follows;
	const [were, them] = missed === 1 ? ['One was', 'it'] : [`${missed} were`, 'them'];
	return `${done}${follows} ${were} changed in the same moment, and nothing was done to ${them}: look once more.`;
}

export const MANY_PROBLEMS: Record<Extract<ManySales<never>, { kind: 'refused' }>['code'], string> = {
	'too-many': `At most ${MOST_SALES} at once. Choose fewer.`,
	nobody: 'That can be done to none of them.'
};
