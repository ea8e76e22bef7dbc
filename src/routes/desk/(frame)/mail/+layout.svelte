<script lang="ts">
	import Sides from '$ui/components/Sides.svelte';

	let { data, children } = $props();

	const SIDES = [
		['What leaves', '/desk/mail'],
		['What came back', '/desk/mail/returned'],
		['What mails say', '/desk/mail/words'],
		['Who sends them', '/desk/mail/sender']
	] as const;
</script>

<Sides label="Sides of Mail" sides={SIDES.filter(([, href]) => data.areas.includes(href))} />
{@render children()}
