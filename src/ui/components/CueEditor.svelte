<script lang="ts">
	/** Captions of one language, line by line: when, and what is said. */
	import Timer from '@lucide/svelte/icons/timer';
	import TextField from '$ui/fields/TextField.svelte';
	import { enhance } from '$app/forms';
	import { untrack } from 'svelte';
	import type { Cue } from '$core/media/captions';
	import { clock } from '$core/media/chapters';

	let {
		language,
		label,
		cues,
		message,
		at,
		onSeek
	}: {
		language: string;
		label: string;
		cues: Cue[];
		message: string | null;
		/** Where the player is when it is asked, in seconds: not followed, for there may be a thousand lines. */
		at: () => number;
		/** Shows the moment in the player. */
		onSeek: (seconds: number) => void;
	} = $props();

	interface Row {
		key: number;
		start: string;
		end: string;
		text: string;
		settings: string;
	}

	let keys = 0;
	const rowOf = ({ startMs, endMs, text, settings }: Cue): Row => ({
		key: ++keys,
		start: clock(startMs / 1000),
		end: clock(endMs / 1000),
		text,
		settings
	});
	let rows = $state(untrack(() => cues.map(rowOf)));
	let name = $state(untrack(() => label));
	const sent = $derived(JSON.stringify(rows));

	function addAfter(n: number) {
		const at = rows[n]?.end ?? '0:00';
		rows.splice(n + 1, 0, { key: ++keys, start: at, end: at, text: '', settings: '' });
	}

	function toSeconds(text: string): number {
		return text.split(':').reduce((sum, part) => sum * 60 + (Number(part) || 0), 0);
	}
</script>

{#snippet time(row: Row, edge: 'start' | 'end', label: string)}
	<span class="flex items-center gap-1">
		<TextField {label} hidesLabel bind:value={row[edge]} />
		<button
			type="button"
			class="tool"
			title="Where the player is"
			aria-label="{label}: where the player is"
			onclick={() => (row[edge] = clock(Math.round(at() * 10) / 10))}><Timer size={16} /></button
		>
	</span>
{/snippet}

<form
	method="post"
	action="?/cues"
	class="grid gap-2"
	use:enhance={() =>
		({ update }) =>
			update({ reset: false })}
>
	<input type="hidden" name="language" value={language} />
	<input type="hidden" name="cues" value={sent} />
	<TextField label="Called" id="called-{language}" name="label" class="max-w-60" bind:value={name} />
	{#if message}<p role="alert" class="font-medium text-brick">{message}</p>{/if}
	<ol class="grid max-h-96 gap-1 overflow-y-auto">
		{#each rows as row, n (row.key)}
			<li class="grid grid-cols-[7.5rem_7.5rem_1fr_auto] items-start gap-1.5">
				{@render time(row, 'start', `Begins, line ${n + 1}`)}
				{@render time(row, 'end', `Ends, line ${n + 1}`)}
				<textarea class="input" rows="1" aria-label="Text, line {n + 1}" bind:value={row.text}></textarea>
				<span class="flex gap-2 pt-1.5 text-sm">
					<button type="button" class="cursor-pointer underline" onclick={() => onSeek(toSeconds(row.start))}
						>Show</button
					>
					<button type="button" class="cursor-pointer underline" onclick={() => addAfter(n)}>Add</button>
					<button type="button" class="cursor-pointer underline" onclick={() => rows.splice(n, 1)}
						>Remove</button
					>
				</span>
			</li>
		{:else}
			<li>
				<button type="button" class="button-quiet" onclick={() => addAfter(-1)}>Add the first line</button>
			</li>
		{/each}
	</ol>
	<div class="flex flex-wrap gap-2">
		<button class="button-main">Save {name || language}</button>
		<button class="button-stop" formaction="?/removeCaptions">Remove these captions</button>
	</div>
</form>
