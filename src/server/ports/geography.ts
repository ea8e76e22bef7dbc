/** Which country an address belongs to, as far as is known. */
export interface Geography {
	/** ISO 3166-1 alpha-2; `null` where it is not known. */
	countryOf(address: string): string | null;
}
