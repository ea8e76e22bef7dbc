/** A mail as it would look, with made-up values: for the Desk to show while its words are written. */
import { MAIL_NAMES, type MailKey, type MailText } from '$words/en/mail';
import { languageOf } from '$words/languages';
import type { SiteSettings } from '../db/schema/running';
import type { Mail } from '../ports/mail';
import { letter } from './messages';

const VALUES: Record<string, string | number> = {
	plan: 'Workshop',
	amount: '12.00 EUR',
	number: 'S-1024',
	day: '1 May 2027',
	ending: '4242',
	month: '09/2028',
	count: 3,
	held: 'Evening class',
	how: 'To Fernhollow Clock School\nIBAN XX00 0000 0000 0000',
	giver: 'Jasper Quill',
	address: 'wren@mail.example',
	why: 'The money has not come in.'
};

export function mailSample(site: SiteSettings, key: MailKey, own: MailText | null): Omit<Mail, 'key'> {
	const values = Object.fromEntries(
		MAIL_NAMES[key].map((name) => [name, name === 'statement' ? site.statementName : (VALUES[name] ?? '')])
	);
	return letter(site, own, {
		key,
		to: 'wren@mail.example',
		values,
		url: 'https://clock.example/enter/a-way-in',
		origin: 'https://clock.example',
		table:
			key === 'order'
				? [{ label: languageOf(site.language).mailParts.paid, value: String(VALUES.amount) }]
				: [],
		accountUrl: 'https://clock.example/account'
	});
}
