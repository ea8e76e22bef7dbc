/** Countries by their two letters (ISO 3166-1 alpha-2, and Kosovo by those that are used for it), and which of them tax as one. */

const CODES =
	'AD AE AF AG AI AL AM AO AQ AR AS AT AU AW AX AZ BA BB BD BE BF BG BH BI BJ BL BM BN BO BQ BR BS BT BV BW BY BZ CA CC CD CF ' +
	'CG CH CI CK CL CM CN CO CR CU CV CW CX CY CZ DE DJ DK DM DO DZ EC EE EG EH ER ES ET FI FJ FK FM FO FR GA GB GD GE GF GG GH ' +
	'GI GL GM GN GP GQ GR GS GT GU GW GY HK HM HN HR HT HU ID IE IL IM IN IO IQ IR IS IT JE JM JO JP KE KG KH KI KM KN KP KR KW ' +
	'KY KZ LA LB LC LI LK LR LS LT LU LV LY MA MC MD ME MF MG MH MK ML MM MN MO MP MQ MR MS MT MU MV MW MX MY MZ NA NC NE NF NG ' +
	'NI NL NO NP NR NU NZ OM PA PE PF PG PH PK PL PM PN PR PS PT PW PY QA RE RO RS RU RW SA SB SC SD SE SG SH SI SJ SK SL SM SN ' +
	'SO SR SS ST SV SX SY SZ TC TD TF TG TH TJ TK TL TM TN TO TR TT TV TW TZ UA UG UM US UY UZ VA VC VE VG VI VN VU WF WS YE YT ' +
	'ZA ZM ZW XK';

/** Two capital letters of the list. */
export type Country = string;

export const COUNTRIES: readonly Country[] = CODES.split(' ');

const KNOWN: ReadonlySet<string> = new Set(COUNTRIES);

export function isCountry(code: string): code is Country {
	return KNOWN.has(code);
}

/** The member states of the European Union (Directive 2006/112/EC, Article 5). */
export const UNION: readonly Country[] = (
	'AT BE BG CY CZ DE DK EE ES FI FR GR HR HU IE IT LT LU LV MT NL ' + 'PL PT RO SE SI SK'
).split(' ');

export function isInUnion(country: Country): boolean {
	return UNION.includes(country);
}

/** What a country is called in a language, such as `en-GB`. */
export function countryName(country: Country, locale: string): string {
	return new Intl.DisplayNames([locale], { type: 'region', fallback: 'code' }).of(country) ?? country;
}

/** All by their names, in the order of the language. */
export function countriesByName(locale: string): { code: Country; name: string }[] {
	const names = new Intl.DisplayNames([locale], { type: 'region', fallback: 'code' });
	const { compare } = new Intl.Collator(locale);
	return COUNTRIES.map((code) => ({ code, name: names.of(code) ?? code })).sort((a, b) =>
		compare(a.name, b.name)
	);
}
