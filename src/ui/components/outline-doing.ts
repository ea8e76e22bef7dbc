/** What the rows of an outline do and know, whichever home they live in. */
import type { ResourceKind } from '$core/access/model';
import type { Direction, Spot } from '$core/library/outline-moves';
import type { Entry } from '$ui/outline.svelte';

export interface OutlineDoing {
	/** Rows are dragged within one group. */
	readonly group: string;
	/** Whether there is room for columns. */
	readonly isWide: boolean;
	/** Whether nothing is to move by itself. */
	readonly isStill: boolean;
	readonly plans: { id: string; name: string }[];
	readonly labels: { id: string; name: string }[];
	readonly now: number;
	readonly zone: string;
	/** The item that is open beside it. */
	readonly openId: string | null;
	/** The row that the keyboard stops at. */
	readonly currentKey: string | null;
	/** Whether something can live in things of a kind. */
	holds(kind: ResourceKind): boolean;
	isFolded(id: string): boolean;
	fold(id: string): void;
	hrefOf(id: string): string;
	onFocus(entry: Entry): void;
	/** How far the file is that was dropped on it. */
	sentOf(id: string): { percent: number; problem: string } | null;
	onDrag(isDragging: boolean): void;
	put(entry: Entry, spot: Spot): void;
	refuse(entry: Entry, home: { title: string; kind: ResourceKind }): void;
	/** The title as it stands, when one leaves its field. */
	keep(entry: Entry, title: string): void;
	/** A row for the next thing after this one. */
	next(entry: Entry, title: string): void;
	/** @returns whether it has moved */
	move(entry: Entry, title: string, direction: Direction): boolean;
	/** To the row above or below. */
	step(entry: Entry, by: -1 | 1): void;
	/** Takes a row away that nothing was written in. */
	drop(entry: Entry): void;
	receive(entry: Entry, data: DataTransfer): void;
}
