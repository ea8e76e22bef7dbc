<script lang="ts">
	import FindInput from './FindInput.svelte';

	/** Chooses one of many by typing; asks the Desk, so that there may be thousands. */
	let {
		id = undefined,
		label = undefined,
		kinds,
		onChoose,
		placeholder = 'Type a name'
	}: {
		id?: string | undefined;
		/** Where no label of the page names it. */
		label?: string | undefined;
		/** What may be chosen: `member`, `item`, `collection`, `plan`, or single kinds of places. */
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

	function choose(wanted: string) {
		const chosen = found.find((one) => one.id === wanted);
		if (chosen) onChoose(chosen);
	}
</script>

<FindInput
	{id}
	{label}
	{placeholder}
	found={found.map(({ id: one, kind, label: name, detail }) => ({
		id: one,
		label: name,
		detail: `${kind.toLowerCase()} ${detail}`
	}))}
	nothing="Nothing by that name."
	onType={find}
	onChoose={choose}
/>
