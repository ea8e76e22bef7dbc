/**
 * The fences that catch addresses of one site: by exact path, below a path, by text, by pattern, and everything there.
 */
import { RE2Set } from 're2js';
import { readable } from './address';
import type { Fence, Selector } from './model';
import { pathPattern, problemOf, requiredLiteral, type PathPattern } from './pattern';
import { TextIndex } from './text-index';

/** A fence that catches something, and how near it is. */
export interface Caught {
	fence: Fence;
	rank: number;
}

/** What catches an address, from the nearest: see `RANK`, which goes on with what is nearer. */
export const ADDRESS_RANK = {
	path: 10_002,
	/** Less the length of the path. */
	below: 20_000,
	pattern: 20_001,
	containing: 20_002,
	everything: 20_004
} as const;

interface PatternEntry {
	fence: Fence;
	pattern: PathPattern;
}

export type AddressSelector = Extract<
	Selector,
	{ kind: 'path' | 'below' | 'containing' | 'pattern' | 'everything' }
>;

/** Filed first, then built once. */
export class AddressIndex {
	private readonly byPath = new Map<string, Fence[]>();
	private readonly byPathAbove = new Map<string, Fence[]>();
	private readonly everything: Fence[] = [];
	private readonly filedTexts: { text: string; value: Fence }[] = [];
	private readonly filedLiterals: { text: string; value: PatternEntry }[] = [];
	private texts = TextIndex.empty<Fence>();
	private literals = TextIndex.empty<PatternEntry>();
	/** Patterns without a literal, matched together. */
	private readonly loose: Fence[] = [];
	private looseSet: RE2Set | null = null;

	file(fence: Fence, selector: AddressSelector): void {
		switch (selector.kind) {
			case 'path':
				return put(this.byPath, selector.path, fence);
			case 'below':
				return put(this.byPathAbove, selector.path, fence);
			case 'containing':
				this.filedTexts.push({ text: selector.text.normalize('NFC'), value: fence });
				return;
			case 'pattern': {
				const pattern = selector.pattern.normalize('NFC');
				const literal = requiredLiteral(pattern);
				if (literal === null) this.loose.push(fence);
				else this.filedLiterals.push({ text: literal, value: { fence, pattern: pathPattern(pattern) } });
				return;
			}
			case 'everything':
				this.everything.push(fence);
		}
	}

	*building(): Generator<void, void> {
		this.texts = yield* TextIndex.building(this.filedTexts);
		this.literals = yield* TextIndex.building(this.filedLiterals);
	}

	/** @param pathRank of an exact path */
	addCatching(address: string, pathRank: number, caught: Caught[]): void {
		addTo(caught, this.byPath.get(address), pathRank);
		this.addBelow(address, caught);
		if (address.includes('%')) this.addReadable(address, caught);
		else this.addMatching(address, caught);
	}

	addEverything(caught: Caught[]): void {
		addTo(caught, this.everything, ADDRESS_RANK.everything);
	}

	private addMatching(address: string, caught: Caught[]): void {
		for (const { fence, pattern } of this.literals.within(address))
			if (pattern.matches(address)) caught.push({ fence, rank: ADDRESS_RANK.pattern });
		if (this.loose.length > 0) addTo(caught, this.looseMatches(address), ADDRESS_RANK.pattern);
		addTo(caught, this.texts.within(address), ADDRESS_RANK.containing);
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

	private addBelow(address: string, caught: Caught[]): void {
		if (this.byPathAbove.size === 0) return;
		for (let at = address.lastIndexOf('/'); at >= 0; at = at === 0 ? -1 : address.lastIndexOf('/', at - 1)) {
			const above = at === 0 ? '/' : address.slice(0, at);
			if (above !== address) addTo(caught, this.byPathAbove.get(above), ADDRESS_RANK.below - above.length);
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

export function addTo(caught: Caught[], fences: readonly Fence[] | undefined, rank: number): void {
	if (fences) for (const fence of fences) caught.push({ fence, rank });
}

export function put(map: Map<string, Fence[]>, key: string, fence: Fence): void {
	const known = map.get(key);
	if (known) known.push(fence);
	else map.set(key, [fence]);
}
