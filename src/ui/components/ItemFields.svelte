<script lang="ts">
	import { HOMES } from '$core/library/homes';
	import type { ResourceKind } from '$core/access/model';
	import { readRichJson, type RichText } from '$core/text/rich-text';
	import { placeName, type Place } from '$ui/names';
	import Field from './Field.svelte';
	import PlacePicker from './PlacePicker.svelte';
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
			position: string;
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

<Field name="title" label="Title" {errors}>
	{#snippet children(props)}<input class="input" value={values.title} {...props} />{/snippet}
</Field>
{#if kind !== 'section'}
	<Field
		name="address"
		label="Address"
		hint="Where it is found on the site, from the first slash on. Empty: made from the title."
		{errors}
	>
		{#snippet children(props)}<input class="input" value={values.address} {...props} />{/snippet}
	</Field>
{/if}
{#if HOMES[kind].length > 0}
	<div class="grid items-start gap-4 sm:grid-cols-[1fr_8rem]">
		<Field name="home" label="Lives in" {errors}>
			{#snippet children(props)}
				<PlacePicker
					id={props.id}
					name={props.name}
					kinds={HOMES[kind].join()}
					chosen={values.home ? { id: values.home, label: placeName(places, values.home) } : null}
				/>
			{/snippet}
		</Field>
		<Field name="position" label="Position" {errors}>
			{#snippet children(props)}<input
					class="input text-right"
					inputmode="numeric"
					value={values.position}
					{...props}
				/>{/snippet}
		</Field>
	</div>
{/if}
{#if kind === 'file'}
	<Field
		name="fileName"
		label="Name of the file"
		hint="Its ending is what fences on a shelf can ask for."
		{errors}
	>
		{#snippet children(props)}<input class="input" value={values.fileName} {...props} />{/snippet}
	</Field>
{/if}
{#if kind === 'link'}
	<Field name="target" label="Where it leads" hint="Shown only to those who may open it." {errors}>
		{#snippet children(props)}<input class="input" value={values.target} {...props} />{/snippet}
	</Field>
	<label class="flex items-center gap-2">
		<input type="checkbox" name="opensInBrowser" value="yes" checked={values.opensInBrowser} /> Show it in the page,
		in a frame, for those who may open it
	</label>
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
	<Field name="category" label="Category" {errors}>
		{#snippet children(props)}
			<select class="input" {...props}>
				<option value="">none</option>
				{#each categories as one (one.id)}<option value={one.id} selected={values.category === one.id}
						>{one.name}</option
					>{/each}
			</select>
		{/snippet}
	</Field>
	<Field name="base" label="When no fence speaks, it is" {errors}>
		{#snippet children(props)}
			<select class="input" {...props}>
				<option value="closed" selected={values.base === 'closed'}>closed</option>
				<option value="open" selected={values.base === 'open'}>open to anyone</option>
			</select>
		{/snippet}
	</Field>
</div>
{#if tags.length > 0}
	<fieldset>
		<legend class="mb-1 font-medium">Tags</legend>
		<div class="flex flex-wrap gap-x-5 gap-y-1">
			{#each tags as tag (tag.id)}
				<label class="flex items-center gap-2"
					><input type="checkbox" name="tags" value={tag.id} checked={values.tags.includes(tag.id)} />
					{tag.name}</label
				>
			{/each}
		</div>
	</fieldset>
{/if}
{#if kind !== 'section'}
	<label class="flex items-center gap-2">
		<input type="checkbox" name="showsPoster" value="yes" checked={values.showsPoster} /> Show its picture to those
		who are turned away
	</label>
{/if}
