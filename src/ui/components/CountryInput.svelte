<script lang="ts">
	import X from '@lucide/svelte/icons/x';
	import { Combobox } from 'bits-ui';
	import { countryName, findCountries } from '$ui/countries';

	/** Several countries, found by typing their names; the form carries their codes, one a line. */
	let {
		name,
		id,
		label,
		chosen = $bindable()
	}: { name: string; id: string; label: string; chosen: string[] } = $props();

	let text = $state('');
	let isOpen = $state(false);
	const found = $derived(findCountries(text).filter(({ code }) => !chosen.includes(code)));

	function choose(code: string) {
		if (code === '' || chosen.includes(code)) return;
		chosen = [...chosen, code];
		text = '';
		isOpen = false;
	}
</script>

<input type="hidden" {name} value={chosen.join('\n')} />
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
<Combobox.Root type="single" value="" onValueChange={choose} inputValue={text} bind:open={isOpen}>
	<Combobox.Input
		{id}
		class="input"
		placeholder="Type a name"
		onfocus={() => (isOpen = true)}
		oninput={(event) => {
			text = event.currentTarget.value;
			isOpen = true;
		}}
		onkeydown={(event) => event.key === 'Enter' && event.preventDefault()}
	/>
	<Combobox.Portal>
		<Combobox.Content
			class="z-50 max-h-72 w-(--bits-combobox-anchor-width) min-w-56 overflow-y-auto rounded-sheet border border-line bg-sheet p-1 shadow-lg"
			sideOffset={4}
		>
			{#each found as { code, name: called } (code)}
				<Combobox.Item
					value={code}
					label={called}
					class="flex cursor-pointer items-baseline gap-3 rounded-sheet px-2 py-1.5 data-highlighted:bg-moss-wash"
				>
					<span>{called}</span> <span class="ml-auto text-sm text-quiet">{code}</span>
				</Combobox.Item>
			{:else}
				<p class="px-2 py-1.5 text-quiet">No country by that name.</p>
			{/each}
		</Combobox.Content>
	</Combobox.Portal>
</Combobox.Root>
