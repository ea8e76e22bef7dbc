<script lang="ts">
	import type { Verdict } from '$core/access/decision';
	import Moment from './Moment.svelte';
	import Words from './Words.svelte';
	import { useWords } from '$ui/words';

	let {
		verdict,
		note = null,
		at = null,
		zone = 'UTC',
		label = null,
		isPart = false
	}: {
		verdict: Verdict;
		note?: string | null;
		/** When it opens. */
		at?: number | null;
		zone?: string;
		/** In place of the state's own word. */
		label?: string | null;
		/** Some of several things. */
		isPart?: boolean;
	} = $props();

	const words = useWords();

	const state = $derived(
		[label ?? words().say(`state.${verdict}`), note].filter((part) => part !== null).join(' ')
	);

	const COLOURS: Record<Verdict, string> = {
		open: 'text-moss',
		'opens-later': 'text-gorse',
		over: 'text-slate',
		shut: 'text-brick',
		'used-up': 'text-slate',
		'kept-out': 'text-heather'
	};
</script>

{#snippet when()}<Moment at={at ?? 0} {zone} precise />{/snippet}

<span class="inline-flex items-center gap-1.5 font-medium whitespace-nowrap {COLOURS[verdict]}">
	<svg
		width="22"
		height="16"
		viewBox="0 0 22 16"
		aria-hidden="true"
		fill="none"
		stroke="currentColor"
		stroke-width="1.8"
	>
		<path d="M4 1v14M18 1v14" />
		{#if isPart}
			<path d="M4 5 9 2M18 5 13 2M1 11h20" />
		{:else if verdict === 'open'}
			<path d="M4 5 9 2M18 5 13 2M4 11 9 8M18 11 13 8" />
		{:else if verdict === 'opens-later'}
			<path d="M1 5h6M15 5h6M1 11h6M15 11h6" />
			<circle cx="11" cy="8" r="3.4" />
			<path d="M11 6.200V8l1.300 1" stroke-width="1.300" />
		{:else if verdict === 'over'}
			<path d="M1 5h20M1 11h20" stroke-dasharray="2.500 2.200" />
		{:else if verdict === 'shut'}
			<path d="M1 5h20M1 11h20" />
		{:else if verdict === 'used-up'}
			<path d="M1 5h20" />
			<path d="M7 9v4M10 9v4M13 9v4M15.500 9v4" stroke-width="1.300" />
		{:else}
			<path d="M1 2l20 12M1 14 21 2" />
		{/if}
	</svg>
	<span
		>{#if at === null}{state}{:else}<Words of="state.on" values={{ state }} things={{ when }} />{/if}</span
	>
</span>
