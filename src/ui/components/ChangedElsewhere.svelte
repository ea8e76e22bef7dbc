<script lang="ts">
	/** Inside a form: somebody else has saved the same meanwhile. Nothing of either is lost until one chooses. */
	let {
		theirs,
		what,
		href
	}: {
		theirs: { revision: string; words: string };
		/** As in "saved this plan". */
		what: string;
		/** Where what is saved now is shown. */
		href: string;
	} = $props();
</script>

<div role="alert" class="rounded-sheet border-l-4 border-gorse bg-gorse-wash px-4 py-3">
	<p class="font-medium">Somebody else saved {what} while you were editing. Nothing of yours is lost.</p>
	<p>Now it says: {theirs.words}</p>
	<p class="mt-2 flex flex-wrap gap-3">
		<button class="button-quiet" name="overwrite" value={theirs.revision}>Save mine over it</button>
		<a class="button-quiet" {href} data-sveltekit-reload>Take theirs</a>
	</p>
</div>
