import { SvelteURLSearchParams } from 'svelte/reactivity';

/** The same address with other parameters: `null` and empty ones are taken away. */
export function asking(parameters: URLSearchParams, changes: Record<string, string | null>): string {
	const query = new SvelteURLSearchParams(parameters);
	for (const [name, value] of Object.entries(changes)) {
		if (value) query.set(name, value);
		else query.delete(name);
	}
	return `?${query}`;
}
