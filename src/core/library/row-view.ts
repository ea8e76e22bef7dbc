/** Rows of the Library as the Desk is told of them. */
import type { ItemState, ResourceKind } from '../access/model';
import type { WhoGetsIn } from '../access/who';
import type { Instant } from '../time/instant';
import type { Row } from './rows';

export interface LibraryRow extends Row {
	title: string;
	kind: ResourceKind;
	state: ItemState;
	publishAt: Instant | null;
	assetState: 'waiting' | 'preparing' | 'ready' | 'failed' | null;
	/** In percent, while it is prepared. */
	progress: number | null;
	seconds: number | null;
	changedAt: Instant;
	hasPicture: boolean;
	/** The title of what it lives in. */
	home: string | null;
	/** Of what is published. */
	who: WhoGetsIn | null;
}

/** Some of the rows, and how many there are. */
export interface RowsWindow {
	rows: LibraryRow[];
	/** All rows, with the homes that lead to what was looked for. */
	total: number;
	/** What was looked for. */
	found: number;
	/** All that is not archived. */
	things: number;
	drafts: number;
}
