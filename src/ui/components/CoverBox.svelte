<script lang="ts">
	import { refresh } from '$ui/refresh';
	import type { Snippet } from 'svelte';
	import { enhance } from '$app/forms';
	import UploadBox from './UploadBox.svelte';

	/** The picture that stands for an item in lists and previews. The page it stands on answers `?/uncover`. */
	let {
		itemId,
		hasPicture,
		hasCover,
		children = undefined
	}: {
		itemId: string;
		hasPicture: boolean;
		hasCover: boolean;
		/** Other ways to a picture. */
		children?: Snippet;
	} = $props();

	const LIMIT_BYTES = 20 * 1024 ** 2;
	/** The address stays when the picture changes. */
	let changes = $state(0);
</script>

{#if hasPicture}
	<img
		src="/media/poster/{itemId}?{changes}"
		alt=""
		class="aspect-video w-60 rounded-sheet bg-sunk object-cover"
	/>
{/if}
{@render children?.()}
<UploadBox
	limit={LIMIT_BYTES}
	label="A picture of your own"
	isSingle
	metadata={{ cover: itemId }}
	onDone={() => {
		changes++;
		void refresh();
	}}
/>
{#if hasCover}
	<form
		method="post"
		action="?/uncover"
		use:enhance={() =>
			async ({ update }) => {
				changes++;
				await update({ reset: false });
			}}
	>
		<button class="button-quiet">Take the own picture away</button>
	</form>
{/if}
