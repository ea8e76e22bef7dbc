/** What became of a mail, in words. */
import type { Fate } from '$core/mail/returned';

export type MailStanding = Fate | 'held';

export const FATE_WORDS: Record<MailStanding, string> = {
	sent: 'Taken by the server',
	late: 'Still on its way',
	refused: 'Not taken',
	gone: 'Nobody has the address',
	complaint: 'Not wanted, its reader says',
	held: 'Not sent: mails there come back'
};

export const FATE_COLOURS: Record<MailStanding, string> = {
	sent: 'text-moss',
	late: 'text-gorse',
	refused: 'text-brick',
	gone: 'text-brick',
	complaint: 'text-heather',
	held: 'text-slate'
};

/** By the codes of RFC 3463, the whole code before its subject. */
const REASONS: Readonly<Record<string, string>> = {
	'1.1': 'there is no such mailbox',
	'1.2': 'there is no such domain',
	'1.3': 'nobody can be written to like that',
	'1.6': 'the mailbox has moved',
	'1.10': 'the domain takes no mail',
	'1': 'something is wrong with the address',
	'2.1': 'the mailbox is shut',
	'2.2': 'the mailbox is full',
	'2.3': 'the mail is too long for the mailbox',
	'2': 'something is wrong with the mailbox',
	'3': 'the server there has a fault',
	'4.1': 'the server there does not answer',
	'4.4': 'there is no way to the server',
	'4.7': 'it was tried for too long',
	'4': 'the way there has a fault',
	'5': 'the two servers did not understand each other',
	'6': 'what is in it could not be carried',
	'7': 'the server there does not let it in, as junk or by a rule of its own'
};

/** @param code such as `5.1.1` @returns a part of a sentence; `null`: nothing is known of it */
export function reasonOf(code: string | null): string | null {
	const [, subject = '', detail = ''] = code?.split('.') ?? [];
	return REASONS[`${subject}.${detail}`] ?? REASONS[subject] ?? null;
}

/** What Node says of a server that cannot be reached. */
const UNREACHED = /\b(?:ECONN|ETIMEDOUT|EHOSTUNREACH|ENETUNREACH|ENOTFOUND|EAI_AGAIN)/;

/** Why a mail could not be handed over, in a sentence. @param problem as the queue has it; `null`: it did not come to an end */
export function queueProblem(problem: string | null): string {
	if (problem === null) return 'It did not come to an end.';
	if (UNREACHED.test(problem)) return 'The mail server does not answer.';
	return /[.!?…)]$/.test(problem) ? problem : `${problem}.`;
}

/** What a mail that waits is about, by what queued it. */
const ABOUT: Readonly<Record<string, string>> = {
	'sign-in': 'A way in',
	invitation: 'An account made for somebody',
	staff: 'Made a member of staff',
	'second-factor': 'The code when signing in',
	told: 'To staff: what has happened',
	order: 'After buying',
	'gift-bought': 'After buying a gift',
	gift: 'A gift: to whom it is for',
	'order-waits': 'An order that waits',
	reminder: 'What was begun to be bought',
	seat: 'A seat: to whom it is for',
	wait: 'Wanting to wait for a plan',
	'on-sale': 'A plan is sold that was waited for',
	'order-refused': 'An order that was not taken',
	'to-pay': 'A payment is due',
	'had-already': 'Bought what was held already',
	'card-expires': 'A card is nearly over',
	'renews-soon': 'A payment comes soon',
	refund: 'A refund',
	subscription: 'A subscription'
};

export function aboutWords(occasion: string): string {
	return ABOUT[occasion] ?? 'A mail';
}
