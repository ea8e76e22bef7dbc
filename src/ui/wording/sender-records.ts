import type { RecordKind, RecordVerdict } from '$core/mail/sender-records';

export const RECORD_WORDS: Record<RecordKind, { name: string; about: string }> = {
	spf: { name: 'SPF', about: 'Which servers may send mail for the domain.' },
	dkim: { name: 'DKIM', about: 'The key by which receivers know that a mail is yours, and unchanged.' },
	dmarc: { name: 'DMARC', about: 'What receivers do with mail that only says it is yours.' }
};

/** One word or two, for a glance. */
export function recordStanding({ state }: RecordVerdict): { is: 'good' | 'unknown' | 'bad'; word: string } {
	if (state === 'good') return { is: 'good', word: 'Good' };
	if (state === 'no-answer') return { is: 'unknown', word: 'Not known' };
	return { is: 'bad', word: state === 'missing' ? 'Missing' : 'To mend' };
}

/** What was found, and what to do. */
export function recordWords(kind: RecordKind, verdict: RecordVerdict): string {
	const { name } = RECORD_WORDS[kind];
	switch (verdict.state) {
		case 'good':
			return GOOD[kind];
		case 'no-answer':
			return 'No name server answered. Look again in some minutes.';
		case 'missing':
			return MISSING[kind];
		case 'several':
			return `${verdict.count} of them stand there, and so receivers read none. Leave one, with all that the others say.`;
		case 'unreadable':
			return `Receivers cannot read “${verdict.at.slice(0, 80)}” in it. Mend it where your names are kept.`;
		case 'lets-anybody':
			return 'It ends with “all”, and so lets anybody send in your name. Write “~all” in its place.';
		case 'too-many-lookups':
			return `It leads to ${verdict.count} other names; receivers follow 10 and then give up. Take out what no longer sends for you.`;
		case 'another-key':
			return 'Another key stands there. Write this one in its place.';
		case 'taken-back':
			return `The ${name} key there was emptied, which takes it back. Write this one in its place.`;
	}
}

const GOOD: Record<RecordKind, string> = {
	spf: 'There is one, and receivers can read it. Whether it names the server that sends for you, your mail service tells.',
	dkim: 'The key stands in its name: every mail is signed with it.',
	dmarc: 'There is one, and receivers can read it.'
};

const MISSING: Record<RecordKind, string> = {
	spf: 'There is none. If your mail server sends by itself, write the text below; a mail service names an “include:” of its own to be written in place of “a:”.',
	dkim: 'The key does not stand in its name yet: mails go out unsigned until it does.',
	dmarc: 'There is none. Large mailboxes take no mail in numbers without one; this text asks for nothing yet.'
};
