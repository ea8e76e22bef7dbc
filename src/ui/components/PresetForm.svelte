<script lang="ts">
	import { untrack } from 'svelte';
	import { enhance } from '$app/forms';
	import { CONTROLS, SPEEDS, type Control, type PlayerPreset } from '$core/media/preset';
	import ChangedElsewhere from './ChangedElsewhere.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import ColourField from '$ui/fields/ColourField.svelte';
	import ChecksField from '$ui/fields/ChecksField.svelte';
	import CheckField from '$ui/fields/CheckField.svelte';
	import TextField from '$ui/fields/TextField.svelte';

	let {
		own,
		errors,
		theirs = null
	}: {
		/** An empty id for a new one. */
		own: { id: string; revision: string; name: string; isDefault: boolean; preset: PlayerPreset };
		errors: Record<string, string[]>;
		/** What somebody else has saved meanwhile. */
		theirs?: { revision: string; words: string } | null;
	} = $props();

	const CONTROL_WORDS: Record<Control, string> = {
		seek: 'the bar',
		volume: 'volume',
		speed: 'speed',
		captions: 'captions',
		chapters: 'chapters',
		quality: 'quality',
		'picture-in-picture': 'picture in picture',
		'full-screen': 'full screen'
	};
	const preset = $derived(own.preset);
	let hasAccent = $state(untrack(() => own.preset.accent !== null));
</script>

<form
	method="post"
	action="?/preset"
	class="sheet grid gap-3 p-5 pt-6"
	novalidate
	use:enhance={() =>
		({ update }) =>
			update({ reset: own.id === '' })}
>
	<h3 class="font-semibold">{own.id ? own.name : 'A new preset'}</h3>
	<input type="hidden" name="id" value={own.id} />
	<input type="hidden" name="revision" value={own.revision} />
	{#if theirs}<ChangedElsewhere {theirs} what="this preset" href="/desk/settings/media" />{/if}
	<TextField id="name-{own.id}" name="name" label="Name" {errors} from={own.name} />
	<ChecksField
		label="Controls that are there"
		id="controls-{own.id}"
		name="controls"
		options={CONTROLS.map((control) => ({ value: control, label: CONTROL_WORDS[control] }))}
		from={[...preset.controls]}
	/>
	<ChecksField
		label="Speeds that are allowed"
		id="speeds-{own.id}"
		name="speeds"
		options={SPEEDS.map((speed) => ({ value: String(speed), label: `${speed}×` }))}
		from={preset.speeds.map(String)}
		fixed={['1']}
	/>
	<SelectField
		label="Going to another place"
		id="seeking-{own.id}"
		name="seeking"
		class="max-w-80"
		options={[
			{ value: 'free', label: 'ahead and back' },
			{ value: 'back', label: 'only back to where they have been' }
		]}
		from={preset.seeking}
	/>
	<div class="flex flex-wrap gap-x-5 gap-y-1">
		<CheckField name="isFolded" label="Controls behind one button" from={preset.isFolded} />
		<CheckField name="startsMuted" label="Starts without sound" from={preset.startsMuted} />
		<CheckField name="isDefault" label="The default one" from={own.isDefault} />
	</div>
	<div class="flex flex-wrap items-center gap-3">
		<CheckField name="hasAccent" label="A colour of its own" bind:checked={hasAccent} />
		{#if hasAccent}<ColourField
				label="Colour"
				hidesLabel
				id="accent-{own.id}"
				name="accent"
				from={preset.accent ?? '#2c6650'}
			/>{/if}
	</div>
	<p class="text-sm text-quiet">
		It shapes our player. Whoever plays the stream by other means is not held by it, only by their access.
	</p>
	<div class="flex flex-wrap gap-2">
		<button class={own.id ? 'button-quiet' : 'button-main'}>{own.id ? 'Save' : 'Make the preset'}</button>
		{#if own.id}<button class="button-stop" formaction="?/remove">Remove</button>{/if}
	</div>
</form>
