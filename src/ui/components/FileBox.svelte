<script lang="ts">
	import Download from '@lucide/svelte/icons/download';
	import { formatBytes } from '$ui/wording/time';

	/** A file to save: what it is, how often it may still be saved, and the press that does it. */
	let {
		file,
		problem
	}: {
		file: {
			name: string;
			bytes: number;
			pages: number | null;
			isReady: boolean;
			uses: { used: number; limit: number } | null;
		};
		problem: 'used-up' | 'closed' | 'not-ready' | null;
	} = $props();

	const WORDS = {
		'used-up': 'You have saved this as often as your plan allows. Ask the publisher for more.',
		closed: 'This is not open to you any more. Load the page again to see what opens it.',
		'not-ready': 'This file is not ready yet. Try again in a moment.'
	};

	const isSpent = $derived(file.uses !== null && file.uses.used >= file.uses.limit);
</script>

<form method="post" action="?/download" class="sheet mt-6 grid max-w-prose gap-3 p-5 pt-6">
	<p class="flex flex-wrap items-baseline gap-x-3">
		<strong class="break-all"><bdi>{file.name}</bdi></strong>
		<span class="text-sm text-quiet"
			>{formatBytes(file.bytes)}{#if file.pages}, {file.pages === 1
					? '1 page'
					: `${file.pages} pages`}{/if}</span
		>
	</p>
	{#if file.uses}
		<p class="text-sm {isSpent ? 'text-brick' : 'text-quiet'}">
			{file.uses.used} of {file.uses.limit} used. A broken download goes on for a day and counts once.
		</p>
	{/if}
	{#if problem}<p role="alert" class="font-medium text-brick">{WORDS[problem]}</p>{/if}
	<button class="button-main justify-self-start" disabled={!file.isReady || isSpent}
		><Download size={16} /> Save the file</button
	>
</form>
