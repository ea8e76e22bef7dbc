<script lang="ts">
	import X from '@lucide/svelte/icons/x';
	import { countryName, findCountries } from '$ui/countries';
	import Field from './Field.svelte';
	import FindInput from './FindInput.svelte';
	import Sent from './Sent.svelte';
	import type { Labelled } from './labelled';

	/** Several countries, found by typing their names; the form carries their codes, one a line. */
	let { label, name, id, hint, errors, chosen = $bindable() }: Labelled & { chosen: string[] } = $props();

	let text = $state('');
	const found = $derived(findCountries(text).filter(({ code }) => !chosen.includes(code)));

	function choose(code: string) {
		if (!chosen.includes(code)) chosen = [...chosen, code];
	}
</script>

<Field {label} {name} {id} {hint} {errors}>
	{#snippet children({ id: own })}
		<Sent {name} value={chosen.join('\n')} />
		{#if chosen.length > 0}
			<ul class="flex flex-wrap gap-1.5" aria-label={label}>
				{#each chosen as code (code)}
					<li class="flex items-center gap-1 rounded-sheet border border-line bg-sunk py-0.5 pr-1 pl-2">
						{countryName(code)}
						<button
							type="button"
							class="rounded-sheet p-1 hover:bg-moss-wash"
							aria-label="Leave out {countryName(code)}"
							onclick={() => (chosen = chosen.filter((one) => one !== code))}><X size={14} /></button
						>
					</li>
				{/each}
			</ul>
		{/if}
		<FindInput
			id={own}
			found={found.map(({ code, name: called }) => ({ id: code, label: called, detail: code }))}
			nothing="No country by that name."
			onType={(typed) => (text = typed)}
			onChoose={choose}
		/>
	{/snippet}
</Field>
