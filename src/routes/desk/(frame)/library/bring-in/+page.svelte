<script lang="ts">
	import { untrack } from 'svelte';
	import type { RehearsalView } from '$core/access/rehearsal-view';
	import { enhance } from '$app/forms';
	import { COLUMNS } from '$core/library/table';
	import { refresh } from '$ui/refresh';
	import RadioField from '$ui/fields/RadioField.svelte';
	import CheckField from '$ui/fields/CheckField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import Progress from '$ui/parts/Progress.svelte';
	import TableForm from '$ui/components/TableForm.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import { formatBytes } from '$ui/wording/time';

	let { data, form } = $props();

	const errors = $derived(
		((form && 'errors' in form ? form.errors : null) ?? {}) as Record<string, string[]>
	);
	const trial = $derived(form && 'trial' in form ? form.trial : null);
	const rehearsal = $derived(form && 'rehearsal' in form ? (form.rehearsal as RehearsalView) : null);
	const columns = $derived((form && 'columns' in form ? form.columns : null) ?? null);
	const isBusy = $derived(
		data.jobs.some(({ state }) => state === 'waiting' || state === 'running') ||
			(data.inbox !== null && data.inbox.waiting.length + data.inbox.taking > 0)
	);
	/** For a page that was loaded as an answer; what comes later finds the field as it was typed since. */
	const sentAddress = untrack(() => (form && 'url' in form ? form.url : ''));
	const name = (key: string) => key.slice(data.prefix.length);
	const above = $derived(data.prefix.replace(/[^/]*\/$/, ''));

	$effect(() => {
		// Nobody tells when a file is put into the folder: it is looked for, less often.
		if (!isBusy && data.inbox === null) return;
		const timer = setInterval(() => void refresh(), isBusy ? 1500 : 6000);
		return () => clearInterval(timer);
	});
	const stay =
		() =>
		({ update }: { update: (how: { reset: boolean }) => Promise<void> }) =>
			update({ reset: false });
</script>

<svelte:head><title>Bring in · Library · Desk</title></svelte:head>

