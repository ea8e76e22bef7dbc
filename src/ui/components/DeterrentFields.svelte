<script lang="ts">
	/** What makes passing things on harder: for the site, or for one item where it differs. */
	import type { Deterrents, OwnDeterrents } from '$core/media/deterrents';
	import { untrack } from 'svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import NumberField from '$ui/fields/NumberField.svelte';
	import CountriesField from '$ui/fields/CountriesField.svelte';
	import ColourField from '$ui/fields/ColourField.svelte';
	import CheckField from '$ui/fields/CheckField.svelte';
	import TextField from '$ui/fields/TextField.svelte';

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
		<CheckField name="ownSites" label="A list of its own, instead of the site’s" bind:checked={hasSites} />
	{/if}
	{#if hasSites}
		<TextField
			name="embedSites"
			label="Hosts, one a line"
			hint="school.example is that host alone; *.school.example is every host below it. Empty: none but this site."
			{errors}
			rows={3}
			from={first.embedSites.join('\n')}
		/>
	{/if}
	<p class="text-sm text-quiet">
		Browsers keep to it. Whoever writes a program of their own can say that they come from any site.
	</p>
</fieldset>
<fieldset class="grid gap-2">
	<legend class="mb-1 font-medium">Places from where it cannot be opened</legend>
	{#if isOfItem}
		<CheckField name="ownPlaces" label="Places of its own, instead of the site’s" bind:checked={hasPlaces} />
	{/if}
	{#if hasPlaces}
		<div class="grid items-start gap-3 sm:grid-cols-2">
			<CountriesField name="blockedCountries" label="Countries" bind:chosen={blocked} {errors} />
			<TextField
				name="blockedNetworks"
				label="Addresses and ranges"
				hint="192.0.2.7 or 192.0.2.0/24, one a line."
				{errors}
				rows={3}
				from={first.blockedNetworks.join('\n')}
			/>
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
		<CheckField
			name="ownOverlay"
			label="Something of its own, instead of the site’s"
			bind:checked={hasOwnOverlay}
		/>
	{/if}
	{#if hasOwnOverlay}
		<CheckField name="hasOverlay" label="Lay something over it" bind:checked={hasOverlay} />
		{#if hasOverlay}
			<div class="flex flex-wrap items-end gap-3">
				<SelectField
					label="Shows"
					id="overlay-shows"
					name="overlay-shows"
					class="w-56"
					options={[
						{ value: 'name', label: 'the viewer’s name' },
						{ value: 'email', label: 'the viewer’s mail address' },
						{ value: 'text', label: 'a text' }
					]}
					bind:value={() => shows, (to) => (shows = to as typeof shows)}
				/>
				<TextField
					label={shows === 'text' ? 'Text' : 'For strangers'}
					name="overlay-text"
					maxlength={120}
					from={overlay.text}
				/>
				<NumberField
					label="Size, % of the height"
					name="overlay-size"
					min={2}
					max={20}
					step={0.5}
					from={String(overlay.size)}
				/>
				<NumberField
					label="Opacity, %"
					name="overlay-opacity"
					min={5}
					max={100}
					from={String(overlay.opacity)}
				/>
				<ColourField label="Colour" name="overlay-colour" from={overlay.colour} />
				<div class="pb-2"><CheckField name="overlay-moving" label="Moves" from={overlay.isMoving} /></div>
			</div>
		{/if}
	{/if}
	<p class="text-sm text-quiet">
		It stays in full screen. It says whose copy a recording is; it does not prevent one, and no web page can
		blank a screen recording.
	</p>
</fieldset>
{#if !isOfItem}
	<CheckField
		name="tiesLinks"
		label="Links to files work only from the network that they were made for"
		from={values.tiesLinks}
	/>
	<p class="text-sm text-quiet">
		A link that is passed on opens nothing elsewhere; somebody who changes from home to train needs a new one.
	</p>
{/if}
