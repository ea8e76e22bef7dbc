<script lang="ts">
	import Popover from '$ui/parts/Popover.svelte';
	import { isLeft, shareOf, type Uploads } from '$ui/uploads.svelte';
	import UploadList from './UploadList.svelte';

	/** All uploads of this tab, from any view: how many, how far, and what became of them. */
	let { uploads }: { uploads: Uploads } = $props();

	const left = $derived(uploads.list.filter(isLeft).length);
	const share = $derived(shareOf(uploads.list));
	const words = $derived(
		left > 0 ? (left === 1 ? '1 upload' : `${left} uploads`) : `${uploads.list.length} received`
	);
</script>

<svelte:window
	onbeforeunload={(event) => {
		// What is sent is kept, but only if the same file is chosen again.
		if (left > 0) event.preventDefault();
	}}
/>

{#if uploads.list.length > 0}
	<Popover title="Uploads" showsTitle class="w-96">
		{#snippet trigger()}
			{words}
			{#if left > 0}<span class="h-1.5 w-14 overflow-hidden rounded-sheet bg-line" aria-hidden="true"
					><span class="block h-full bg-moss" style:width="{share}%"></span></span
				><span class="sr-only">, {share} % sent</span>{/if}
		{/snippet}
		{#if left > 0}<p class="text-sm text-quiet">They go on while you work elsewhere in this tab.</p>{/if}
		<UploadList list={uploads.list} label="All uploads" />
		{#if left < uploads.list.length}<button
				type="button"
				class="mt-3 cursor-pointer underline"
				onclick={() => uploads.clear()}>Take away those that are over</button
			>{/if}
	</Popover>
{/if}
