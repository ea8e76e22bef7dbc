/** The front's words in one language, with its dates, amounts and lists (ECMAScript Intl). */
import type { FrontKey } from './en/front';
import { languageOf, type Language } from './languages';
import { say, type Values } from './say';

export interface FrontWords {
	locale: string;
	say(key: FrontKey, values?: Values): string;
	/** A key that came as text, such as a form's message; anything else stays as it is. */
	maybe(text: string): string;
	/** A message with things to be put in that are no text: its texts, and between them the names of the things. */
	parts(key: FrontKey, values: Values, things: readonly string[]): { text: string; thing: string | null }[];
	money(minor: number, currency: string): string;
	/** Thousandths of a percent, as a rate is kept. */
	percent(thousandths: number): string;
	/** By its two letters. */
	country(code: string): string;
	day(at: number, zone: string): string;
	/** With the time of day and the zone: readers may live in another. */
	moment(at: number, zone: string): string;
	list(texts: readonly string[]): string;
	bytes(count: number): string;
}

const known = new Map<string, FrontWords>();

export function frontWords(code: string | undefined): FrontWords {
	const language = languageOf(code);
	let words = known.get(language.locale);
	if (!words) known.set(language.locale, (words = make(language)));
	return words;
}

/** Where a thing stands in a message while it is put together: no text contains it. */
const MARK = '\u0001';

function make({ locale, front }: Language): FrontWords {
	const own = (key: FrontKey, values: Values = {}) => say(front[key], values, locale);
	const formats = new Map<string, Intl.DateTimeFormat>();
	const format = (zone: string, how: Intl.DateTimeFormatOptions) => {
		const key = `${zone} ${JSON.stringify(how)}`;
		let made = formats.get(key);
		if (!made) formats.set(key, (made = new Intl.DateTimeFormat(locale, { ...how, timeZone: zone })));
		return made;
	};
	const day = { day: 'numeric', month: 'short', year: 'numeric' } as const;
	const lists = new Intl.ListFormat(locale, { type: 'conjunction' });
	return {
		locale,
		say: own,
		maybe: (text) => (Object.hasOwn(front, text) ? own(text as FrontKey) : text),
		parts(key, values, things) {
			const marks = Object.fromEntries(things.map((name) => [name, `${MARK}${name}${MARK}`]));
			return own(key, { ...values, ...marks })
				.split(MARK)
				.map((piece, n) => (n % 2 === 0 ? { text: piece, thing: null } : { text: '', thing: piece }))
				.filter(({ text, thing }) => text !== '' || thing !== null);
		},
		// The code, not a sign, because a dollar sign does not say which.
		money(minor, currency) {
			const digits = new Intl.NumberFormat(locale, { style: 'currency', currency }).resolvedOptions();
			const count = digits.maximumFractionDigits ?? 2;
			const amount = new Intl.NumberFormat(locale, {
				minimumFractionDigits: count,
				maximumFractionDigits: count
			}).format(minor / 10 ** count);
			return `${amount} ${currency}`;
		},
		percent: (thousandths) =>
			new Intl.NumberFormat(locale, { style: 'percent', maximumFractionDigits: 3 }).format(
				thousandths / 100_000
			),
		country: (code) => new Intl.DisplayNames([locale], { type: 'region' }).of(code) ?? code,
		day: (at, zone) => format(zone, day).format(at),
		moment: (at, zone) =>
			format(zone, { ...day, hour: '2-digit', minute: '2-digit', timeZoneName: 'short' }).format(at),
		list: (texts) => lists.format(texts),
		bytes(count) {
			const units = ['byte', 'kilobyte', 'megabyte', 'gigabyte', 'terabyte'];
			const step = Math.min(units.length - 1, Math.floor(Math.log(Math.max(1, count)) / Math.log(1024)));
			return new Intl.NumberFormat(locale, {
				style: 'unit',
				unit: units[step],
				unitDisplay: step === 0 ? 'long' : 'short',
				maximumFractionDigits: step === 0 ? 0 : 1
			}).format(count / 1024 ** step);
		}
	};
}
