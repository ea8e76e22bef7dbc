/** The rows of the Library, and what is chosen of them. */
import { SvelteSet, SvelteURLSearchParams } from 'svelte/reactivity';
import type { LibraryRow, RowsWindow } from '$core/library/row-view';
import { RowWindows } from './row-windows.svelte';

export class LibraryList extends RowWindows<LibraryRow> {
	private search = '';
	/** What is chosen, by id. */
	readonly chosen = new SvelteSet<string>();
	/** The row from which a stretch is chosen. */
	private anchor = 0;

	/** @param search how the list is asked for; another question throws away what was read. */
	begin(first: RowsWindow, search: string): void {
		const isSame = search === this.search;
		this.search = search;
		this.beginWith(first, isSame);
	}

	protected async fetched(from: number): Promise<RowsWindow | null> {
		const response = await fetch(this.address({ from }));
		return response.ok ? ((await response.json()) as RowsWindow) : null;
	}

	/** Chooses one, or leaves it. */
	toggle(n: number): void {
		const row = this.row(n);
		if (!row) return;
		this.anchor = n;
		if (!this.chosen.delete(row.id)) this.chosen.add(row.id);
	}

	/** Chooses everything from the row that was chosen last to this one. */
	async chooseTo(n: number): Promise<void> {
		for (const id of await this.ids(Math.min(this.anchor, n), Math.max(this.anchor, n))) this.chosen.add(id);
	}

	/** What is here is chosen at once. */
	async chooseAll(): Promise<void> {
		let isWhole = true;
		for (let n = 0; n < this.total; n++) {
			const row = this.row(n);
			if (row?.isFound) this.chosen.add(row.id);
			isWhole &&= row !== null;
		}
		if (isWhole) return;
		for (const id of await this.ids(0, this.total - 1)) this.chosen.add(id);
	}

	private async ids(from: number, to: number): Promise<string[]> {
		const response = await fetch(this.address({ from, to, ids: 1 })).catch(() => null);
		return response?.ok ? ((await response.json()) as string[]) : [];
	}

	private address(more: Record<string, number>): string {
		const query = new SvelteURLSearchParams(this.search);
		for (const [name, value] of Object.entries(more)) query.set(name, String(value));
		return `/desk/library/rows?${query}`;
	}
}
