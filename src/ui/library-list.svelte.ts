/**
 * The rows of the Library as they are scrolled through: read in windows, as they come into view. What was read stays in view
 * until it is read anew.
 */
import { SvelteSet, SvelteURLSearchParams } from 'svelte/reactivity';
import type { LibraryRow, RowsWindow } from '$core/library/row-view';

export class LibraryList {
	total = $state(0);
	private windows = $state.raw<readonly (readonly LibraryRow[] | undefined)[]>([]);
	/** By window: whether it shows what is, and not what was. */
	private isFresh: boolean[] = [];
	/** By window: whether it is being read. */
	private isAsked: boolean[] = [];
	private search = '';
	/** How often it was begun: whoever looks at rows asks again then. */
	private begun = $state(0);
	/** What is chosen, by id. */
	readonly chosen = new SvelteSet<string>();
	/** The row from which a stretch is chosen. */
	private anchor = 0;

	constructor(private readonly size: number) {}

	/** @param search how the list is asked for; another question throws away what was read. */
	begin(first: RowsWindow, search: string): void {
		const isSame = search === this.search;
		this.search = search;
		this.begun++;
		this.total = first.total;
		this.isFresh = [true];
		this.isAsked = [];
		this.windows = [first.rows, ...(isSame ? this.windows.slice(1) : [])];
	}

	row(n: number): LibraryRow | null {
		return this.windows[Math.floor(n / this.size)]?.[n % this.size] ?? null;
	}

	/** Reads what is missing between two rows. */
	async need(from: number, to: number): Promise<void> {
		void this.begun;
		const last = Math.min(to, this.total - 1);
		for (let key = Math.floor(from / this.size); key * this.size <= last; key++) {
			if (this.isFresh[key] || this.isAsked[key]) continue;
			this.isAsked[key] = true;
			await this.read(key);
		}
	}

	private async read(key: number): Promise<void> {
		const asked = this.search;
		const response = await fetch(this.address({ from: key * this.size })).catch(() => null);
		if (asked !== this.search) return;
		this.isAsked[key] = false;
		if (!response?.ok) return;
		const { rows, total } = (await response.json()) as RowsWindow;
		this.isFresh[key] = true;
		this.total = total;
		this.windows = Array.from({ length: Math.max(key + 1, this.windows.length) }, (_, n) =>
			n === key ? rows : this.windows[n]
		);
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
