/** How films play and what makes passing them on harder, for the whole site. */
import { eq, ne } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { Deterrents } from '$core/media/deterrents';
import type { WayOfWatching } from '$core/media/way';
import { itemWays, waysOfWatching } from '../../db/schema/library';
import { changeSettings, siteSettings } from '../../db/queries/settings';
import { ChangedMeanwhile, expectRevision, revisionOf } from '../../revision';
import { transact, type Transacting } from '../../transact';
import { AsksForPlaces, expectAgreedPlaces, type PlacesAsked } from './agree-to-places';
import { need, type Staff } from '../../people/need';

const SITE = { kind: 'site', id: '00000000-0000-7000-8000-000000000002' };

export type SavedPart<T> = { kind: 'saved' } | { kind: 'changed'; theirs: T };
export type SavedDeterrents = SavedPart<Deterrents> | { kind: 'asks'; places: PlacesAsked };

/** @param revision of what the editor began with; `null`: whatever is there is meant */
export async function saveDeterrents(
	app: Transacting,
	actor: Staff,
	deterrents: Deterrents,
	{ revision = null, agreedTo = null }: { revision?: string | null; agreedTo?: string | null } = {}
): Promise<SavedDeterrents> {
	need(actor, 'settings');
	try {
		await transact(app, actor, async ({ tx, note, contentChanged }) => {
			const before = await changeSettings(tx, (now) => {
				expectRevision(revision, now.deterrents);
				expectAgreedPlaces('site', now.deterrents, deterrents, agreedTo);
				return { deterrents };
			});
			await note({
				action: 'saved-deterrents',
				subject: SITE,
				before: before.deterrents,
				after: deterrents
			});
			contentChanged();
		});
		return { kind: 'saved' };
	} catch (error) {
		if (error instanceof AsksForPlaces) return { kind: 'asks', places: error.asked };
		if (!(error instanceof ChangedMeanwhile)) throw error;
		return { kind: 'changed', theirs: (await siteSettings(app.db)).deterrents };
	}
}

export interface WayWish {
	id: string | null;
	name: string;
	isDefault: boolean;
	way: WayOfWatching;
}

/** What of a way of watching two editors could change. */
export function wayRevision({ name, isDefault, way }: Omit<WayWish, 'id'>): string {
	return revisionOf({ name, isDefault, way });
}

/** Makes a way of watching (`id` is `null`) or changes one; one at most is the usual one. */
export async function saveWay(
	app: Transacting,
	actor: Staff,
	{ id, name, isDefault, way }: WayWish,
	revision: string | null = null
): Promise<SavedPart<Omit<WayWish, 'id'>>> {
	need(actor, 'settings');
	const wayId = id ?? uuidv7();
	try {
		await transact(app, actor, async ({ tx, note, contentChanged }) => {
			const row = { name, isDefault, way };
			const [before] = await tx
				.select()
				.from(waysOfWatching)
				.where(eq(waysOfWatching.id, wayId))
				.for('update');
			if (before) {
				const now = { name: before.name, isDefault: before.isDefault, way: before.way };
				expectRevision(revision, now);
				await tx.update(waysOfWatching).set(row).where(eq(waysOfWatching.id, wayId));
			} else await tx.insert(waysOfWatching).values({ id: wayId, ...row });
			if (isDefault)
				await tx.update(waysOfWatching).set({ isDefault: false }).where(ne(waysOfWatching.id, wayId));
			await note({ action: 'saved-way', subject: { kind: 'way', id: wayId }, before, after: row });
			contentChanged();
		});
		return { kind: 'saved' };
	} catch (error) {
		if (!(error instanceof ChangedMeanwhile)) throw error;
		const [theirs] = await app.db.select().from(waysOfWatching).where(eq(waysOfWatching.id, wayId));
		return { kind: 'changed', theirs: theirs ?? { name, isDefault, way } };
	}
}

/** Items that had it play in the usual one. */
export async function removeWay(app: Transacting, actor: Staff, id: string): Promise<void> {
	need(actor, 'settings');
	await transact(app, actor, async ({ tx, note, contentChanged }) => {
		const [before] = await tx.select().from(waysOfWatching).where(eq(waysOfWatching.id, id));
		if (!before) return;
		await tx.delete(itemWays).where(eq(itemWays.wayId, id));
		await tx.delete(waysOfWatching).where(eq(waysOfWatching.id, id));
		await note({ action: 'removed-way', subject: { kind: 'way', id }, before });
		contentChanged();
	});
}
