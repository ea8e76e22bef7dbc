<script lang="ts">
	/** What opens by itself next, and for how many: asked for when the page stands, for it takes a moment with very many members. */
	import { formatDay } from '$ui/wording/time';
	import { SvelteURLSearchParams } from 'svelte/reactivity';

	let {
		within = null,
		at,
		rules = 'today',
		zone,
		most = Infinity,
		onFound = () => {}
	}: {
		/** A collection, or everything. */
		within?: string | null;
		at: number;
		rules?: 'today' | 'then';
		zone: string;
		most?: number;
		/** Told when each opens. */
		onFound?: (at: number[]) => void;
	} = $props();

	let coming = $state<{ title: string; at: number; members: number }[] | null>(null);
	let hasFailed = $state(false);
	const shown = $derived((coming ?? []).slice(0, most));
	const words = $derived(
		hasFailed
			? 'This could not be read. Load the page again.'
			: coming === null
				? 'Looking.'
				: 'Nothing opens by itself.'
	);

	$effect(() => {
		const query = new SvelteURLSearchParams(within ? { within } : {});
		query.set('asof', String(at));
		if (rules === 'then') query.set('rules', 'then');
		const ending = new AbortController();
		hasFailed = false;
		fetch(`/desk/releases/coming?${query}`, { signal: ending.signal })
			.then(async (response) => {
				if (!response.ok) return void (hasFailed = true);
				const found = (await response.json()) as NonNullable<typeof coming>;
				coming = found;
				onFound(found.map((one) => one.at));
			})
			.catch(() => (hasFailed = !ending.signal.aborted));
		return () => ending.abort();
	});
</script>

<ul class="mt-2 divide-y divide-line">
	{#each shown as one, n (n)}
		<li class="flex flex-wrap items-baseline gap-x-4 py-1.5">
			<span class="w-24 shrink-0 text-sm text-quiet">{formatDay(one.at, zone)}</span>
			<span class="min-w-0 grow">{one.title}</span>
			<span class="text-sm text-quiet">{one.members === 1 ? '1 member' : `${one.members} members`}</span>
		</li>
	{/each}
</ul>
<!-- There before it says anything: else nobody hears it. -->
<p class="text-quiet {shown.length > 0 ? 'sr-only' : 'py-1.5'}" role="status">
	{shown.length > 0 ? '' : words}
</p>
