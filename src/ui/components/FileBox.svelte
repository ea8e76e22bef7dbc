<script lang="ts">
	import Download from '@lucide/svelte/icons/download';
	import { useWords } from '$ui/words';

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

	const words = useWords();

	const isSpent = $derived(file.uses !== null && file.uses.used >= file.uses.limit);
</script>

<form method="post" action="?/download" class="sheet mt-6 grid max-w-prose gap-3 p-5 pt-6">
	<p class="flex flex-wrap items-baseline gap-x-3">
		<strong class="break-all"><bdi>{file.name}</bdi></strong>
		<span class="text-sm text-quiet"
			>{words().bytes(file.bytes)}{#if file.pages}, {words().say('file.pages', {
					count: file.pages
				})}{/if}</span
		>
	</p>
	{#if file.uses}
		<p class="text-sm {isSpent ? 'text-brick' : 'text-quiet'}">
			{words().say('file.used', file.uses)}
		</p>
	{/if}
	{#if problem}<p role="alert" class="font-medium text-brick">{words().say(`file.${problem}`)}</p>{/if}
	<button class="button-main justify-self-start" disabled={!file.isReady || isSpent}
		><Download size={16} /> {words().say('file.save')}</button
	>
</form>
