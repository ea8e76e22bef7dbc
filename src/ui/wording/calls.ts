/** Programs that are told, and the calls they get, in words. */
import type { CallEvent, CallKind } from '$core/listeners/listening';

export const LISTENS_TO: Record<CallEvent, string> = {
	joined: 'who joins a plan',
	left: 'who leaves it',
	bought: 'what is bought'
};

/** Of what a program is told, as a part of a sentence. */
export function listenWords(events: readonly CallEvent[]): string {
	return new Intl.ListFormat('en').format(events.map((event) => LISTENS_TO[event]));
}

export const CALL_KINDS: Record<CallKind, string> = {
	joined: 'joined',
	left: 'left',
	bought: 'bought',
	trial: 'a trial call'
};

type State = 'waiting' | 'taken' | 'refused' | 'let-go';

export const CALL_STATE_WORDS: Record<State, string> = {
	waiting: 'waits',
	taken: 'taken',
	refused: 'refused',
	'let-go': 'let go'
};

/** How it goes with a program, in a few words. */
export function callStanding({
	endedAt,
	failures,
	count
}: {
	endedAt: number | null;
	failures: number;
	count: Record<State, number>;
}): string {
	if (endedAt !== null) return 'told nothing any more';
	const parts = [
		failures > 0 ? 'takes nothing now' : '',
		count.waiting > 0 ? `${count.waiting} waiting` : '',
		count.refused > 0 ? `${count.refused} refused` : '',
		count.taken > 0 ? `${count.taken} told` : ''
	].filter((part) => part !== '');
	return parts.length === 0 ? 'nothing to tell yet' : parts.join(', ');
}

/** What came of the last try of a call. `status` is null where nobody answered. */
export function answerWords(status: number | null, answer: string | null): string {
	if (status === null) return answer ?? '';
	const said = answer === null || answer === '' ? '' : `: ${shortened(answer)}`;
	if (status >= 300 && status < 400)
		return `It answered ${status}, and sends on to another address: give that one here.`;
	return `It answered ${status}${said}`;
}

const ANSWER_SHOWN = 160;

function shortened(text: string): string {
	return text.length <= ANSWER_SHOWN ? text : `${text.slice(0, ANSWER_SHOWN)}…`;
}
