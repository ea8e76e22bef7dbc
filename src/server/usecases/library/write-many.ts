/** Changes of many items at once: rehearsed together, and written together or not at all. */
import { eq, inArray } from 'drizzle-orm';
import type { PolicySource, Resource } from '$core/access/model';
import { homeProblem, isBytes, type HomeProblem } from '$core/library/homes';
import type { Actor, Using } from '../../app';
import {
	insertItems,
	itemsByIds,
	ofTitle,
	titles,
	updateItem,
	type Item,
	type NewItem
} from '../../db/queries/items';
import { assetOfItem } from '../../db/queries/library';
import { items, itemTags } from '../../db/schema/library';
import type { Work } from '../../transact';
import {
	consentOf,
	saveRehearsed,
	type Consent,
	type KeptRehearsal,
	type Rehearsing
} from '../access/rehearsed-save';
import { need, type Staff } from '../../people/need';

export interface ItemChange {
	/** As it is to be; its `id` says which. */
	resource: Resource;
	/** What is written of a new one beside what the resource says. */
	row: { title?: string; description?: string; body?: null; position?: number; target?: string | null };
	/** `null` for a new one. */
	before: Item | null;
}

const ROWS_AT_ONCE = 500;

export type WroteMany =
	| { kind: 'saved'; count: number }
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal }
	| { kind: 'refused'; code: 'unknown-item' }
	/** One of them may not live there: its title says which. */
	| { kind: 'refused'; code: HomeProblem; title: string };

/**
 * @param with.prepare writes what the changes need before they are written
 * @param with.onEach told after each
 */
export async function writeMany(
	app: Rehearsing,
	actor: Actor,
	action: string,
	changes: readonly ItemChange[],
	consent: Consent,
	{ prepare, onEach }: { prepare?: (work: Work) => Promise<void>; onEach?: () => void } = {}
): Promise<WroteMany> {
	const byId = new Map(changes.map(({ resource }) => [resource.id, resource]));
	const change = (source: PolicySource): PolicySource => {
		const known = new Set(source.resources.map(({ id }) => id));
		return {
			...source,
			resources: [
				...source.resources.map((one) => byId.get(one.id) ?? one),
				...changes.flatMap(({ resource }) => (known.has(resource.id) ? [] : [resource]))
			]
		};
	};
	const saved = await saveRehearsed(app, actor, consent, change, async (work) => {
		const { tx, now } = work;
		await prepare?.(work);
		const made: NewItem[] = [];
		const tagged: { itemId: string; tagId: string }[] = [];
		for (const { resource, row, before } of changes) {
			const { id, kind, state, publishAt, base, address, homeId, categoryId, extension, tagIds } = resource;
			const written = { ...row, state, publishAt, base, address, homeId, categoryId, extension };
			if (before) {
				await updateItem(tx, resource, written, now);
				await tx.delete(itemTags).where(eq(itemTags.itemId, id));
			} else made.push({ title: '', ...written, id, kind, createdAt: now });
			for (const tagId of new Set(tagIds)) tagged.push({ itemId: id, tagId });
			await work.note({ action, subject: { kind: 'item', id }, before, after: { ...written, tagIds } });
			onEach?.();
		}
		await insertItems(tx, made);
		for (let n = 0; n < tagged.length; n += ROWS_AT_ONCE)
			await tx.insert(itemTags).values(tagged.slice(n, n + ROWS_AT_ONCE));
		work.policyChanged(action, { resources: changes.map(({ resource }) => resource.id) });
	});
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved', count: changes.length };
}

export interface BulkWish {
	homeId?: string | null;
	categoryId?: string | null;
	addTagId?: string;
	removeTagId?: string;
	state?: 'draft' | 'published' | 'archived';
}

/** The same change for many chosen items. */
export async function changeMany(
	app: Rehearsing,
	actor: Staff,
	itemIds: readonly string[],
	wish: BulkWish,
	agreedTo: string | null
): Promise<WroteMany> {
	need(actor, 'library');
	const policy = await app.rights.policy();
	const before = new Map((await itemsByIds(app.db, itemIds)).map((item) => [item.id, item]));
	const changes: ItemChange[] = [];
	for (const id of new Set(itemIds)) {
		const resource = policy.resources.get(id);
		const item = before.get(id);
		if (!resource || !item) return { kind: 'refused', code: 'unknown-item' };
		const tagIds = resource.tagIds
			.filter((tagId) => tagId !== wish.removeTagId)
			.concat(wish.addTagId && !resource.tagIds.includes(wish.addTagId) ? [wish.addTagId] : []);
		if (wish.homeId !== undefined) {
			const problem = homeProblem(
				{ id, kind: resource.kind, homeId: wish.homeId },
				(at) => policy.resources.get(at) ?? null
			);
			if (problem) return { kind: 'refused', code: problem, title: item.title };
		}
		changes.push({
			before: item,
			row: {},
			resource: {
				...resource,
				homeId: wish.homeId === undefined ? resource.homeId : wish.homeId,
				categoryId: wish.categoryId === undefined ? resource.categoryId : wish.categoryId,
				state: wish.state ?? resource.state,
				tagIds
			}
		});
	}
	return writeMany(app, actor, 'changed-many', changes, await consentOf(app, agreedTo));
}

/** What shows films or files and has none yet: these cannot be published. */
export async function unpreparedOf(app: Using<'db'>, itemIds: readonly string[]): Promise<string[]> {
	const rows = await app.db
		.select({ id: items.id, title: titles.plain, kind: items.kind })
		.from(items)
		.innerJoin(titles, ofTitle)
		.where(inArray(items.id, [...itemIds]));
	const found: string[] = [];
	for (const { id, title, kind } of rows) {
		if (!isBytes(kind)) continue;
		const asset = await assetOfItem(app.db, id);
		if (asset?.state !== 'ready' && !asset?.stream) found.push(title);
	}
	return found;
}
