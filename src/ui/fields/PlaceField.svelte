<script lang="ts">
	import { untrack } from 'svelte';
	import Field from './Field.svelte';
	import Picker from './Picker.svelte';
	import Sent from './Sent.svelte';
	import type { Labelled } from './labelled';

	/** Chooses where something lives, by typing: there may be hundreds of places. Sent with the form it stands in. */
	let {
		kinds,
		chosen = null,
		placeholder = 'nothing: type a name',
		leave = 'Take it out',
		onChange,
		...labelled
	}: Labelled & {
		/** What may be chosen, as `Picker` has it. */
		kinds: string;
		/** What is chosen to begin with. */
		chosen?: { id: string; label: string } | null;
		placeholder?: string;
		/** What the button says that chooses nothing. */
		leave?: string;
		/** Told the id, or an empty one. */
		onChange?: ((id: string) => void) | undefined;
	} = $props();

	let place = $state(untrack(() => chosen));

	function take(to: typeof place) {
		place = to;
		onChange?.(to?.id ?? '');
	}
</script>

<Field {...labelled}>
	{#snippet children({ id: own })}
		<Sent
			name={labelled.name}
			value={place?.id ?? ''}
			words={place?.label ?? ''}
			onPutIn={([id = '', words = '']) => take(id === '' ? null : { id, label: words })}
		/>
		{#if place}
			<p class="flex flex-wrap items-baseline gap-x-3">
				<span class="font-medium">{place.label}</span>
				<button type="button" class="cursor-pointer underline" onclick={() => take(null)}
					>{leave}<span class="sr-only"> of {place.label}</span></button
				>
			</p>
		{/if}
		<Picker
			id={own}
			{kinds}
			placeholder={place ? 'another: type a name' : placeholder}
			onChoose={({ id: found, label: words, detail }) =>
				take({ id: found, label: detail.includes(' / ') ? detail : words })}
		/>
	{/snippet}
</Field>
