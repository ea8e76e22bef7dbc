<script lang="ts">
	import '$ui/theme/theme.css';
	import { ModeWatcher } from 'mode-watcher';

	let { children } = $props();
</script>

<!-- The first paint is seen to in app.html, by a script that the page's policy knows. -->
<ModeWatcher disableHeadScriptInjection disableTransitions={false} />
{@render children()}
