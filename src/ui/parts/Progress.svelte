<script lang="ts">
	import { Progress } from 'bits-ui';

	/** How far something has come, 0 to 100. */
	let { value, label }: { value: number; label: string } = $props();
</script>

<div class="mt-1 flex items-center gap-3">
	<Progress.Root {value} max={100} class="h-2 grow overflow-hidden rounded-sheet bg-line" aria-label={label}>
		<div class="h-full bg-moss" style:width="{value}%"></div>
	</Progress.Root>
	<span class="w-28 text-sm text-quiet">{label} {value} %</span>
</div>
