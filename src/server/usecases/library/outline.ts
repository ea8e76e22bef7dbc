/** What the outline of a collection changes of what is in it: titles, places, homes. */
import { homeProblem, type HomeProblem } from '$core/library/homes';
import { DONE, notDone, type Done } from '../../done';
import { itemById, lockItem, updateItem } from '../../db/queries/items';
import { transact, type Transacting, type Work } from '../../transact';
import { consentOf, saveRehearsed, type KeptRehearsal, type Rehearsing } from '../access/rehearsed-save';
import { need, type Staff } from '../../people/need';
import { arrange, lockHome } from './arrange';
import { withResource } from './edit-item';

export async function renameItem(
	app: Transacting,
	actor: Staff,
	itemId: string,
	title: string
): Promise<Done<'unknown'>> {
	need(actor, 'library');
	return transact(app, actor, async ({ tx, now, note, contentChanged }) => {
		const item = await lockItem(tx, itemId);
		if (!item) return notDone('unknown');
		if (item.title === title) return DONE;
		await updateItem(tx, item, { title }, now);
		const subject = { kind: 'item', id: itemId };
		await note({ action: 'edited-item', subject, before: { title: item.title }, after: { title } });
		contentChanged();
		return DONE;
	});
}

export type ItemMoved =
	| { kind: 'saved' }
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal }
	| { kind: 'refused'; code: 'unknown' | HomeProblem };

/**
 * Puts something after another of its home, or into another home: the fences that speak of it can be others there.
 *
 * @param to.after `null`: before all that lives there; left out: at the end
 */
export async function moveItem(
	app: Rehearsing,
	actor: Staff,
	itemId: string,
	to: { homeId: string; after?: string | null },
	agreedTo: string | null = null
): Promise<ItemMoved> {
	need(actor, 'library');
	const item = await itemById(app.db, itemId);
	const { resources } = await app.rights.policy();
	const resource = resources.get(itemId);
	if (!item || !resource) return { kind: 'refused', code: 'unknown' };
	const problem = homeProblem(
		{ id: itemId, kind: item.kind, homeId: to.homeId },
		(at) => resources.get(at) ?? null
	);
	if (problem) return { kind: 'refused', code: problem };
	const place = async (work: Work, from: string | null) => {
		await arrange(work, to.homeId, itemId, to.after);
		const subject = { kind: 'item', id: itemId };
		await work.note({
			action: 'moved-item',
			subject,
			before: { homeId: from },
			after: { homeId: to.homeId }
		});
	};
	if (item.homeId === to.homeId) {
		await transact(app, actor, async (work) => {
			await lockHome(work, to.homeId);
			// It may have been moved elsewhere meanwhile: then its place here is no matter any more.
			if ((await lockItem(work.tx, itemId))?.homeId !== to.homeId) return;
			await place(work, to.homeId);
			work.contentChanged();
		});
		return { kind: 'saved' };
	}
	const moved = withResource({ ...resource, homeId: to.homeId });
	const saved = await saveRehearsed(app, actor, await consentOf(app, agreedTo), moved, async (work) => {
		await lockHome(work, to.homeId);
		await updateItem(work.tx, item, { homeId: to.homeId }, work.now);
		await place(work, item.homeId);
		work.policyChanged('item moved', { resources: [itemId] });
	});
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved' };
}
