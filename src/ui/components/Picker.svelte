<script lang="ts">
	import FindInput from './FindInput.svelte';

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
	let asked = 0;

	async function find(wanted: string) {
		const mine = ++asked;
		const response = await fetch(`/desk/find?kinds=${kinds}&q=${encodeURIComponent(wanted)}`);
		if (response.ok && mine === asked) found = (await response.json()) as Found[];
	}

	function choose(id: string) {
		const chosen = found.find((one) => one.id === id);
		if (chosen) onChoose(chosen);
	}
</script>

<FindInput
	{label}
	{placeholder}
	found={found.map(({ id, kind, label: name, detail }) => ({
		id,
		label: name,
		detail: `${kind.toLowerCase()} ${detail}`
	}))}
	nothing="Nothing by that name."
	onType={find}
	onChoose={choose}
/>