<div class="grid gap-5">
	<section class="sheet grid gap-2 p-5 pt-6">
		<h2>Bring in</h2>
		<p class="max-w-prose text-quiet">
			Files are dropped on the left. Here is everything that comes by another way; all of it begins as a draft
			and closed.
		</p>
		<Saved text={form && 'saved' in form ? form.saved : null} />
		{#if form && 'itemId' in form}<p><a href="/desk/library/{form.itemId}">Open it</a></p>{/if}
	</section>

	<section class="sheet grid gap-3 p-5 pt-6" aria-labelledby="table">
		<h2 id="table">By a table</h2>
		<p class="max-w-prose text-sm text-quiet">
			The first row names the columns. A row changes what has its address, or adds a new item; a column that
			is left out changes nothing. <a href="/desk/library/bring-in/template.csv" download
				>A table to begin with (CSV)</a
			>
		</p>
		<TableForm
			action="?/table"
			mendAt="/desk/library/bring-in/mend.csv"
			hint="Shelves from the outside in (Tables / Wheels), tags with semicolons between them."
			{columns}
			names={COLUMNS}
			writes={trial && trial.wrong === 0
				? `Write ${trial.adds + trial.changes === 1 ? 'this item' : `these ${trial.adds + trial.changes} items`}`
				: null}
			wrong={trial?.wrong ?? 0}
			problems={trial?.groups ?? []}
			{errors}
			{rehearsal}
			rehearsalTitle="What bringing in this table would do"
			zone={data.site.zone}
		/>
		{#if trial}
			<div class="rounded-sheet border border-line bg-sunk p-3" role="status">
				<p class="font-medium">
					{trial.adds} new, {trial.changes} changed.
					{trial.wrong === 0
						? 'Nothing stands in the way.'
						: `${trial.wrong === 1 ? 'One row needs' : `${trial.wrong} rows need`} another look; nothing is written until ${trial.wrong === 1 ? 'it is' : 'they are'} right.`}
				</p>
				{#if trial.newShelves.length > 0}<p class="text-sm">
						New shelves: {trial.newShelves.join(', ')}.
					</p>{/if}
				{#if trial.newLabels.length > 0}<p class="text-sm">New labels: {trial.newLabels.join(', ')}.</p>{/if}
				<ul class="mt-2 max-h-72 overflow-y-auto text-sm">
					{#each trial.rows as row (row.line)}<li class="py-0.5">
							Line {row.line}
							{row.does}
							<strong>{row.title}</strong>
							<span class="text-quiet">{row.address}</span>
						</li>{/each}
					{#if trial.adds + trial.changes > trial.rows.length}<li class="py-0.5 text-quiet">
							And {trial.adds + trial.changes - trial.rows.length} more.
						</li>{/if}
				</ul>
			</div>
		{/if}
	</section>

	<section class="sheet grid gap-3 p-5 pt-6" aria-labelledby="outside">
		<h2 id="outside">From an address that stays hidden</h2>
		<form
			method="post"
			action="?/refer"
			class="grid gap-3"
			use:enhance={() =>
				({ result, update }) =>
					update({ reset: result.type === 'success' })}
			novalidate
		>
			<TextField
				name="url"
				label="Address of the file or recording"
				hint="Stile passes it through: readers never see where it lies."
				{errors}
				placeholder="https://"
				from={sentAddress}
			/>
			<TextField name="title" label="Title" {errors} />
			<button class="button-quiet justify-self-start">Bring it in</button>
		</form>
	</section>

	{#if data.store}
		<section class="sheet grid gap-3 p-5 pt-6" aria-labelledby="store">
			<h2 id="store">From the object store</h2>
			{#if !data.store.ok}
				<p class="font-medium text-brick">
					The object store does not answer. Look whether it runs, then load this page again.
				</p>
			{:else}
				<p class="text-sm">
					{data.bucketName}: <strong>/{data.prefix}</strong>
					{#if data.prefix}<a href="?prefix={encodeURIComponent(above)}">One up</a>{/if}
				</p>
				<form method="post" action="?/take" class="grid gap-3" use:enhance={stay}>
					<ul class="max-h-80 divide-y divide-line overflow-y-auto">
						{#each data.store.folders as folder (folder)}
							<li class="py-1"><a href="?prefix={encodeURIComponent(folder)}">{name(folder)}</a></li>
						{/each}
						{#each data.store.entries as entry (entry.key)}
							<li class="py-1">
								<CheckField name="keys" value={entry.key} label={name(entry.key)}>
									{#snippet more()}<span class="text-sm text-quiet">{formatBytes(entry.bytes)}</span
										>{/snippet}
								</CheckField>
							</li>
						{/each}
						{#if data.store.entries.length + data.store.folders.length === 0}<li class="py-1 text-quiet">
								No objects here.
							</li>{/if}
					</ul>
					{#if data.store.next}<p>
							<a href="?prefix={encodeURIComponent(data.prefix)}&from={encodeURIComponent(data.store.next)}"
								>Further objects</a
							>
						</p>{/if}
					{#if errors.keys}<p role="alert" class="font-medium text-brick">{errors.keys[0]}</p>{/if}
					<RadioField
						label="How"
						hidesLabel
						name="how"
						from="copy"
						options={[
							{ value: 'copy', label: 'Take them in', detail: 'Copied into Stile’s storage.' },
							{ value: 'refer', label: 'Refer to them', detail: 'The originals stay there.' }
						]}
					/>
					<button class="button-quiet justify-self-start">Bring the chosen in</button>
				</form>
			{/if}
			{#each data.jobs as job (job.id)}
				{#if job.state === 'failed'}<p class="font-medium text-brick">{job.problem}</p>
				{:else}<Progress value={job.progress} label={job.key} />{/if}
			{/each}
		</section>
	{/if}

	{#if data.inbox}
		<section class="sheet grid gap-2 p-5 pt-6" aria-labelledby="inbox">
			<h2 id="inbox">By the inbox folder</h2>
			<p class="max-w-prose text-sm text-quiet">
				What is put into the inbox folder of the server appears by itself, folders as shelves, once it has
				stopped growing.
			</p>
			{#each data.inbox.waiting as file (file)}<p>
					<bdi>{file}</bdi> <span class="text-quiet">waits</span>
				</p>{/each}
			{#each data.inbox.refused as { name: file, why } (file)}
				<form method="post" action="?/refused" use:enhance class="grid gap-1 border-t border-line pt-2">
					<input type="hidden" name="name" value={file} />
					<p><bdi class="font-medium">{file}</bdi></p>
					<p class="text-brick">{why}</p>
					<p class="flex gap-2">
						<button class="button-quiet" name="do" value="again">Look at it again</button>
						<button class="button-stop" name="do" value="away">Throw it away</button>
					</p>
				</form>
			{/each}
			{#if data.inbox.taking > 0}<p class="text-quiet" role="status">
					{data.inbox.taking === 1 ? 'A file is' : `${data.inbox.taking} files are`} being received.
				</p>
			{:else if data.inbox.waiting.length === 0 && data.inbox.refused.length === 0}<p class="text-quiet">
					It is empty.
				</p>{/if}
		</section>
	{/if}
</div>
