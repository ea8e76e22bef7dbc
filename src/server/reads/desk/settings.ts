/** What the pages of the Settings begin with. */
import type { Using } from '../../app';
import { allWays, type NamedWay } from '../../db/queries/library';
import { ownMailTexts } from '../../db/queries/mail-texts';
import { allRoles, allStaff } from '../../db/queries/staff';

/** The publisher's own words, by occasion. */
export function mailTexts(app: Using<'db'>) {
	return ownMailTexts(app.db);
}

export function waysOfWatching(app: Using<'db'>): Promise<NamedWay[]> {
	return allWays(app.db);
}

export async function staffPage(app: Using<'db'>) {
	const staff = await allStaff(app.db);
	return {
		staff: staff.map(({ provedAt, ...one }) => ({ ...one, hasCome: provedAt !== null })),
		roles: (await allRoles(app.db)).map(({ id, name, permissions }) => ({
			id,
			name,
			permissions,
			holders: staff.filter(({ roleId }) => roleId === id).length
		}))
	};
}
