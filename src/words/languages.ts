/** The languages that the front and mails speak. A site has one. */
import { FRONT as GERMAN } from './de/front';
import { MAIL as GERMAN_MAIL, MAIL_PARTS as GERMAN_PARTS, TOLD as GERMAN_TOLD } from './de/mail';
import { FRONT as ENGLISH, type FrontKey } from './en/front';
import {
	MAIL as ENGLISH_MAIL,
	MAIL_PARTS as ENGLISH_PARTS,
	TOLD as ENGLISH_TOLD,
	type MailKey,
	type MailPart,
	type MailText,
	type ToldKey
} from './en/mail';

export interface Language {
	/** As its speakers call it. */
	name: string;
	/** For dates and numbers: a BCP 47 tag. */
	locale: string;
	front: Record<FrontKey, string>;
	mail: Record<MailKey, MailText>;
	mailParts: Record<MailPart, string>;
	told: Record<ToldKey, string>;
}

export const LANGUAGES = {
	en: {
		name: 'English',
		locale: 'en-GB',
		front: ENGLISH,
		mail: ENGLISH_MAIL,
		mailParts: ENGLISH_PARTS,
		told: ENGLISH_TOLD
	},
	de: {
		name: 'Deutsch',
		locale: 'de',
		front: GERMAN,
		mail: GERMAN_MAIL,
		mailParts: GERMAN_PARTS,
		told: GERMAN_TOLD
	}
} as const satisfies Record<string, Language>;

export type LanguageCode = keyof typeof LANGUAGES;
export const LANGUAGE_CODES = Object.keys(LANGUAGES) as LanguageCode[];

/** A language by its code; English where there is no such. */
export function languageOf(code: string | undefined): Language {
	return LANGUAGES[code as LanguageCode] ?? LANGUAGES.en;
}

export function isLanguage(code: string): code is LanguageCode {
	return Object.hasOwn(LANGUAGES, code);
}
