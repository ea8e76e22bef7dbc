import { untrack } from 'svelte';
import { SvelteSet } from 'svelte/reactivity';

/** Rows that are chosen of a list of several pages: some of them, or all. Those of another list are not seen, and not chosen. */
export class ChosenRows {
	readonly ids = new SvelteSet<string>();
	isAll = $state(false);

	/** @param ask what the list is of, without its page and order @param rows of the page that is shown */
	constructor(
		ask: () => string,
		private readonly rows: () => readonly { id: string }[]
	) {
		$effect(() => {
			void ask();
			this.none();
		});
		$effect(() => {
			const shown = rows();
			untrack(() => this.isAll && shown.forEach(({ id }) => this.ids.add(id)));
		});
		$effect(() => {
			if (rows().some(({ id }) => !this.ids.has(id))) this.isAll = false;
		});
	}

	all(): void {
		for (const { id } of this.rows()) this.ids.add(id);
		this.isAll = true;
	}

	none(): void {
		this.isAll = false;
		this.ids.clear();
	}
}
