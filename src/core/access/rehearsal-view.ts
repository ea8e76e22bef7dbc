/** A rehearsal in words and numbers, as it is looked at before a save: the first lines of it, and how many more there are. */
import type { Instant } from '../time/instant';
import type { EffectKind, Outsider } from './rehearse';

export interface RehearsalView {
	id: string;
	/** Whether there is a table of all of it. */
	hasRows: boolean;
	members: Record<EffectKind, number>;
	devices: Record<EffectKind, number>;
	lines: {
		kind: EffectKind;
		people: string[];
		peopleCount: number;
		/** Devices without an account. */
		devices: number;
		titles: string[];
		titleCount: number;
		at: Instant;
		backAt: Instant | null;
	}[];
	moreLines: number;
	/** Strangers first. */
	outsiders: {
		who: Outsider['kind'];
		/** Of the plan or the batch of codes. */
		name: string;
		kind: EffectKind;
		titles: string[];
		titleCount: number;
		at: Instant;
		backAt: Instant | null;
	}[];
	moreOutsiders: number;
}
