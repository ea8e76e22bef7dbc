/**
 * Where something is sent by post. What every address has is asked for; a code and a region are not, for some countries have none.
 *
 * Lines stand as they are written on a parcel that goes abroad (common practice, no source): who, what leads there within the house,
 * the street, code and town, the region, and the country last, in capitals.
 */
import { isCountry } from './countries';

export interface Postal {
	/** Who takes it in. */
	name: string;
	street: string;
	/** A company, a floor, a door; often nothing. */
	more: string;
	postcode: string;
	city: string;
	region: string;
	/** ISO 3166-1, two letters. */
	country: string;
}

export const POSTAL_PARTS = ['name', 'more', 'street', 'postcode', 'city', 'region', 'country'] as const;

/** What no address is without. */
export const NEEDED_OF_POSTAL = ['name', 'street', 'city', 'country'] as const;

export const MOST_OF_POSTAL_PART = 120;

export function isWholePostal(postal: Postal): boolean {
	return (
		NEEDED_OF_POSTAL.every((part) => postal[part].trim() !== '') &&
		POSTAL_PARTS.every(
			(part) => postal[part].length <= MOST_OF_POSTAL_PART && !/[\r\n]/.test(postal[part])
		) &&
		isCountry(postal.country)
	);
}

/** @param countryName in the language of whoever carries it */
export function postalLines(postal: Postal, countryName: string): string[] {
	const { name, more, street, postcode, city, region } = postal;
	const town = [postcode, city].filter((part) => part !== '').join(' ');
	return [name, more, street, town, region, countryName.toUpperCase()].filter((line) => line !== '');
}
