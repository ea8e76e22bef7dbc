<script lang="ts">
	import { Toolbar } from 'bits-ui';
	import type { Snippet } from 'svelte';

	/** One of the tools in a row. */
	let {
		label,
		isOn = undefined,
		isHeld = false,
		onPress,
		children
	}: {
		label: string;
		/** Of a tool that is on or off. */
		isOn?: boolean | undefined;
		isHeld?: boolean;
		onPress: () => void;
		children: Snippet;
	} = $props();
</script>

<Toolbar.Button
	type="button"
	class="tool {isOn ? 'bg-moss-wash text-moss' : ''}"
	aria-label={label}
	title={label}
	aria-pressed={isOn}
	disabled={isHeld}
	onclick={onPress}>{@render children()}</Toolbar.Button
>
