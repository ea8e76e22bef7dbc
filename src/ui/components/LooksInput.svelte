<script lang="ts">
	import { OWN_COLOUR, readColour, tonesOf, type Tones } from '$core/looks/colour';
	import CheckField from '$ui/fields/CheckField.svelte';
	import ColourField from '$ui/fields/ColourField.svelte';

	/** The publisher's colour, and how it comes out in both themes. */
	let {
		hasColour,
		colour,
		errors
	}: {
		hasColour: boolean;
		/** As it is kept, or as it was typed and came back. */
		colour: string;
		errors: Record<string, string[]>;
	} = $props();

	// The form makes it anew where something else is kept.
	// svelte-ignore state_referenced_locally
	let typed = $state({ hasColour, colour });

	const own = $derived(typed.hasColour ? readColour(typed.colour) : OWN_COLOUR);
	const tones = $derived(own && tonesOf(own));
	const themes: { name: 'light' | 'dark'; sheet: string; ink: string }[] = [
		{ name: 'light', sheet: '#ffffff', ink: '#14212b' },
		{ name: 'dark', sheet: '#192227', ink: '#e6edeb' }
	];

	function changed({ moss }: Tones): boolean {
		return moss !== own;
	}
</script>

<CheckField
	name="hasColour"
	label="The front and mails have a colour of their own"
	hint="Of links, buttons and the rails above each sheet. The Desk stays as it is."
	bind:checked={typed.hasColour}
/>
<div class={typed.hasColour ? '' : 'hidden'}>
	<ColourField name="colour" label="Colour" bind:value={typed.colour} {errors} />
</div>
<div class="grid gap-4 sm:grid-cols-2">
	{#each themes as { name, sheet, ink } (name)}
		{@const tone = tones?.[name]}
		{#if tone}
			<figure>
				<div
					class="grid gap-3 rounded-sheet border border-line p-4"
					style:background={sheet}
					style:color={ink}
				>
					<span class="grid w-9 gap-0.5" aria-hidden="true">
						<span class="h-0.75 w-9" style:background={tone.moss}></span>
						<span class="ml-2.5 h-0.75 w-4" style:background={tone.moss}></span>
					</span>
					<p>
						Opens with <span class="underline" style:color={tone.moss}>Apprentice</span>
						<span class="rounded-sheet px-2 py-0.5" style:background={tone.mossWash} style:color={tone.moss}
							>open</span
						>
					</p>
					<p>
						<span
							class="inline-block rounded-sheet px-4 py-2 font-medium"
							style:background={tone.moss}
							style:color={tone.onMoss}>Buy</span
						>
					</p>
				</div>
				<figcaption class="mt-1 text-sm text-quiet">
					In the {name} theme{changed(tone)
						? `, made ${name === 'light' ? 'darker' : 'lighter'} so that it can be read`
						: ''}.
				</figcaption>
			</figure>
		{/if}
	{/each}
</div>
