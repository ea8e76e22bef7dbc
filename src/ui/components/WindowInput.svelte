<script lang="ts">
	import type { CalendarUnit } from '$core/time/calendar';
	import type { WindowDraft } from '$ui/fence-draft';

	/** When something opens, and when it closes again. `null`: always, for as long as the audience is met. */
	let {
		window = $bindable(),
		name,
		message = null,
		datesOnly = false
	}: { window: WindowDraft; name: string; message?: string | null; datesOnly?: boolean } = $props();

	const UNITS: CalendarUnit[] = ['day', 'week', 'month', 'year'];
</script>

<div class="grid gap-2" id={name}>
	<div class="flex flex-wrap items-center gap-2">
		<label for="{name}-opens" class="w-16 text-sm">Opens</label>
		<select id="{name}-opens" class="input w-auto" bind:value={window.opens.kind}>
			<option value="at-once">at once</option>
			{#if !datesOnly}<option value="after">after a time</option>{/if}
			<option value="on">on a date</option>
		</select>
		{#if window.opens.kind === 'after'}
			<input
				class="input w-20 text-right"
				inputmode="numeric"
				aria-label="Opens after how many"
				bind:value={window.opens.count}
			/>
			<select class="input w-auto" aria-label="Unit of the opening" bind:value={window.opens.unit}>
				{#each UNITS as unit (unit)}<option value={unit}>{unit}s</option>{/each}
			</select>
		{:else if window.opens.kind === 'on'}
			<input
				class="input w-auto"
				type="datetime-local"
				aria-label="Opens on"
				bind:value={window.opens.local}
			/>
		{/if}
	</div>
	<div class="flex flex-wrap items-center gap-2">
		<label for="{name}-closes" class="w-16 text-sm">Closes</label>
		<select id="{name}-closes" class="input w-auto" bind:value={window.closes.kind}>
			<option value="never">never</option>
			{#if !datesOnly}<option value="after">some time after opening</option>{/if}
			<option value="on">on a date</option>
		</select>
		{#if window.closes.kind === 'after'}
			<input
				class="input w-20 text-right"
				inputmode="numeric"
				aria-label="Closes after how many"
				bind:value={window.closes.count}
			/>
			<select class="input w-auto" aria-label="Unit of the closing" bind:value={window.closes.unit}>
				{#each UNITS as unit (unit)}<option value={unit}>{unit}s</option>{/each}
			</select>
		{:else if window.closes.kind === 'on'}
			<input
				class="input w-auto"
				type="datetime-local"
				aria-label="Closes on"
				bind:value={window.closes.local}
			/>
		{/if}
	</div>
	{#if message}<p class="text-sm font-medium text-brick">{message}</p>{/if}
</div>
