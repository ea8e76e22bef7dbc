<script lang="ts">
	import CheckField from '$ui/fields/CheckField.svelte';
	import Picker from '$ui/fields/Picker.svelte';

	/** Whether a plan is sold to everybody, or to those who may open something chosen. */
	let {
		isForSome = $bindable(),
		chosen = $bindable(),
		errors
	}: {
		isForSome: boolean;
		/** `null`: nothing yet. */
		chosen: { id: string; title: string; isOpenToAll?: boolean } | null;
		errors: Record<string, string[]>;
	} = $props();

	const own = $props.id();
</script>

<CheckField
	name="isForSome"
	label="It is shown and sold only to those who may open something else"
	hint="To everybody else it is not offered, and its page says nothing of it. Those who have it keep it."
	bind:checked={isForSome}
/>
{#if isForSome}
	<div class="grid gap-1 border-l-2 border-line pl-4">
		<span id="{own}-what" class="font-medium">What they may open</span>
		{#if chosen}
			<p class="flex flex-wrap items-baseline gap-3">
				<span>{chosen.title}</span>
				<button type="button" class="cursor-pointer underline" onclick={() => (chosen = null)}
					>Choose another</button
				>
			</p>
			{#if chosen.isOpenToAll}<p class="text-sm font-medium text-gorse">
					Anybody may open this by now, strangers too, and so anybody may buy. Choose what is closed: of a
					course one of its lessons.
				</p>{/if}
		{:else}
			<Picker
				id="soldTo"
				label="What they may open"
				kinds="item,collection"
				onChoose={({ id, label }) => (chosen = { id, title: label })}
			/>
		{/if}
		{#if errors.soldTo}<p class="text-sm font-medium text-brick">{errors.soldTo[0]}</p>{/if}
	</div>
{/if}
<input type="hidden" name="soldTo" value={chosen?.id ?? ''} />
<input type="hidden" name="soldToTitle" value={chosen?.title ?? ''} />
