import { createRequire } from 'node:module';
import { Reader, type CountryResponse } from 'maxmind';
import { readFileSync } from 'node:fs';
import { isPublic } from '$core/media/network';
import type { Geography } from '../ports/geography';

interface Row {
	country_code?: string;
}

/** The country table that ships with Stile (public-domain data), read when it is first asked. */
export function tableGeography(): Geography {
	let reader: Reader<CountryResponse & Row> | null = null;
	const table = () => {
		const path = createRequire(import.meta.url).resolve(
			'@ip-location-db/geo-whois-asn-country-mmdb/geo-whois-asn-country.mmdb'
		);
		return (reader ??= new Reader(readFileSync(path)));
	};
	return {
		countryOf: (address) => (isPublic(address) ? (table().get(address)?.country_code ?? null) : null)
	};
}
