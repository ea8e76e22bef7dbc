/** Composes the letter of an occasion: the publisher's own words where there are some, else those that Stile came with. */
import { legalLinks } from '$core/looks/legal';
import { OWN_COLOUR, tonesOf } from '$core/looks/colour';
import type { MailKey, MailText } from '$words/en/mail';
import { languageOf } from '$words/languages';
import { say, type Values } from '$words/say';
import type { SiteSettings } from '../db/schema/running';
import type { Mail } from '../ports/mail';
import { laidOut, type Letter } from './layout';

/** What one mail is about. */
export interface About {
	key: MailKey;
	to: string;
	values: Values;
	/** Where the button leads. */
	url: string;
	table?: Letter['table'];
	/** What the plan's publisher says to whoever has it, as it was typed. */
	note?: string;
	accountUrl?: string;
	/** Where one press ends mails like it. */
	endedAt?: string;
	/** The site's. */
	origin: string;
}

export function letter(
	site: SiteSettings,
	own: MailText | null,
	{ key, to, values, url, table = [], note = '', accountUrl, endedAt, origin }: About
): Omit<Mail, 'key'> {
	const language = languageOf(site.language);
	const { subject, text, button } = own ?? language.mail[key];
	const all = { ...values, site: site.siteName };
	const words = (pattern: string) => say(pattern, all, language.locale);
	const { moss, onMoss } = tonesOf(site.looks.colour ?? OWN_COLOUR).light;
	const written = laidOut({
		to,
		colours: { own: moss, onOwn: onMoss },
		site: site.siteName,
		language: site.language,
		byHand: language.mailParts.byHand,
		// A subject is one line, whatever a plan is called.
		subject: words(subject).replace(/\s+/g, ' '),
		paragraphs: [...paragraphsOf(words(text)), ...paragraphsOf(note)],
		button: button === null ? null : { label: words(button), url },
		table,
		links: [
			...(accountUrl === undefined ? [] : [{ label: language.mailParts.account, url: accountUrl }]),
			...(endedAt === undefined ? [] : [{ label: language.mailParts.noMore, url: endedAt }]),
			...legalLinks(site.legal, origin).map(({ page, url }) => ({ label: language.mailParts[page], url }))
		]
	});
	return endedAt === undefined ? written : { ...written, endedAt };
}

function paragraphsOf(text: string): string[] {
	return text
		.split(/\n\s*\n/)
		.map((paragraph) => paragraph.trim())
		.filter((paragraph) => paragraph !== '');
}
