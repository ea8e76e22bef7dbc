/** Categories and tags: made, renamed and removed alike. */
import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { slugOf } from '$core/access/address';
import type { PolicySource } from '$core/access/model';
import { categories, items, itemTags, tags } from '../../db/schema/library';
import { transact, type Work, type Transacting } from '../../transact';
import { consentOf, saveRehearsed, type KeptRehearsal, type Rehearsing } from '../access/rehearsed-save';
import { need, type Staff } from '../../people/need';

export type LabelKind = 'category' | 'tag';

const TABLES = { category: categories, tag: tags } as const;

export async function makeLabel(
	app: Transacting,
	actor: Staff,
	kind: LabelKind,
	name: string
): Promise<string> {
	need(actor, 'library');
	const id = uuidv7();
	await transact(app, actor, (work) => makeLabels(work, [{ kind, id, name }]));
	return id;
}

export async function makeLabels(
	work: Work,
	labels: readonly { kind: LabelKind; id: string; name: string }[]
): Promise<void> {
	for (const { kind, id, name } of labels) {
		await work.tx.insert(TABLES[kind]).values({ id, name, slug: await freeSlug(work, kind, name) });
		await work.note({ action: `created-${kind}`, subject: { kind, id }, after: name });
	}
	if (labels.length > 0) work.contentChanged();
}

/** The address of its list stays: links to it were given out. */
export async function renameLabel(
	app: Transacting,
	actor: Staff,
	kind: LabelKind,
	id: string,
	name: string
): Promise<void> {
	need(actor, 'library');
	await transact(app, actor, async (work) => {
		await work.tx.update(TABLES[kind]).set({ name }).where(eq(TABLES[kind].id, id));
		await work.note({ action: `renamed-${kind}`, subject: { kind, id }, after: name });
		work.contentChanged();
	});
}

/** Fences on it stay, and then catch nothing: the Desk says so. */
export async function removeLabel(
	app: Rehearsing,
	actor: Staff,
	kind: LabelKind,
	id: string,
	agreedTo: string | null
): Promise<{ kind: 'saved' } | { kind: 'rehearsed'; rehearsal: KeptRehearsal }> {
	need(actor, 'library');
	const consent = await consentOf(app, agreedTo);
	const saved = await saveRehearsed(app, actor, consent, without(kind, id), async (work) => {
		const carrying = await itemsWith(work, kind, id);
		if (kind === 'category')
			await work.tx.update(items).set({ categoryId: null }).where(eq(items.categoryId, id));
		else await work.tx.delete(itemTags).where(eq(itemTags.tagId, id));
		await work.tx.delete(TABLES[kind]).where(eq(TABLES[kind].id, id));
		await work.note({ action: `removed-${kind}`, subject: { kind, id } });
		work.policyChanged(`${kind} removed`, { resources: carrying });
	});
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved' };
}

async function itemsWith({ tx }: Work, kind: LabelKind, id: string): Promise<string[]> {
	const rows =
		kind === 'category'
			? await tx.select({ id: items.id }).from(items).where(eq(items.categoryId, id)).for('update')
			: await tx.select({ id: itemTags.itemId }).from(itemTags).where(eq(itemTags.tagId, id)).for('update');
	return rows.map((row) => row.id);
}

function without(kind: LabelKind, id: string): (source: PolicySource) => PolicySource {
	return (source) => ({
		...source,
		resources: source.resources.map((one) => ({
			...one,
			categoryId: kind === 'category' && one.categoryId === id ? null : one.categoryId,
			tagIds: kind === 'tag' ? one.tagIds.filter((tagId) => tagId !== id) : one.tagIds
		}))
	});
}

async function freeSlug({ tx }: Work, kind: LabelKind, name: string): Promise<string> {
	const wish = slugOf(name).slice(0, 70) || kind;
	for (let n = 1; ; n++) {
		const slug = n === 1 ? wish : `${wish}-${n}`;
		const [taken] = await tx
			.select({ id: TABLES[kind].id })
			.from(TABLES[kind])
			.where(eq(TABLES[kind].slug, slug));
		if (!taken) return slug;
	}
}
