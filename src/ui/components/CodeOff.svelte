<script lang="ts">
	import type { Snippet } from 'svelte';
	import Confirm from '$ui/parts/Confirm.svelte';

	/** For somebody who has lost the phone and the recovery codes. */
	let { name, action, children }: { name: string; action: string; children?: Snippet } = $props();
</script>

<Confirm
	label="Take the code off"
	title="Ask {name} for no code any more?"
	what="{name} then signs in by password or mailed link alone, is signed out everywhere now, and is told by mail. Do it only if you know that it is {name} who asks."
	{action}
	confirmLabel="Take the code off"
	{children}
/>
