/** A rehearsal in words and numbers, as it is looked at before a save: the first lines of it, and how many more there are. */
import type { Instant } from '../time/instant';
import type { EffectKind } from './rehearse';

export interface RehearsalView {
	id: string;
	members: Record<EffectKind, number>;
	lines: {
		kind: EffectKind;
		people: string[];
		peopleCount: number;
		titles: string[];
		titleCount: number;
		at: Instant;
		backAt: Instant | null;
	}[];
	moreLines: number;
	newcomers: {
		plan: string;
		kind: EffectKind;
		titles: string[];
		titleCount: number;
		at: Instant;
		backAt: Instant | null;
	}[];
	becomesPublic: string[];
	closesToPublic: string[];
	/** The front page and lists of labels, by what they are called. */
	listsOpen: string[];
	listsClose: string[];
}
