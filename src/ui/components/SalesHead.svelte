<script lang="ts">
	import { page } from '$app/state';
	import { asking } from '$ui/address';

	/** The name of a list of sales, how it stands with what is listed, and the list as a table. */
	let {
		title,
		states,
		shown,
		table
	}: {
		title: string;
		states: readonly (readonly [state: string, words: string])[];
		/** `null`: all. */
		shown: string | null;
		/** Where it is given as a table. */
		table: string;
	} = $props();

	const asked = $derived(page.url.searchParams);
</script>

<div class="mb-3 flex flex-wrap items-baseline gap-x-5 gap-y-1">
	<h1 class="text-xl">{title}</h1>
	<p class="flex flex-wrap gap-x-4 gap-y-2">
		{#each states as [state, words] (state)}
			<a
				href={asking(asked, { state: shown === state ? null : state, page: null })}
				aria-current={shown === state ? 'true' : undefined}
				class={shown === state ? 'font-semibold text-ink' : 'text-quiet'}>{words}</a
			>
		{/each}
	</p>
	<a class="ml-auto" href="{table}{asking(asked, { page: null })}" download>As a table (CSV)</a>
</div>
