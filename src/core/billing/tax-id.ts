/**
 * Tax numbers of businesses, by their form and check digits: whether one is registered is not asked of anybody.
 *
 * They are kept as they stand on an invoice, with the letters of their country: `DE136695976`, `EL094259216`.
 */
import { stdnum, type Validator } from 'stdnum';
import { isInUnion, type Country } from '../text/countries';

/** By which rules the numbers of a country are looked at. */
const RULES: Readonly<Record<Country, string>> = {
	...{ AT: 'uid', BE: 'vat', BG: 'vat', CY: 'vat', CZ: 'dic', DE: 'vat', DK: 'cvr', EE: 'kmkr', ES: 'nif' },
	...{ FI: 'alv', FR: 'tva', GR: 'vat', HR: 'oib', HU: 'anum', IE: 'vat', IT: 'iva', LT: 'pvm', LU: 'tva' },
	...{ LV: 'pvn', MT: 'vat', NL: 'btw', PL: 'nip', PT: 'nif', RO: 'cif', SE: 'vat', SI: 'ddv', SK: 'dph' },
	...{ CH: 'vat', GB: 'vat', NO: 'mva' }
};

/** Where the letters are others than the country's. */
const LETTERS: Readonly<Record<Country, string>> = { GR: 'EL' };

export type TaxIdProblem =
	/** The letters that it begins with are of another country. */
	| 'other-country'
	/** It is too short, too long, or has signs that do not belong there. */
	| 'not-its-form'
	/** Its check digits are of another number: something was typed wrong. */
	| 'not-its-digits';

export type ReadTaxId = { ok: true; taxId: string } | { ok: false; code: TaxIdProblem };

/** A number as it is typed, with or without spaces, dots and the letters of its country. */
export function readTaxId(country: Country, typed: string): ReadTaxId {
	const plain = typed.toUpperCase().replace(/[\s.,/_-]/g, '');
	const letters = LETTERS[country] ?? country;
	const validator = stdnum[country]?.[RULES[country] ?? ''];
	if (!validator) {
		// Elsewhere numbers have many forms; they stand on the invoice and change no tax.
		return /^[A-Z0-9]{4,20}$/.test(plain) ? { ok: true, taxId: plain } : { ok: false, code: 'not-its-form' };
	}
	const other = /^(?:EL|[A-Z]{2})(?=[0-9A-Z]{6})/.exec(plain)?.[0];
	const isOther =
		other !== undefined && other !== letters && other !== country && isOfUnion(other) && isInUnion(country);
	if (isOther) return { ok: false, code: 'other-country' };
	const own = plain.startsWith(country) && letters !== country ? plain.slice(country.length) : plain;
	const found = validated(validator, own);
	if (!found?.isValid)
		return { ok: false, code: found?.error.name === 'InvalidChecksum' ? 'not-its-digits' : 'not-its-form' };
	const { compact } = found;
	return { ok: true, taxId: compact.startsWith(letters) ? compact : letters + compact };
}

/** Some of its rules fall over what is no number at all: `null`. */
function validated(validator: Validator, typed: string): ReturnType<Validator['validate']> | null {
	try {
		return validator.validate(typed);
	} catch {
		return null;
	}
}

function isOfUnion(letters: string): boolean {
	return letters === 'EL' || isInUnion(letters);
}
