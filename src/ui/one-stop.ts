/**
 * A list is one stop for the keyboard: Tab comes to the row that was left last, or to the one that is open, and goes on behind
 * the list; up and down go from row to row, Home and End to the first and the last.
 */
const STOPS = 'a[href], button:not(:disabled)';

/** For a list's `@attach`: whatever can be pressed in it is one of its rows. */
export function oneStop(list: HTMLElement): () => void {
	let last: HTMLElement | null = null;
	const stops = () => [...list.querySelectorAll<HTMLElement>(STOPS)];

	function settle() {
		const all = stops();
		const open = all.find((one) => one.hasAttribute('aria-current'));
		const stop = last && all.includes(last) ? last : (open ?? all[0]);
		for (const one of all) one.tabIndex = one === stop ? 0 : -1;
	}

	function onkeydown(event: KeyboardEvent) {
		if (event.ctrlKey || event.metaKey || event.altKey || event.shiftKey) return;
		const all = stops();
		const at = all.findIndex((one) => one === event.target);
		const to = at === -1 ? null : nextOf(event.key, at, all.length);
		if (to === null) return;
		event.preventDefault();
		all[to]?.focus();
	}

	function onfocusin({ target }: FocusEvent) {
		if (!(target instanceof HTMLElement) || !target.matches(STOPS)) return;
		last = target;
		settle();
	}

	const watch = new MutationObserver(settle);
	watch.observe(list, { childList: true, subtree: true, attributeFilter: ['aria-current', 'href'] });
	list.addEventListener('keydown', onkeydown);
	list.addEventListener('focusin', onfocusin);
	settle();
	return () => {
		watch.disconnect();
		list.removeEventListener('keydown', onkeydown);
		list.removeEventListener('focusin', onfocusin);
	};
}

/** Of a list whose rows themselves are its stops: what is in them is pressed by their keys, or with the pointer. */
export function rowsAreStops(list: HTMLElement): () => void {
	const settle = () => {
		for (const one of list.querySelectorAll<HTMLElement>(STOPS)) one.tabIndex = -1;
	};
	const watch = new MutationObserver(settle);
	watch.observe(list, { childList: true, subtree: true });
	settle();
	return () => watch.disconnect();
}

/** Where a key leads among so many; `null`: nowhere. */
export function nextOf(key: string, at: number, count: number): number | null {
	switch (key) {
		case 'ArrowDown':
			return Math.min(count - 1, at + 1);
		case 'ArrowUp':
			return Math.max(0, at - 1);
		case 'Home':
			return 0;
		case 'End':
			return count - 1;
		default:
			return null;
	}
}
