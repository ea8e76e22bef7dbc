import type { Context } from '$core/access/model';
import { deterrentsOf, placeOf, type OwnDeterrents } from '$core/media/deterrents';
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
	return keptOutBy(app, client, (await shownDeterrents(app)).get(itemId) ?? null);
}

/** The same for whatever has no places of its own. */
export async function keptOutOfSite(app: Looking, client: string | null): Promise<Context['keptOut']> {
	return client === null ? null : keptOutBy(app, client, null);
}

async function keptOutBy(
	app: Looking,
	client: string,
	own: OwnDeterrents | null
): Promise<Context['keptOut']> {
	const { deterrents: site } = await app.site();
	const all = deterrentsOf(site, own);
	const country = all.blockedCountries.length > 0 ? app.geography.countryOf(client) : null;
	const place = placeOf(all, client, country);
	return place === 'free' ? null : place;
}
