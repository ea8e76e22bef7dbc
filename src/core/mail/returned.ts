/**
 * What became of a mail after it was sent, as mail servers report it: delivery status (RFC 3464, with the codes of RFC 3463)
 * and complaints (RFC 5965); and whether its address is still written to.
 */
import type { Instant } from '../time/instant';

/** The better first: of two reports of one mail the worse one counts. */
export const FATES = ['sent', 'late', 'refused', 'complaint', 'gone'] as const;
/**
 * `late`: it is still being tried · `refused`: it was not taken, which may be otherwise another time · `gone`: nobody has the
 * address · `complaint`: whoever read it says that it was not wanted.
 */
export type Fate = (typeof FATES)[number];

export function isWorse(fate: Fate, than: Fate): boolean {
	return FATES.indexOf(fate) > FATES.indexOf(than);
}

export interface Report {
	/** Of the mail, as it stands before the @ of its Message-ID. */
	mailId: string;
	fate: Exclude<Fate, 'sent'>;
	/** RFC 3463, such as `5.1.1`; `null`: none was said. */
	code: string | null;
	/** In the words of the server, in one line. */
	words: string;
}

/** The parts of a report (RFC 6522), as text; `null`: there is none of that kind. */
export interface ReportParts {
	/** message/delivery-status */
	status: string | null;
	/** message/feedback-report */
	feedback: string | null;
	/** The mail that it is about, or its header alone. */
	original: string | null;
}

const LONGEST_WORDS = 300;

/** `null`: it says of no mail of ours that anything went wrong. */
export function readReport({ status, feedback, original }: ReportParts): Report | null {
	const mailId = original === null ? null : mailIdOf(fieldsOf(original).get('message-id') ?? '');
	if (mailId === null) return null;
	if (feedback !== null) return readComplaint(mailId, feedback);
	if (status === null) return null;
	// The first group speaks of the report itself; each that follows of one address.
	const found = groupsOf(status)
		.slice(1)
		.flatMap((fields) => readStatus(fields) ?? []);
	const [worst] = found.sort((a, b) => FATES.indexOf(b.fate) - FATES.indexOf(a.fate));
	return worst ? { mailId, ...worst } : null;
}

/** Stile's mails carry a UUID before the @. */
const MAIL_ID = /^<?([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})@[^\s<>@]+>?$/i;

/** @param messageId RFC 5322 §3.6.4, with its brackets or without */
export function mailIdOf(messageId: string): string | null {
	return MAIL_ID.exec(messageId.trim())?.[1]?.toLowerCase() ?? null;
}

function readComplaint(mailId: string, feedback: string): Report | null {
	const kind = fieldsOf(feedback).get('feedback-type')?.toLowerCase() ?? '';
	// Of the registered types, those that say nothing against the mail, or that its delivery was checked: RFC 6430, 6591.
	if (kind === '' || kind === 'not-spam' || kind === 'auth-failure') return null;
	return { mailId, fate: 'complaint', code: null, words: kind.slice(0, LONGEST_WORDS) };
}

function readStatus(fields: ReadonlyMap<string, string>): Omit<Report, 'mailId'> | null {
	const action = withoutComments(fields.get('action') ?? '').toLowerCase();
	const code = codeIn(fields.get('status') ?? '');
	const words = wordsOf(fields.get('diagnostic-code') ?? '');
	if (action === 'delayed') return { fate: 'late', code, words };
	return action === 'failed' ? { fate: fateOf(code), code, words } : null;
}

/** Addresses that nobody has: no such mailbox, no such system, no way to write it, moved, takes no mail; and a mailbox that is shut. */
const OF_NOBODY = /^5\.(?:1\.(?:1|2|3|6|10)|2\.1)$/;

function fateOf(code: string | null): 'gone' | 'refused' {
	return code !== null && OF_NOBODY.test(code) ? 'gone' : 'refused';
}

