/** Categories and tags on the front: what carries them, and which of them are listed. */
import { decideAddress } from '$core/access/decide/decide';
import type { Resource } from '$core/access/model';
import type { Using } from '../../app';
import type { Category } from '../../db/queries/library';
import { isKnownTo, listFor } from './lists';
import type { Look, Looking } from '../../rights/look';
import { shownCategories, shownTags } from '../../rights/shown';

export const LABEL_KINDS = ['categories', 'tags'] as const;
export type LabelKind = (typeof LABEL_KINDS)[number];

const CARRIES: Record<LabelKind, (resource: Resource, labelId: string) => boolean> = {
	categories: ({ categoryId }, id) => categoryId === id,
	tags: ({ tagIds }, id) => tagIds.includes(id)
};

/** A label and what carries it; `null` where that is nothing which whoever looks may know of: then it does not exist for them. */
export async function labelOf(app: Looking, look: Look, kind: LabelKind, slug: string) {
	const label = (await labelsOf(app, kind)).find((one) => one.slug === slug);
	const items = label ? await labelled(app, look, kind, label) : [];
	return label && items.length > 0 ? { name: label.name, items } : null;
}

export interface ListedLabel {
	name: string;
	path: string;
}

/** Labels whose lists whoever looks may know of; `items`: what they may know of in all. */
export async function listedLabels(
	app: Using<'db' | 'rights'>,
	look: Look,
	items: readonly { id: string }[]
): Promise<ListedLabel[]> {
	const carried = new Set<string>();
	for (const { id } of items) {
		const resource = look.policy.resources.get(id);
		for (const labelId of [resource?.categoryId, ...(resource?.tagIds ?? [])])
			if (labelId) carried.add(labelId);
	}
	const found: ListedLabel[] = [];
	for (const kind of LABEL_KINDS)
		for (const { id, slug, name } of await labelsOf(app, kind)) {
			const path = `/${kind}/${encodeURIComponent(slug)}`;
			const decision = decideAddress(look.policy, look.viewer, path, look.now);
			if (carried.has(id) && isKnownTo(decision)) found.push({ name, path });
		}
	return found;
}

function labelsOf(app: Using<'db' | 'rights'>, kind: LabelKind): Promise<Category[]> {
	return kind === 'categories' ? shownCategories(app) : shownTags(app);
}

function labelled(app: Looking, look: Look, kind: LabelKind, label: Category) {
	return listFor(app, look, (item) => {
		const resource = look.policy.resources.get(item.id);
		return item.address !== null && resource !== undefined && CARRIES[kind](resource, label.id);
	});
}
