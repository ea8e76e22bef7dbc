<script lang="ts">
	/** How far something has come, 0 to 100. */
	let { value, label }: { value: number; label: string } = $props();
</script>

<div class="mt-1 flex items-center gap-3">
	<div
		class="h-2 grow overflow-hidden rounded-sheet bg-line"
		role="progressbar"
		aria-label={label}
		aria-valuenow={value}
		aria-valuemin="0"
		aria-valuemax="100"
	>
		<div class="h-full bg-moss" style:width="{value}%"></div>
	</div>
	<span class="w-28 text-sm text-quiet tabular-nums">{label} {value} %</span>
</div>
