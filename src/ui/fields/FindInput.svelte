<script lang="ts" module>
	export interface Choice {
		id: string;
		label: string;
		detail: string;
	}
</script>

<script lang="ts">
	import { tick } from 'svelte';
	import { Combobox } from 'bits-ui';

	/** A field to type in, and what was found to choose from. Once something is chosen it is empty again. */
	let {
		found,
		onType,
		onChoose,
		nothing,
		id = undefined,
		label = undefined,
		placeholder = 'Type a name'
	}: {
		found: Choice[];
		/** Told of what is typed, and of the first look with what stands there. */
		onType: (text: string) => unknown;
		onChoose: (id: string) => void;
		/** What is said when nothing was found. */
		nothing: string;
		id?: string | undefined;
		/** Where no label of the page names it. */
		label?: string | undefined;
		placeholder?: string;
	} = $props();

	let text = $state('');
	let value = $state('');
	let isOpen = $state(false);

	async function type(typed: string) {
		text = typed;
		await onType(typed);
		isOpen = true;
	}

	function choose(chosen: string) {
		if (chosen === '') return;
		// The list writes what was chosen into the field; only a change of what was written there empties it.
		text = found.find(({ id: one }) => one === chosen)?.label ?? '';
		onChoose(chosen);
		isOpen = false;
		void tick().then(() => {
			text = '';
			value = '';
			return onType('');
		});
	}
</script>

<Combobox.Root type="single" bind:value onValueChange={choose} inputValue={text} bind:open={isOpen}>
	<Combobox.Input
		{id}
		class="input"
		aria-label={label}
		{placeholder}
		onfocus={() => void type(text)}
		oninput={(event) => void type(event.currentTarget.value)}
		onkeydown={(event) => event.key === 'Enter' && !isOpen && event.preventDefault()}
	/>
	<Combobox.Portal>
		<Combobox.Content class="floating choices min-w-64" sideOffset={4}>
			{#each found as choice (choice.id)}
				<Combobox.Item value={choice.id} label={choice.label} class="choice">
					<span class="font-medium">{choice.label}</span>
					<span class="ml-auto truncate text-sm text-quiet">{choice.detail}</span>
				</Combobox.Item>
			{:else}
				<p class="px-2.5 py-1.5 text-quiet">{nothing}</p>
			{/each}
		</Combobox.Content>
	</Combobox.Portal>
</Combobox.Root>
