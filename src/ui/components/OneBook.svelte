<script lang="ts">
	/**
	 * A browser is in one book: the site's own, or the practice book. Where it has gone over in another tab, what stands here is
	 * loaded again, so that nothing is pressed in the one and done in the other.
	 */
	import { onMount } from 'svelte';

	let { isPractice }: { isPractice: boolean } = $props();

	onMount(() => {
		const channel = new BroadcastChannel('stile-book');
		channel.onmessage = ({ data }) => {
			if (data !== isPractice) location.reload();
		};
		channel.postMessage(isPractice);
		return () => channel.close();
	});
</script>
