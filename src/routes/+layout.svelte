<script lang="ts">
	import '$ui/theme/theme.css';
	import { onMount } from 'svelte';
	import { ModeWatcher } from 'mode-watcher';
	import { giveBackTypedEarly } from '$ui/typed-early';

	let { children } = $props();

	onMount(giveBackTypedEarly);
</script>

<!-- The first paint is seen to in app.html, by a script that the page's policy knows. -->
<ModeWatcher disableHeadScriptInjection disableTransitions={false} />
{@render children()}
