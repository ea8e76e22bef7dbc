<script lang="ts">
	/** What makes passing things on harder: for the site, or for one item where it differs. */
	import type { Deterrents, OwnDeterrents } from '$core/media/deterrents';
	import { untrack } from 'svelte';
	import CountryInput from './CountryInput.svelte';
	import Field from './Field.svelte';

	let {
		values,
		own,
		errors
	}: {
		values: Deterrents;
		/** Of an item: what it has of its own; left out for the site. */
		own?: OwnDeterrents | null;
		errors: Record<string, string[]>;
	} = $props();

	const isOfItem = untrack(() => own !== undefined);
	const first = untrack(() => ({ ...values, ...own }));
	const overlay = first.overlay ?? {
		shows: 'name',
		text: '',
		isMoving: true,
		size: 4,
		opacity: 30,
		colour: '#ffffff'
	};
	let blocked = $state([...first.blockedCountries]);
	let hasSites = $state(untrack(() => !isOfItem || own?.embedSites !== undefined));
	let hasPlaces = $state(untrack(() => !isOfItem || own?.blockedCountries !== undefined));
	let hasOwnOverlay = $state(untrack(() => !isOfItem || own?.overlay !== undefined));
	let hasOverlay = $state(first.overlay !== null);
	let shows = $state(overlay.shows);
</script>

<fieldset class="grid gap-2">
	<legend class="mb-1 font-medium">Other sites that may show its films in a frame</legend>
	{#if isOfItem}
		<label class="flex items-center gap-2"
			><input type="checkbox" name="ownSites" value="yes" bind:checked={hasSites} /> A list of its own, instead
			of the site’s</label
		>
	{/if}
	{#if hasSites}
		<Field
			name="embedSites"
			label="Hosts, one a line"
			hint="school.example is that host alone; *.school.example is every host below it. Empty: none but this site."
			{errors}
		>
			{#snippet children(props)}<textarea class="input" rows="3" {...props}
					>{first.embedSites.join('\n')}</textarea
				>{/snippet}
		</Field>
	{/if}
	<p class="text-sm text-quiet">
		Browsers keep to it. Whoever writes a program of their own can say that they come from any site.
	</p>
</fieldset>
<fieldset class="grid gap-2">
	<legend class="mb-1 font-medium">Places from where it cannot be opened</legend>
	{#if isOfItem}
		<label class="flex items-center gap-2"
			><input type="checkbox" name="ownPlaces" value="yes" bind:checked={hasPlaces} /> Places of its own, instead
			of the site’s</label
		>
	{/if}
	{#if hasPlaces}
		<div class="grid items-start gap-3 sm:grid-cols-2">
			<Field name="blockedCountries" label="Countries" {errors}>
				{#snippet children({ id, name })}<CountryInput
						{id}
						{name}
						label="Countries"
						bind:chosen={blocked}
					/>{/snippet}
			</Field>
			<Field
				name="blockedNetworks"
				label="Addresses and ranges"
				hint="192.0.2.7 or 192.0.2.0/24, one a line."
				{errors}
			>
				{#snippet children(props)}<textarea class="input" rows="3" {...props}
						>{first.blockedNetworks.join('\n')}</textarea
					>{/snippet}
			</Field>
		</div>
	{/if}
	<p class="text-sm text-quiet">
		It goes by the address that a request comes from. A tunnel to another country goes around it, and tables
		of countries are wrong now and then.
	</p>
</fieldset>
<fieldset class="grid gap-2">
	<legend class="mb-1 font-medium">What is laid over the picture</legend>
	{#if isOfItem}
		<label class="flex items-center gap-2"
			><input type="checkbox" name="ownOverlay" value="yes" bind:checked={hasOwnOverlay} /> Something of its own,
			instead of the site’s</label
		>
	{/if}
	{#if hasOwnOverlay}
		<label class="flex items-center gap-2"
			><input type="checkbox" name="hasOverlay" value="yes" bind:checked={hasOverlay} /> Lay something over it</label
		>
		{#if hasOverlay}
			<div class="flex flex-wrap items-end gap-3">
				<label class="grid gap-1"
					><span>Shows</span><select class="input w-auto" name="overlay-shows" bind:value={shows}>
						<option value="name">the viewer’s name</option>
						<option value="email">the viewer’s mail address</option>
						<option value="text">a text</option>
					</select></label
				>
				<label class="grid gap-1"
					><span>{shows === 'text' ? 'Text' : 'For strangers'}</span><input
						class="input"
						name="overlay-text"
						maxlength="120"
						defaultValue={overlay.text}
					/></label
				>
				<label class="grid gap-1"
					><span>Size, % of the height</span><input
						class="input w-24"
						type="number"
						min="2"
						max="20"
						step="0.5"
						name="overlay-size"
						defaultValue={String(overlay.size)}
					/></label
				>
				<label class="grid gap-1"
					><span>Opacity, %</span><input
						class="input w-24"
						type="number"
						min="5"
						max="100"
						name="overlay-opacity"
						defaultValue={String(overlay.opacity)}
					/></label
				>
				<label class="grid gap-1"
					><span>Colour</span><input
						class="h-9 w-14"
						type="color"
						name="overlay-colour"
						defaultValue={overlay.colour}
					/></label
				>
				<label class="flex items-center gap-2 pb-2"
					><input type="checkbox" name="overlay-moving" value="yes" defaultChecked={overlay.isMoving} /> Moves</label
				>
			</div>
		{/if}
	{/if}
	<p class="text-sm text-quiet">
		It stays in full screen. It says whose copy a recording is; it does not prevent one, and no web page can
		blank a screen recording.
	</p>
</fieldset>
{#if !isOfItem}
	<label class="flex items-center gap-2"
		><input type="checkbox" name="tiesLinks" value="yes" defaultChecked={values.tiesLinks} /> Links to files work
		only from the network that they were made for</label
	>
	<p class="text-sm text-quiet">
		A link that is passed on opens nothing elsewhere; somebody who changes from home to train needs a new one.
	</p>
{/if}
