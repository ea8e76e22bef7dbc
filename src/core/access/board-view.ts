/** Rows of the release board as the Desk is told of them. */
import type { Row } from '../library/rows';
import type { Idle } from './idle-releases';
import type { ResourceKind, Window } from './model';
import type { Span } from './release-bars';

export interface BoardRow extends Row {
	title: string;
	kind: ResourceKind;
	/** Its release as it is kept. */
	own: Window | null;
	/** When it is open for whoever joins. */
	open: Span[];
	/** The same by the plan that is compared; `null`: none is. */
	compared: Span[] | null;
	/** Why its release counts nowhere. */
	idle: Idle | null;
}

export interface BoardWindow {
	rows: BoardRow[];
	total: number;
}
