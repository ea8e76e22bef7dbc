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

	const PAUSE_MS = 200;
	let timer: ReturnType<typeof setTimeout> | undefined;

	function type(event: Event & { currentTarget: HTMLInputElement }) {
		const { form, value: typed } = event.currentTarget;
		clearTimeout(timer);
		timer = setTimeout(() => (onType ? onType(typed) : form?.requestSubmit()), PAUSE_MS);
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
