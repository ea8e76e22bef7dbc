<script lang="ts">
	import type { Verdict } from '$core/access/decision';
	import StateMark from './StateMark.svelte';

	/** Things of the Library, each with what it is for whoever looks. */
	let {
		items,
		none,
		zone
	}: {
		items: readonly {
			id: string;
			title: string;
			address: string | null;
			verdict: Verdict;
			opensAt: number | null;
		}[];
		/** What is said where there are none. */
		none: string;
		zone: string;
	} = $props();
</script>

<ul class="divide-y divide-line">
	{#each items as { id, title, address, verdict, opensAt } (id)}
		<li class="flex flex-wrap items-center justify-between gap-3 py-2">
			<a href={address}>{title}</a>
			<StateMark {verdict} at={opensAt} {zone} />
		</li>
	{:else}
		<li class="py-2 text-quiet">{none}</li>
	{/each}
</ul>
