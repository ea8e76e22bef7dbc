/** A collection as its outline edits it: everything that lives in it, in order, with what one looks for beside it. */
import type { ItemState, ResourceKind, Window } from '../access/model';
import type { WhoGetsIn } from '../access/who';
import type { Instant } from '../time/instant';
import type { LibraryRow } from './row-view';

export interface OutlineRow {
	id: string;
	kind: ResourceKind;
	title: string;
	homeId: string;
	state: ItemState;
	publishAt: Instant | null;
	assetState: LibraryRow['assetState'];
	/** In percent, while it is prepared. */
	progress: number | null;
	seconds: number | null;
	/** Of what is published. */
	who: WhoGetsIn | null;
	/** Its own, by the plan that each is for. */
	releases: { planId: string; window: Window }[];
}

export interface OutlineOf {
	id: string;
	kind: ResourceKind;
	title: string;
	address: string | null;
	rows: OutlineRow[];
	/** All of them; `rows` are some. */
	total: number;
	/** Of them, those that hold others. */
	holders: number;
	/** Of all that is played. */
	seconds: number;
}
