/** Countries by their names, from what the browser knows of ISO 3166-1. */

const LETTERS = [...'ABCDEFGHIJKLMNOPQRSTUVWXYZ'];
/** Codes that are reserved, or stand for groups of countries and for none. */
const NO_COUNTRIES = new Set([
	'AC',
	'CP',
	'CQ',
	'DG',
	'EA',
	'EU',
	'EZ',
	'IC',
	'TA',
	'UN',
	'QO',
	'ZZ',
	'XA',
	'XB'
]);
/** Codes of what has another name today; browsers still name them. */
const FORMER = new Set([
	'AN',
	'BU',
	'CS',
	'DD',
	'DY',
	'FX',
	'HV',
	'NH',
	'NT',
	'QU',
	'RH',
	'SU',
	'TP',
	'UK',
	'VD',
	'YD',
	'YU',
	'ZR'
]);

export interface Country {
	code: string;
	name: string;
}

let found: Country[] | null = null;

/** All of them, by name. */
export function countries(): Country[] {
	const names = new Intl.DisplayNames('en', { type: 'region', fallback: 'none' });
	found ??= LETTERS.flatMap((first) => LETTERS.map((second) => first + second))
		.filter((code) => !NO_COUNTRIES.has(code) && !FORMER.has(code))
		.flatMap((code) => {
			const name = names.of(code);
			return name === undefined ? [] : [{ code, name }];
		})
		.sort((a, b) => a.name.localeCompare(b.name));
	return found;
}

/** Those whose name has the text, or whose code it is. */
export function findCountries(text: string): Country[] {
	const wanted = text.trim().toLowerCase();
	return countries().filter(
		({ code, name }) => name.toLowerCase().includes(wanted) || code.toLowerCase() === wanted
	);
}

export function countryName(code: string): string {
	return countries().find((one) => one.code === code)?.name ?? code;
}
