<script lang="ts">
	import { enhance } from '$app/forms';
	import { CONTROLS, SPEEDS, type Control, type PlayerPreset } from '$core/media/preset';
	import ChangedElsewhere from './ChangedElsewhere.svelte';
	import Field from './Field.svelte';

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
	<Field name="name" label="Name" {errors}>
		{#snippet children(props)}<input class="input" defaultValue={own.name} {...props} />{/snippet}
	</Field>
	<fieldset class="flex flex-wrap gap-x-5 gap-y-1">
		<legend class="mb-1 text-sm text-quiet">Controls that are there</legend>
		{#each CONTROLS as control (control)}
			<label class="flex items-center gap-2"
				><input
					type="checkbox"
					name="controls"
					value={control}
					defaultChecked={preset.controls.includes(control)}
				/>
				{CONTROL_WORDS[control]}</label
			>
		{/each}
	</fieldset>
	<fieldset class="flex flex-wrap gap-x-5 gap-y-1">
		<legend class="mb-1 text-sm text-quiet">Speeds that are allowed</legend>
		{#each SPEEDS as speed (speed)}
			<label class="flex items-center gap-2"
				><input
					type="checkbox"
					name="speeds"
					value={String(speed)}
					defaultChecked={preset.speeds.includes(speed)}
					disabled={speed === 1}
				/>
				{speed}×</label
			>
		{/each}
	</fieldset>
	<label class="flex flex-wrap items-center gap-2"
		><span>Going to another place</span>
		<select class="input w-auto" name="seeking">
			<option value="free" selected={preset.seeking === 'free'}>ahead and back</option>
			<option value="back" selected={preset.seeking === 'back'}>only back to where they have been</option>
		</select></label
	>
	<div class="flex flex-wrap gap-x-5 gap-y-1">
		<label class="flex items-center gap-2"
			><input type="checkbox" name="isFolded" value="yes" defaultChecked={preset.isFolded} /> Controls behind one
			button</label
		>
		<label class="flex items-center gap-2"
			><input type="checkbox" name="startsMuted" value="yes" defaultChecked={preset.startsMuted} /> Starts without
			sound</label
		>
		<label class="flex items-center gap-2"
			><input type="checkbox" name="isDefault" value="yes" defaultChecked={own.isDefault} /> The default one</label
		>
	</div>
	<div class="flex flex-wrap items-center gap-3">
		<label class="flex items-center gap-2"
			><input type="checkbox" name="hasAccent" value="yes" defaultChecked={preset.accent !== null} /> A colour of
			its own</label
		>
		<input
			type="color"
			class="h-8 w-12"
			name="accent"
			aria-label="Colour"
			defaultValue={preset.accent ?? '#2c6650'}
		/>
	</div>
	<p class="text-sm text-quiet">
		It shapes our player. Whoever plays the stream by other means is not held by it, only by their access.
	</p>
	<div class="flex flex-wrap gap-2">
		<button class={own.id ? 'button-quiet' : 'button-main'}>{own.id ? 'Save' : 'Make the preset'}</button>
		{#if own.id}<button class="button-stop" formaction="?/remove">Remove</button>{/if}
	</div>
</form>
