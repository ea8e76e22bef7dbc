/** Categories and tags: made, renamed and removed alike. */
import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { slugOf } from '$core/access/address';
import type { PolicySource } from '$core/access/model';
import type { Actor, App } from '../../app';
import { categories, items, itemTags, tags } from '../../db/schema/library';
import { transact, type Work } from '../../transact';
import { saveRehearsed, type KeptRehearsal } from '../access/rehearsed-save';

export type LabelKind = 'category' | 'tag';

const TABLES = { category: categories, tag: tags } as const;

export async function makeLabel(app: App, actor: Actor, kind: LabelKind, name: string): Promise<string> {
	return transact(app, actor, async (work) => {
		const id = uuidv7();
		await work.tx.insert(TABLES[kind]).values({ id, name, slug: await freeSlug(work, kind, name) });
		await work.note({ action: `created-${kind}`, subject: { kind, id }, after: name });
		work.contentChanged();
		return id;
	});
}

/** The address of its list stays: links to it were given out. */
export async function renameLabel(
	app: App,
	actor: Actor,
	kind: LabelKind,
	id: string,
	name: string
): Promise<void> {
	await transact(app, actor, async (work) => {
		await work.tx.update(TABLES[kind]).set({ name }).where(eq(TABLES[kind].id, id));
		await work.note({ action: `renamed-${kind}`, subject: { kind, id }, after: name });
		work.contentChanged();
	});
}

/** Fences on it stay, and then catch nothing: the Desk says so. */
export async function removeLabel(
	app: App,
	actor: Actor,
	kind: LabelKind,
	id: string,
	agreedTo: number | null
): Promise<{ kind: 'saved' } | { kind: 'rehearsed'; rehearsal: KeptRehearsal }> {
	const saved = await saveRehearsed(app, actor, agreedTo, without(kind, id), async (work) => {
		if (kind === 'category')
			await work.tx.update(items).set({ categoryId: null }).where(eq(items.categoryId, id));
		else await work.tx.delete(itemTags).where(eq(itemTags.tagId, id));
		await work.tx.delete(TABLES[kind]).where(eq(TABLES[kind].id, id));
		await work.note({ action: `removed-${kind}`, subject: { kind, id } });
		work.policyChanged(`${kind} removed`);
	});
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved' };
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
