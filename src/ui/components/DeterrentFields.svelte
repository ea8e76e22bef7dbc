<script lang="ts">
	/** What makes passing things on harder: for the site, or for one item where it differs. */
	import type { Deterrents, OwnDeterrents } from '$core/media/deterrents';
	import { untrack } from 'svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import NumberField from '$ui/fields/NumberField.svelte';
	import CountriesField from '$ui/fields/CountriesField.svelte';
	import ColourField from '$ui/fields/ColourField.svelte';
	import Overlay from './Overlay.svelte';
	import CheckField from '$ui/fields/CheckField.svelte';
	import TextField from '$ui/fields/TextField.svelte';

	let {
		values,
		own,
		errors,
		picture = null
	}: {
		values: Deterrents;
		/** Of an item: what it has of its own; left out for the site. */
		own?: OwnDeterrents | null;
		errors: Record<string, string[]>;
		/** Of an item: its picture, under what is laid over it. */
		picture?: string | null;
	} = $props();

	const SIZE_MIN = 2;
	const SIZE_MAX = 20;
	const OPACITY_MIN = 5;

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
	let laid = $state({
		shows: overlay.shows,
		text: overlay.text,
		size: String(overlay.size),
		opacity: String(overlay.opacity),
		colour: overlay.colour,
		isMoving: overlay.isMoving
	});
	const within = (text: string, least: number, most: number) =>
		Math.min(most, Math.max(least, Number(text.replace(',', '.')) || least));
	const seen = $derived({
		text:
			laid.shows === 'name'
				? 'The viewer’s name'
				: laid.shows === 'email'
					? 'viewer@mail.example'
					: laid.text || 'Your text',
		isMoving: laid.isMoving,
		size: within(laid.size, SIZE_MIN, SIZE_MAX),
		opacity: within(laid.opacity, OPACITY_MIN, 100),
		colour: /^#[0-9a-f]{6}$/i.test(laid.colour) ? laid.colour : '#ffffff'
	});
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
					bind:value={() => laid.shows, (to) => (laid.shows = to as typeof laid.shows)}
				/>
				<TextField
					label={laid.shows === 'text' ? 'Text' : 'For strangers'}
					name="overlay-text"
					maxlength={120}
					bind:value={laid.text}
				/>
				<NumberField
					label="Size, % of the height"
					name="overlay-size"
					min={SIZE_MIN}
					max={SIZE_MAX}
					step={0.5}
					bind:value={laid.size}
				/>
				<NumberField
					label="Opacity, %"
					name="overlay-opacity"
					min={OPACITY_MIN}
					max={100}
					bind:value={laid.opacity}
				/>
				<ColourField label="Colour" name="overlay-colour" bind:value={laid.colour} />
				<div class="pb-2">
					<CheckField name="overlay-moving" label="Moves" bind:checked={laid.isMoving} />
				</div>
			</div>
			<figure>
				<div
					class="relative aspect-video w-full max-w-md overflow-hidden rounded-sheet [container-type:size]"
				>
					{#if picture}<img src={picture} alt="" class="size-full object-cover" />
					{:else}<div class="size-full bg-[linear-gradient(90deg,#14212b_50%,#eef2f1_50%)]"></div>{/if}
					<Overlay overlay={seen} />
				</div>
				<figcaption class="mt-1 text-sm text-quiet">
					How it looks{picture ? '' : ', on dark and on light'}.
				</figcaption>
			</figure>
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
