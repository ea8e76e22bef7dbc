/** How films play and what makes passing them on harder, for the whole site. */
import { eq, ne } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { Deterrents } from '$core/media/deterrents';
import type { PlayerPreset } from '$core/media/preset';
import type { Actor, App } from '../../app';
import { items, playerPresets } from '../../db/schema/library';
import { settings } from '../../db/schema/running';
import { transact } from '../../transact';

const SITE = { kind: 'site', id: '00000000-0000-7000-8000-000000000002' };

export async function saveDeterrents(app: App, actor: Actor, deterrents: Deterrents): Promise<void> {
	const before = await app.site();
	await transact(app, actor, async ({ tx, note, contentChanged }) => {
		await tx.update(settings).set({ value: { ...before, deterrents } });
		await note({
			action: 'saved-deterrents',
			subject: SITE,
			before: before.deterrents,
			after: deterrents
		});
		contentChanged();
	});
}

/** Makes a preset (`id` is `null`) or changes one; the first is the default one, and there is always one at most. */
export async function savePreset(
	app: App,
	actor: Actor,
	{
		id,
		name,
		isDefault,
		preset
	}: { id: string | null; name: string; isDefault: boolean; preset: PlayerPreset }
): Promise<void> {
	await transact(app, actor, async ({ tx, note, contentChanged }) => {
		const presetId = id ?? uuidv7();
		const row = { name, isDefault, preset };
		const [before] = await tx.select().from(playerPresets).where(eq(playerPresets.id, presetId));
		if (before) await tx.update(playerPresets).set(row).where(eq(playerPresets.id, presetId));
		else await tx.insert(playerPresets).values({ id: presetId, ...row });
		if (isDefault)
			await tx.update(playerPresets).set({ isDefault: false }).where(ne(playerPresets.id, presetId));
		await note({ action: 'saved-preset', subject: { kind: 'preset', id: presetId }, before, after: row });
		contentChanged();
	});
}

/** Items that had it play with the default one. */
export async function removePreset(app: App, actor: Actor, id: string): Promise<void> {
	await transact(app, actor, async ({ tx, note, contentChanged }) => {
		const [before] = await tx.select().from(playerPresets).where(eq(playerPresets.id, id));
		if (!before) return;
		await tx.update(items).set({ presetId: null }).where(eq(items.presetId, id));
		await tx.delete(playerPresets).where(eq(playerPresets.id, id));
		await note({ action: 'removed-preset', subject: { kind: 'preset', id }, before });
		contentChanged();
	});
}
