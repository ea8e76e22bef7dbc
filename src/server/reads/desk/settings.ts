/** What the pages of the Settings begin with. */
import type { Using } from '../../app';
import { allWays, type NamedWay } from '../../db/queries/library';
import type { LanguageCode } from '$words/languages';
import { ownMailTexts } from '../../db/queries/mail-texts';
import { accountById } from '../../db/queries/members';
import { withFactor } from '../../db/queries/second-factors';
import { siteSettings } from '../../db/queries/settings';
import { allRoles, allStaff } from '../../db/queries/staff';
import { wishesOf, type Wishes } from '../../db/queries/telling';

/** The publisher's own words, by occasion. */
export function mailTexts(app: Using<'db'>, language: LanguageCode) {
	return ownMailTexts(app.db, language);
}

export function waysOfWatching(app: Using<'db'>): Promise<NamedWay[]> {
	return allWays(app.db);
}

/** How a member of staff is mailed of what happens. */
export async function wishesPage(app: Using<'db'>, accountId: string): Promise<Wishes> {
	return wishesOf(app.db, accountId, (await accountById(app.db, accountId))?.role === 'owner');
}

export async function staffPage(app: Using<'db'>) {
	const staff = await allStaff(app.db);
	const coded = await withFactor(
		app.db,
		staff.map(({ id }) => id)
	);
	return {
		needCode: (await siteSettings(app.db)).staffNeedCode,
		staff: staff.map(({ provedAt, ...one }) => ({
			...one,
			hasCome: provedAt !== null,
			hasCode: coded.has(one.id)
		})),
		roles: (await allRoles(app.db)).map(({ id, name, permissions }) => ({
			id,
			name,
			permissions,
			holders: staff.filter(({ roleId }) => roleId === id).length
		}))
	};
}
