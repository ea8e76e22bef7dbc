<script lang="ts">
	import type { Snippet } from 'svelte';
	import { enhance } from '$app/forms';
	import type { RehearsalView } from '$core/access/rehearsal-view';
	import { isProblemColumn } from '$core/text/columns';
	import FileField from '$ui/fields/FileField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import Fold from '$ui/parts/Fold.svelte';
	import Progress from '$ui/parts/Progress.svelte';
	import Rehearsal from './Rehearsal.svelte';

	/** A table that is brought in: tried first, its columns matched, what will not do given out to be mended, then written. */
	let {
		action,
		mendAt,
		hint,
		columns,
		names,
		writes,
		wrong,
		problems,
		errors,
		rehearsal,
		rehearsalTitle,
		besides = [],
		zone,
		more
	}: {
		action: string;
		/** Where the rows that will not do are given out. */
		mendAt: string;
		hint: string;
		/** What was read of the file; `null` before. */
		columns: { csv: string; all: readonly { name: string; column: string | null }[] } | null;
		/** Every column that there can be. */
		names: readonly string[];
		/** What the button says that writes it; `null`: it cannot be written yet. */
		writes: string | null;
		/** How many rows will not do. */
		wrong: number;
		/** The same fault once, with its lines. */
		problems: readonly { words: string; lines: number[]; count: number }[];
		errors: Record<string, string[]>;
		rehearsal: RehearsalView | null;
		rehearsalTitle: string;
		besides?: string[];
		zone: string;
		/** What else is asked of it. */
		more?: Snippet;
	} = $props();

	/** Where something is not called as its column is, one looks at what it is taken for. */
	const isUnsure = $derived(
		(columns?.all ?? []).some(({ name, column }) => column !== name.toLowerCase() && !isProblemColumn(name))
	);
	const leftOut = $derived(
		(columns?.all ?? [])
			.filter(({ name, column }) => column === null && !isProblemColumn(name))
			.map(({ name }) => name)
	);
	let stop = $state<(() => void) | null>(null);
	/** Of the table that is worked through. */
	let percent = $state(0);
	const ASKED_EVERY_MS = 700;

	/** @returns what ends it */
	function watchProgress(sent: FormData): () => void {
		const key = crypto.randomUUID?.() ?? '';
		sent.set('progress', key);
		percent = 0;
		const timer = setInterval(async () => {
			const answer = await fetch(`/desk/progress?of=${key}`).catch(() => null);
			if (answer?.ok) percent = Math.max(percent, Number((await answer.json()).percent) || 0);
		}, ASKED_EVERY_MS);
		return () => clearInterval(timer);
	}

	/** By the browser itself: what comes back is a file. */
	function sendPlainly(event: MouseEvent & { currentTarget: HTMLButtonElement }) {
		event.preventDefault();
		const { form: own, formAction } = event.currentTarget;
		if (!own) return;
		const { action } = own;
		own.action = formAction;
		own.submit();
		own.action = action;
	}
</script>

<form
	method="post"
	{action}
	enctype="multipart/form-data"
	class="grid gap-3"
	use:enhance={({ controller, formData }) => {
		stop = () => controller.abort();
		const unwatch = watchProgress(formData);
		return async ({ update }) => {
			stop = null;
			unwatch();
			await update({ reset: false });
		};
	}}
>
	{#if columns}<textarea class="hidden" name="csv" hidden value={columns.csv}></textarea>{/if}
	<FileField name="file" label="A CSV file" {hint} {errors} accept=".csv,text/csv" />
	{#if columns && columns.all.length > 0}
		<Fold label="What its columns are" isOpen={isUnsure}>
			<div class="grid gap-3 sm:grid-cols-2 lg:grid-cols-3">
				{#each columns.all as { name: heading, column }, n (n)}
					{#if !isProblemColumn(heading)}
						<SelectField
							name="as-{n}"
							label="“{heading}” is"
							options={[
								{ value: '', label: 'left out' },
								...names.map((one) => ({ value: one, label: one }))
							]}
							from={column ?? ''}
						/>
					{/if}
				{/each}
			</div>
		</Fold>
	{/if}
	{@render more?.()}
	<div class="flex flex-wrap items-center gap-2">
		<button class="button-quiet" name="do" value="try">Try it, and write nothing</button>
		{#if writes}<button class="button-main" name="do" value="write">{writes}</button>{/if}
		{#if wrong > 0}<button class="button-quiet" formaction={mendAt} onclick={(event) => sendPlainly(event)}
				>{wrong === 1 ? 'The row' : `The ${wrong} rows`} to mend (CSV)</button
			>{/if}
		{#if stop}<span role="status" class="sr-only">Working through the table.</span>
			<div class="w-80"><Progress value={percent} label="Reading, writing" /></div>
			<button type="button" class="button-quiet" onclick={() => (stop?.(), (stop = null))}>Stop</button>{/if}
	</div>
	{#if rehearsal}<Rehearsal {rehearsal} title={rehearsalTitle} {besides} {zone} {action} did="write" />{/if}
</form>
{#if leftOut.length > 0}<p class="text-sm text-gorse">Not read: {leftOut.join(', ')}.</p>{/if}
{#if problems.length > 0}
	<ul class="max-h-72 overflow-y-auto text-sm" aria-label="What is wrong">
		{#each problems as { words, lines, count }, n (n)}<li class="py-0.5 font-medium text-brick">
				{`${count === 1 ? 'Line' : 'Lines'} ${lines.join(', ')}${count > lines.length ? ` and ${count - lines.length} more` : ''}: ${words}`}
			</li>{/each}
	</ul>
{/if}
