<script lang="ts">
	import { enhance } from '$app/forms';
	import { ALLOWED, GOING, RESTING, SPEEDS, type WayOfWatching } from '$core/media/way';
	import { ALLOWED_WORDS, GOING_WORDS, RESTING_WORDS } from '$ui/wording/way';
	import { Editing, standing } from '$ui/parts/editing.svelte';
	import Confirm from '$ui/parts/Confirm.svelte';
	import EditorFoot from '$ui/parts/EditorFoot.svelte';
	import ChangedElsewhere from './ChangedElsewhere.svelte';
	import ErrorSummary from './ErrorSummary.svelte';
	import Saved from './Saved.svelte';
	import ColourField from '$ui/fields/ColourField.svelte';
	import ChecksField from '$ui/fields/ChecksField.svelte';
	import CheckField from '$ui/fields/CheckField.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import WayPicture from './WayPicture.svelte';

	let {
		own,
		errors: found,
		theirs = null,
		saved = null
	}: {
		/** An empty id for a new one. */
		own: { id: string; revision: string; name: string; isDefault: boolean; way: WayOfWatching };
		errors: Record<string, string[]>;
		/** What somebody else has saved meanwhile. */
		theirs?: { revision: string; words: string } | null;
		saved?: string | null;
	} = $props();

	const editing = new Editing();
	const errors = $derived(editing.isPutBack ? {} : found);
	const given = standing(
		() => editing,
		() => own
	);
	const way = $derived(given.current.way);
	/** What stands in the form. */
	let may = $derived<string[]>([...way.may]);
	let speeds = $derived(way.speeds.map(String));
	let going = $derived<string>(way.going);
	let resting = $derived<string>(way.resting);
	let hasAccent = $derived(way.accent !== null);
	let colour = $derived(way.accent ?? '#2c6650');
	const accent = $derived(hasAccent ? colour : null);
	let startsMuted = $derived(way.startsMuted);
</script>

<form method="post" action="?/way" class="grid gap-4 pt-2" novalidate use:enhance={editing.submit}>
	<Saved text={saved} />
	<ErrorSummary {errors} />
	<input type="hidden" name="id" value={own.id} />
	{#if theirs}<ChangedElsewhere {theirs} what="this way of watching" href="/desk/settings/media" />{/if}
	{#key editing.version}
		<WayPicture way={{ accent, may, speeds, going, resting, startsMuted }} />
		<TextField id="name-{own.id}" name="name" label="Name" {errors} from={given.current.name} />
		<RadioField
			label="Where may they go in it?"
			name="going"
			options={GOING.map((value) => ({ value, label: GOING_WORDS[value] }))}
			bind:value={going}
		/>
		<ChecksField
			label="How fast may they play it?"
			id="speeds-{own.id}"
			name="speeds"
			options={SPEEDS.map((speed) => ({
				value: String(speed),
				label: speed === 1 ? 'as it is' : `${speed}×`
			}))}
			bind:values={speeds}
			fixed={['1']}
		/>
		<ChecksField
			label="What else may they do?"
			id="may-{own.id}"
			name="may"
			isList
			options={ALLOWED.map((value) => ({ value, label: ALLOWED_WORDS[value] }))}
			bind:values={may}
		/>
		<RadioField
			label="What rests in sight while it plays?"
			name="resting"
			options={RESTING.map((value) => ({ value, ...RESTING_WORDS[value] }))}
			bind:value={resting}
		/>
		<CheckField name="startsMuted" label="It starts without sound" bind:checked={startsMuted} />
		<div class="flex flex-wrap items-center gap-3">
			<CheckField name="hasAccent" label="A colour of its own" bind:checked={hasAccent} />
			{#if hasAccent}<ColourField
					label="Colour"
					hidesLabel
					id="accent-{own.id}"
					name="accent"
					bind:value={colour}
				/>{/if}
		</div>
		<CheckField
			name="isDefault"
			label="The usual one: what has no other way of watching has this"
			from={given.current.isDefault}
		/>
		<p class="text-sm text-quiet">
			It shapes our player. Whoever plays the stream by other means is not held by it, only by their access.
		</p>
		<EditorFoot
			{editing}
			of="way {own.id || 'new'}"
			revision={own.revision}
			keep={own.id ? 'Keep it' : 'Make it'}
		/>
	{/key}
</form>
{#if own.id}
	<div class="mt-2">
		<Confirm
			label="Remove “{own.name}”"
			title="Remove “{own.name}”?"
			what="What has this way of watching plays in the usual one from then on."
			action="?/remove"
			confirmLabel="Remove it"
		>
			<input type="hidden" name="id" value={own.id} />
		</Confirm>
	</div>
{/if}
