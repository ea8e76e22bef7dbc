import type { Context } from '$core/access/model';
import { deterrentsOf, placeOf } from '$core/media/deterrents';
import type { Using } from '../app';
import { shownDeterrents } from './shown';

/** What a decision needs that looks at where somebody comes from. */
export type Looking = Using<'db' | 'geography' | 'rights' | 'site'>;

/** Whether the place that a request comes from is blocked, for one item. */
export async function keptOut(
	app: Looking,
	itemId: string,
	client: string | null
): Promise<Context['keptOut']> {
	if (client === null) return null;
	const { deterrents: site } = await app.site();
	const own = deterrentsOf(site, (await shownDeterrents(app)).get(itemId) ?? null);
	const country = own.blockedCountries.length > 0 ? app.geography.countryOf(client) : null;
	const place = placeOf(own, client, country);
	return place === 'free' ? null : place;
}