/**
 * What a server answered that did not take a mail for good (a reply of 5xx, RFC 5321). The number alone says nothing of the
 * address: 550 is also what a server says to whoever may not send through it.
 * @param reply as it came, such as `550 5.1.1 No such user`
 */
export function readRefusal(reply: string): Omit<Report, 'mailId'> {
	const code = codeIn(reply.replace(/^\s*\d{3}[ -]/, ''));
	return { fate: fateOf(code), code, words: inOneLine(reply) };
}

function codeIn(text: string): string | null {
	return /(?:^|\s)([245]\.\d{1,3}\.\d{1,3})(?=\s|$|\()/.exec(text)?.[1] ?? null;
}

/** Without the kind of what was said, such as `smtp;`. */
function wordsOf(diagnostic: string): string {
	return inOneLine(diagnostic.replace(/^\s*[\w-]+\s*;/, ''));
}

function inOneLine(text: string): string {
	return text.replace(/\s+/g, ' ').trim().slice(0, LONGEST_WORDS);
}

function withoutComments(value: string): string {
	return value.replace(/\([^()]*\)/g, '').trim();
}

/** Fields in groups with empty lines between them. Names are in lower case; a name that comes again counts no more. */
function groupsOf(text: string): ReadonlyMap<string, string>[] {
	const unfolded = text.replace(/\r\n?/g, '\n').replace(/\n[ \t]+(?=\S)/g, ' ');
	return unfolded
		.split(/\n[ \t]*\n/)
		.map((group) => {
			const fields = new Map<string, string>();
			for (const line of group.split('\n')) {
				const [, name, value = ''] = /^([!-9;-~]+)[ \t]*:(.*)$/.exec(line) ?? [];
				const key = name?.toLowerCase();
				if (key !== undefined && !fields.has(key)) fields.set(key, value.trim());
			}
			return fields;
		})
		.filter((fields) => fields.size > 0);
}

function fieldsOf(text: string): ReadonlyMap<string, string> {
	return groupsOf(text)[0] ?? new Map<string, string>();
}

export type ReportRead =
	| { ok: true; report: Report }
	/** The first field that is missing, or says what it may not. */
	| { ok: false; field: 'mail' | 'fate' | 'code' | 'words' };

/**
 * What a program tells of a mail, in JSON.
 * @param told `mail`: its Message-ID; `fate`: one of `late`, `refused`, `gone`, `complaint`; `code` (RFC 3463) and `words` may be
 * left out
 */
export function readToldReport(told: unknown): ReportRead {
	const { mail, fate, code, words } = (typeof told === 'object' && told !== null ? told : {}) as Record<
		string,
		unknown
	>;
	const mailId = typeof mail === 'string' ? mailIdOf(mail) : null;
	if (mailId === null) return { ok: false, field: 'mail' };
	const named = FATES.find((one) => one === fate);
	if (named === undefined || named === 'sent') return { ok: false, field: 'fate' };
	const read = typeof code === 'string' ? codeIn(code) : null;
	if (code !== undefined && code !== null && read !== code) return { ok: false, field: 'code' };
	if (words !== undefined && typeof words !== 'string') return { ok: false, field: 'words' };
	return { ok: true, report: { mailId, fate: named, code: read, words: inOneLine(words ?? '') } };
}

const REFUSALS = 3;
const REFUSED_WITHIN_MS = 30 * 86_400_000;

/**
 * Why nothing is written to an address any more, but for what somebody asks for there; `null`: it is written to. Nobody is
 * given up for one mail that was not taken; an address that nobody has is, at once.
 * @param fates of different mails to it, those that count no more left out
 */
export function whyHeld(
	fates: readonly { fate: Fate; at: Instant }[],
	now: Instant
): 'gone' | 'refused' | null {
	if (fates.some(({ fate }) => fate === 'gone')) return 'gone';
	const lately = fates.filter(({ fate, at }) => fate === 'refused' && at > now - REFUSED_WITHIN_MS);
	return lately.length >= REFUSALS ? 'refused' : null;
}
