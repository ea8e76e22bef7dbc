/** How films play and what makes passing them on harder, for the whole site. */
import { eq, ne } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { Deterrents } from '$core/media/deterrents';
import type { PlayerPreset } from '$core/media/preset';
import { itemPlayers, playerPresets } from '../../db/schema/library';
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

export interface PresetWish {
	id: string | null;
	name: string;
	isDefault: boolean;
	preset: PlayerPreset;
}

/** What of a preset two editors could change. */
export function presetRevision({ name, isDefault, preset }: Omit<PresetWish, 'id'>): string {
	return revisionOf({ name, isDefault, preset });
}

/** Makes a preset (`id` is `null`) or changes one; the first is the default one, and there is always one at most. */
export async function savePreset(
	app: Transacting,
	actor: Staff,
	{ id, name, isDefault, preset }: PresetWish,
	revision: string | null = null
): Promise<SavedPart<Omit<PresetWish, 'id'>>> {
	need(actor, 'settings');
	const presetId = id ?? uuidv7();
	try {
		await transact(app, actor, async ({ tx, note, contentChanged }) => {
			const row = { name, isDefault, preset };
			const [before] = await tx
				.select()
				.from(playerPresets)
				.where(eq(playerPresets.id, presetId))
				.for('update');
			if (before) {
				const now = { name: before.name, isDefault: before.isDefault, preset: before.preset };
				expectRevision(revision, now);
				await tx.update(playerPresets).set(row).where(eq(playerPresets.id, presetId));
			} else await tx.insert(playerPresets).values({ id: presetId, ...row });
			if (isDefault)
				await tx.update(playerPresets).set({ isDefault: false }).where(ne(playerPresets.id, presetId));
			await note({ action: 'saved-preset', subject: { kind: 'preset', id: presetId }, before, after: row });
			contentChanged();
		});
		return { kind: 'saved' };
	} catch (error) {
		if (!(error instanceof ChangedMeanwhile)) throw error;
		const [theirs] = await app.db.select().from(playerPresets).where(eq(playerPresets.id, presetId));
		return { kind: 'changed', theirs: theirs ?? { name, isDefault, preset } };
	}
}

/** Items that had it play with the default one. */
export async function removePreset(app: Transacting, actor: Staff, id: string): Promise<void> {
	need(actor, 'settings');
	await transact(app, actor, async ({ tx, note, contentChanged }) => {
		const [before] = await tx.select().from(playerPresets).where(eq(playerPresets.id, id));
		if (!before) return;
		await tx.delete(itemPlayers).where(eq(itemPlayers.presetId, id));
		await tx.delete(playerPresets).where(eq(playerPresets.id, id));
		await note({ action: 'removed-preset', subject: { kind: 'preset', id }, before });
		contentChanged();
	});
}
