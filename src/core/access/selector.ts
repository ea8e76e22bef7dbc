/**
 * What a fence catches, and how near it is to a resource.
 *
 * Ranks order the walk, the narrowest first: the resource itself, the collections it lives in outward (a shelf with
 * chosen endings before that shelf), category, tag, exact path, path below (longer first), pattern, text, kind,
 * everything. Example: for a lesson, a fence on its section stands before one on its course, and both before one on its
 * category.
 */
import { ADDRESS_RANK, AddressIndex, addTo, put, type Caught } from './address-index';
import type { Fence, Resource } from './model';
import { drained } from '../pieces';

export type { Caught };

export const RANK = {
	self: 0,
	/** Plus two for each step outward, and one where the endings are not chosen. */
	within: 10,
	category: 10_000,
	tag: 10_001,
	kind: 20_003,
	...ADDRESS_RANK
} as const;

/** A resource, or an address of the site that belongs to none, such as the front page. */
export interface Place {
	resource: Resource | null;
	/** The outside site that the address is on; left out: Stile's own. */
	siteId?: string | undefined;
	address: string | null;
	/** The resource's homes, from the nearest outward. */
	homes: readonly string[];
}

/** Stile's own site among the indexes of sites. */
const OWN = '';

const FENCES_AT_ONCE = 500;

/** Finds the fences that catch a place. Building it touches each fence once and no resource. */
export class FenceIndex {
	private readonly byItem = new Map<string, Fence[]>();
	private readonly byCollection = new Map<string, Fence[]>();
	private readonly byCategory = new Map<string, Fence[]>();
	private readonly byTag = new Map<string, Fence[]>();
	private readonly byKind = new Map<string, Fence[]>();
	private readonly bySite = new Map<string, AddressIndex>();

	/** Built in pieces: between two of them others may go on. */
	static *building(fences: readonly Fence[]): Generator<void, FenceIndex> {
		const index = new FenceIndex();
		for (const [n, fence] of fences.entries()) {
			index.file(fence);
			if (n % FENCES_AT_ONCE === FENCES_AT_ONCE - 1) yield;
		}
		for (const site of index.bySite.values()) yield* site.building();
		return index;
	}

	static of(fences: readonly Fence[]): FenceIndex {
		return drained(FenceIndex.building(fences));
	}

	private file(fence: Fence): void {
		const { selector } = fence;
		switch (selector.kind) {
			case 'items':
				for (const id of new Set(selector.itemIds)) put(this.byItem, id, fence);
				return;
			case 'within':
				return put(this.byCollection, selector.collectionId, fence);
			case 'category':
				return put(this.byCategory, selector.categoryId, fence);
			case 'tag':
				return put(this.byTag, selector.tagId, fence);
			case 'kind':
				return put(this.byKind, selector.itemKind, fence);
			default: {
				const siteId = selector.siteId ?? OWN;
				let site = this.bySite.get(siteId);
				if (!site) this.bySite.set(siteId, (site = new AddressIndex()));
				site.file(fence, selector);
			}
		}
	}

	/** All fences that catch the place, narrowest first, the oldest first among equals. */
	catching(place: Place): Caught[] {
		const caught: Caught[] = [];
		const { resource, siteId, address, homes } = place;
		if (resource) {
			addTo(caught, this.byItem.get(resource.id), RANK.self);
			this.addWithin(resource, homes, caught);
			if (resource.categoryId !== null)
				addTo(caught, this.byCategory.get(resource.categoryId), RANK.category);
			for (const tagId of resource.tagIds) addTo(caught, this.byTag.get(tagId), RANK.tag);
			addTo(caught, this.byKind.get(resource.kind), RANK.kind);
		}
		const site = this.bySite.get(siteId ?? OWN);
		// An exact path counts as the item that owns it.
		if (address !== null) site?.addCatching(address, resource ? RANK.self : RANK.path, caught);
		site?.addEverything(caught);
		return sorted(caught);
	}

	private addWithin(resource: Resource, homes: readonly string[], caught: Caught[]): void {
		for (let distance = 0; distance <= homes.length; distance++) {
			const collectionId = distance === 0 ? resource.id : (homes[distance - 1] ?? '');
			for (const fence of this.byCollection.get(collectionId) ?? []) {
				if (fence.selector.kind !== 'within') continue;
				const { withPage, extensions } = fence.selector;
				if (distance === 0 && !withPage) continue;
				const isNarrowed = extensions.length > 0;
				if (isNarrowed && (resource.extension === null || !extensions.includes(resource.extension))) continue;
				caught.push({ fence, rank: RANK.within + distance * 2 + (isNarrowed ? 0 : 1) });
			}
		}
	}
}

function sorted(caught: Caught[]): Caught[] {
	// Almost always they were found in order.
	for (let n = 1; n < caught.length; n++)
		if (inOrder(caught[n - 1] as Caught, caught[n] as Caught) > 0) return caught.sort(inOrder);
	return caught;
}

function inOrder(a: Caught, b: Caught): number {
	return a.rank - b.rank || a.fence.createdAt - b.fence.createdAt || (a.fence.id < b.fence.id ? -1 : 1);
}
