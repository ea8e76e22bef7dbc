import type { Context } from '$core/access/model';
import { deterrentsOf, placeOf } from '$core/media/deterrents';
import type { App } from '../app';
import { shownDeterrents } from './shown';

/** Whether the place that a request comes from is blocked, for one item. */
export async function keptOut(app: App, itemId: string, client: string | null): Promise<Context['keptOut']> {
	if (client === null) return null;
	const { deterrents: site } = await app.site();
	const own = deterrentsOf(site, (await shownDeterrents(app)).get(itemId) ?? null);
	const country = own.blockedCountries.length > 0 ? app.geography.countryOf(client) : null;
	const place = placeOf(own, client, country);
	return place === 'free' ? null : place;
}
