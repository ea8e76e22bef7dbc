<script lang="ts">
	import { Combobox } from 'bits-ui';

	/** Chooses one of many by typing; asks the Desk, so that there may be thousands. */
	let {
		label,
		kinds,
		onChoose,
		placeholder = 'Type a name'
	}: {
		label: string;
		/** What may be chosen: `member`, `item`, `collection`, `plan`. */
		kinds: string;
		onChoose: (found: Found) => void;
		placeholder?: string;
	} = $props();

	interface Found {
		id: string;
		kind: string;
		label: string;
		detail: string;
	}

	let found = $state<Found[]>([]);
	let text = $state('');
	let isOpen = $state(false);
	let asked = 0;

	async function find(wanted: string) {
		text = wanted;
		const mine = ++asked;
		const response = await fetch(`/desk/find?kinds=${kinds}&q=${encodeURIComponent(wanted)}`);
		if (!response.ok || mine !== asked) return;
		found = (await response.json()) as Found[];
		isOpen = true;
	}

	function choose(id: string) {
		const chosen = found.find((one) => one.id === id);
		if (!chosen) return;
		onChoose(chosen);
		text = '';
		isOpen = false;
	}
</script>

<Combobox.Root type="single" value="" onValueChange={choose} inputValue={text} bind:open={isOpen}>
	<Combobox.Input
		class="input"
		aria-label={label}
		{placeholder}
		onfocus={() => void find(text)}
		oninput={(event) => void find(event.currentTarget.value)}
		onkeydown={(event) => event.key === 'Enter' && event.preventDefault()}
	/>
	<Combobox.Portal>
		<Combobox.Content
			class="z-50 max-h-72 w-(--bits-combobox-anchor-width) min-w-64 overflow-y-auto rounded-sheet border border-line bg-sheet p-1 shadow-lg"
			sideOffset={4}
		>
			{#each found as { id, kind, label: name, detail } (id)}
				<Combobox.Item
					value={id}
					label={name}
					class="flex cursor-pointer items-baseline gap-3 rounded-sheet px-2 py-1.5 data-highlighted:bg-moss-wash"
				>
					<span class="font-medium">{name}</span>
					<span class="ml-auto truncate text-sm text-quiet">{kind.toLowerCase()} {detail}</span>
				</Combobox.Item>
			{:else}
				<p class="px-2 py-1.5 text-quiet">Nothing by that name.</p>
			{/each}
		</Combobox.Content>
	</Combobox.Portal>
</Combobox.Root>
