<script lang="ts">
	import { untrack } from 'svelte';
	import Picker from './Picker.svelte';

	/** Chooses where something lives, by typing: there may be hundreds of places. Sent with the form it stands in. */
	let {
		name,
		kinds,
		chosen = null,
		id = undefined,
		label = undefined,
		placeholder = 'nothing: type a name',
		leave = 'Take it out'
	}: {
		name: string;
		/** What may be chosen, as `Picker` has it. */
		kinds: string;
		/** What is chosen to begin with. */
		chosen?: { id: string; label: string } | null;
		id?: string;
		/** Where no label of the page names it. */
		label?: string;
		placeholder?: string;
		/** What the button says that chooses nothing. */
		leave?: string;
	} = $props();

	let place = $state(untrack(() => chosen));
</script>

<input type="hidden" {name} value={place?.id ?? ''} />
{#if place}
	<p class="flex flex-wrap items-baseline gap-x-3">
		<span class="font-medium">{place.label}</span>
		<button type="button" class="cursor-pointer underline" onclick={() => (place = null)}
			>{leave}<span class="sr-only"> of {place.label}</span></button
		>
	</p>
{/if}
<Picker
	{id}
	{label}
	{kinds}
	placeholder={place ? 'another: type a name' : placeholder}
	onChoose={({ id: found, label: words, detail }) =>
		(place = { id: found, label: detail.includes(' / ') ? detail : words })}
/>
