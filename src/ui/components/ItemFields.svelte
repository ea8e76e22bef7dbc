<script lang="ts">
	import { HOMES } from '$core/library/homes';
	import type { ResourceKind } from '$core/access/model';
	import { readRichJson, type RichText } from '$core/text/rich-text';
	import { optionsOf } from '$ui/fields/labelled';
	import CheckField from '$ui/fields/CheckField.svelte';
	import ChecksField from '$ui/fields/ChecksField.svelte';
	import Field from '$ui/fields/Field.svelte';
	import PlaceField from '$ui/fields/PlaceField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import { placeName, type Place } from '$ui/names';
	import RichTextEditor from './RichTextEditor.svelte';

	/** What can be said of an item or collection, whatever its kind. */
	let {
		kind,
		values,
		errors,
		places,
		categories,
		tags
	}: {
		kind: ResourceKind;
		values: {
			title: string;
			/** Rich text, as JSON. */
			description: string;
			address: string;
			home: string;
			category: string;
			tags: string[];
			base: 'open' | 'closed';
			fileName: string;
			target: string;
			opensInBrowser: boolean;
			showsPoster: boolean;
		};
		errors: Record<string, string[]>;
		/** Where it lives, by id. */
		places: Record<string, Place>;
		categories: { id: string; name: string }[];
		tags: { id: string; name: string }[];
	} = $props();

	const textLabel = $derived(kind === 'page' || kind === 'lesson' ? 'Text' : 'Description');
	// svelte-ignore state_referenced_locally
	let written = $state<RichText>(readRichJson(values.description) ?? []);
</script>

<TextField name="title" label="Title" from={values.title} {errors} />
{#if kind !== 'section'}
	<TextField
		name="address"
		label="Address"
		hint="Where it is found on the site, from the first slash on. Empty: made from the title."
		from={values.address}
		{errors}
	/>
{/if}
{#if HOMES[kind].length > 0}
	<PlaceField
		name="home"
		label="Lives in"
		{errors}
		kinds={HOMES[kind].join()}
		chosen={values.home ? { id: values.home, label: placeName(places, values.home) } : null}
	/>
{/if}
{#if kind === 'file'}
	<TextField
		name="fileName"
		label="Name of the file"
		hint="Its ending is what fences on a shelf can ask for."
		from={values.fileName}
		{errors}
	/>
{/if}
{#if kind === 'link'}
	<TextField
		name="target"
		label="Where it leads"
		hint="Shown only to those who may open it."
		from={values.target}
		{errors}
	/>
	<CheckField
		name="opensInBrowser"
		label="Show it in the page, in a frame, for those who may open it"
		from={values.opensInBrowser}
	/>
{/if}
<Field name="description" label={textLabel} hint="Shown to those who may open it." {errors}>
	{#snippet children({ id, name })}<RichTextEditor
			bind:text={written}
			{id}
			{name}
			chips={[]}
			label={textLabel}
		/>{/snippet}
</Field>
<div class="grid items-end gap-4 sm:grid-cols-2">
	<SelectField
		name="category"
		label="Category"
		options={[{ value: '', label: 'none' }, ...optionsOf(categories)]}
		from={values.category}
		{errors}
	/>
	<SelectField
		name="base"
		label="Without a fence it is"
		options={[
			{ value: 'closed', label: 'closed' },
			{ value: 'open', label: 'open to anyone' }
		]}
		from={values.base}
		{errors}
	/>
</div>
{#if tags.length > 0}<ChecksField
		name="tags"
		label="Tags"
		options={optionsOf(tags)}
		from={values.tags}
	/>{/if}
{#if kind !== 'section'}
	<CheckField
		name="showsPoster"
		label="Show its picture to those who are turned away"
		from={values.showsPoster}
	/>
{/if}
