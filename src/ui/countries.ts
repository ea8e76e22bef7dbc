/** Countries as the Desk names them. */
import { countriesByName } from '$core/text/countries';

export interface Country {
	code: string;
	name: string;
}

let found: Country[] | null = null;

/** All of them, by name. */
export function countries(): Country[] {
	return (found ??= countriesByName('en'));
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
