<script lang="ts">
	import Search from '@lucide/svelte/icons/search';
	import Field from './Field.svelte';

	/** What a list is searched for: asked while one types. */
	let {
		of,
		name = 'q',
		value,
		onType
	}: {
		of: string;
		name?: string;
		value: string;
		/** Told of what is typed, in place of the form. */
		onType?: (text: string) => void;
	} = $props();

	/** A whole page is asked for once somebody stops; a list that is told of what is typed follows at once. */
	const PAUSE_MS = 200;
	let timer: ReturnType<typeof setTimeout> | undefined;

	function type(event: Event & { currentTarget: HTMLInputElement }) {
		const { form, value: typed } = event.currentTarget;
		clearTimeout(timer);
		if (onType) onType(typed);
		else timer = setTimeout(() => form?.requestSubmit(), PAUSE_MS);
	}
	$effect(() => () => clearTimeout(timer));
</script>

<Field label="Find in {of}" {name} hidesLabel>
	{#snippet children(props)}
		<span class="relative">
			<Search
				size={16}
				class="pointer-events-none absolute inset-y-0 left-2.5 my-auto text-quiet"
				aria-hidden="true"
			/>
			<input
				class="input pl-8"
				type="search"
				autocomplete="off"
				placeholder="Find"
				{value}
				oninput={type}
				{...props}
			/>
		</span>
	{/snippet}
</Field>
