/**
 * What a fence catches, and how near it is to a resource.
 *
 * Ranks order the walk, the narrowest first: the resource itself, the collections it lives in outward (a shelf with
 * chosen endings before that shelf), category, tag, exact path, path below (longer first), pattern, text, kind,
 * everything. Example: for a lesson, a fence on its section stands before one on its course, and both before one on its
 * category.
 */
import { RE2Set } from 're2js';
import { readable } from './address';
import { pathPattern, problemOf, requiredLiteral, type PathPattern } from './pattern';
import type { Fence, Resource, Selector } from './model';
import { TextIndex } from './text-index';

export const RANK = {
	self: 0,
	/** Plus two for each step outward, and one where the endings are not chosen. */
	within: 10,
	category: 10_000,
	tag: 10_001,
	path: 10_002,
	/** Less the length of the path. */
	below: 20_000,
	pattern: 20_001,
	containing: 20_002,
	kind: 20_003,
	everything: 20_004
} as const;

/** A fence that catches something, and how near it is. */
export interface Caught {
	fence: Fence;
	rank: number;
}

/** A resource, or an address of the site that belongs to none, such as the front page. */
export interface Place {
	resource: Resource | null;
	address: string | null;
	/** The resource's homes, from the nearest outward. */
	homes: readonly string[];
}

interface PatternEntry {
	fence: Fence;
	pattern: PathPattern;
}

const FENCES_AT_ONCE = 500;

/** Finds the fences that catch a place. Building it touches each fence once and no resource. */
export class FenceIndex {
	private readonly byItem = new Map<string, Fence[]>();
	private readonly byCollection = new Map<string, Fence[]>();
	private readonly byCategory = new Map<string, Fence[]>();
	private readonly byTag = new Map<string, Fence[]>();
	private readonly byKind = new Map<string, Fence[]>();
	private readonly byPath = new Map<string, Fence[]>();
	private readonly byPathAbove = new Map<string, Fence[]>();
	private readonly everything: Fence[] = [];
	private texts = TextIndex.empty<Fence>();
	private literals = TextIndex.empty<PatternEntry>();
	/** Patterns without a literal, matched together. */
	private readonly loose: Fence[] = [];
	private looseSet: RE2Set | null = null;

	/** Built in pieces: between two of them others may go on. */
	static *building(fences: readonly Fence[]): Generator<void, FenceIndex> {
		const index = new FenceIndex();
		const texts: { text: string; value: Fence }[] = [];
		const literals: { text: string; value: PatternEntry }[] = [];
		for (const [n, fence] of fences.entries()) {
			index.file(fence, fence.selector, texts, literals);
			if (n % FENCES_AT_ONCE === FENCES_AT_ONCE - 1) yield;
		}
		index.texts = yield* TextIndex.building(texts);
		index.literals = yield* TextIndex.building(literals);
		return index;
	}

	static of(fences: readonly Fence[]): FenceIndex {
		return drained(FenceIndex.building(fences));
	}

	private file(
		fence: Fence,
		selector: Selector,
		texts: { text: string; value: Fence }[],
		literals: { text: string; value: PatternEntry }[]
	): void {
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
			case 'path':
				return put(this.byPath, selector.path, fence);
			case 'below':
				return put(this.byPathAbove, selector.path, fence);
			case 'containing':
				texts.push({ text: selector.text.normalize('NFC'), value: fence });
				return;
			case 'pattern': {
				const pattern = selector.pattern.normalize('NFC');
				const literal = requiredLiteral(pattern);
				if (literal === null) this.loose.push(fence);
				else literals.push({ text: literal, value: { fence, pattern: pathPattern(pattern) } });
				return;
			}
			case 'everything':
				this.everything.push(fence);
		}
	}

	/** All fences that catch the place, narrowest first, the oldest first among equals. */
	catching(place: Place): Caught[] {
		const caught: Caught[] = [];
		const { resource, address, homes } = place;
		if (resource) {
			addTo(caught, this.byItem.get(resource.id), RANK.self);
			this.addWithin(resource, homes, caught);
			if (resource.categoryId !== null)
				addTo(caught, this.byCategory.get(resource.categoryId), RANK.category);
			for (const tagId of resource.tagIds) addTo(caught, this.byTag.get(tagId), RANK.tag);
			addTo(caught, this.byKind.get(resource.kind), RANK.kind);
		}
		if (address !== null) {
			// An exact path counts as the item that owns it.
			addTo(caught, this.byPath.get(address), resource ? RANK.self : RANK.path);
			this.addBelow(address, caught);
			if (address.includes('%')) this.addReadable(address, caught);
			else this.addMatching(address, caught);
		}
		addTo(caught, this.everything, RANK.everything);
		return sorted(caught);
	}

	private addMatching(address: string, caught: Caught[]): void {
		for (const { fence, pattern } of this.literals.within(address))
			if (pattern.matches(address)) caught.push({ fence, rank: RANK.pattern });
		if (this.loose.length > 0) addTo(caught, this.looseMatches(address), RANK.pattern);
		addTo(caught, this.texts.within(address), RANK.containing);
	}

	/** As it is sent or as people read it, each fence once: letters beyond ASCII are escaped in the one only. */
	private addReadable(address: string, caught: Caught[]): void {
		const found: Caught[] = [];
		this.addMatching(address, found);
		this.addMatching(readable(address), found);
		const seen = new Set<Fence>();
		for (const one of found) {
			if (!seen.has(one.fence)) caught.push(one);
			seen.add(one.fence);
		}
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

	private addBelow(address: string, caught: Caught[]): void {
		if (this.byPathAbove.size === 0) return;
		for (let at = address.lastIndexOf('/'); at >= 0; at = at === 0 ? -1 : address.lastIndexOf('/', at - 1)) {
			const above = at === 0 ? '/' : address.slice(0, at);
			if (above !== address) addTo(caught, this.byPathAbove.get(above), RANK.below - above.length);
		}
	}

	private looseMatches(address: string): Fence[] {
		if (!this.looseSet) {
			this.looseSet = new RE2Set();
			for (const { selector } of this.loose) {
				const pattern = selector.kind === 'pattern' ? selector.pattern.normalize('NFC') : '';
				// One that cannot be used was refused when it was saved; in its place stands one that matches nothing.
				this.looseSet.add(problemOf(pattern) ? '[^\\s\\S]' : pattern);
			}
			this.looseSet.compile();
		}
		const matched = this.looseSet.match(address);
		return matched.length === 0 ? [] : matched.flatMap((n) => this.loose[n] ?? []);
	}
}

/** Runs work that comes in pieces to its end, without a pause. */
export function drained<T>(work: Generator<void, T>): T {
	for (let step = work.next(); ; step = work.next()) if (step.done) return step.value;
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

function addTo(caught: Caught[], fences: readonly Fence[] | undefined, rank: number): void {
	if (fences) for (const fence of fences) caught.push({ fence, rank });
}

function put(map: Map<string, Fence[]>, key: string, fence: Fence): void {
	const known = map.get(key);
	if (known) known.push(fence);
	else map.set(key, [fence]);
}
