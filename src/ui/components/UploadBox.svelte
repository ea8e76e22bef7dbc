<script lang="ts">
	/** Drop or choose files and folders. */
	import FolderUp from '@lucide/svelte/icons/folder-up';
	import Upload from '@lucide/svelte/icons/upload';
	import { untrack } from 'svelte';
	import { chosen, dropped, Uploads, type Chosen } from '$ui/uploads.svelte';
	import { formatBytes } from '$ui/wording/time';
	import Progress from './Progress.svelte';

	let {
		limit,
		label = 'Bring in files',
		isSingle = false,
		metadata = {},
		onDone
	}: {
		limit: number;
		label?: string;
		/** One file, without its folder. */
		isSingle?: boolean;
		/** What the server is told of each. */
		metadata?: Record<string, string>;
		onDone: () => void;
	} = $props();

	const uploads = untrack(
		() =>
			new Uploads(
				() => limit,
				() => metadata,
				() => onDone()
			)
	);
	let isOver = $state(false);

	function take(files: Chosen[]) {
		uploads.add(isSingle ? files.slice(0, 1).map(({ file }) => ({ file, folder: '' })) : files);
	}
	/** As soon as the scripts run, too: what was chosen before is not lost. */
	function takeFrom(input: HTMLInputElement) {
		if (!input.files?.length) return;
		const files = chosen(input.files);
		input.value = '';
		untrack(() => take(files));
	}
</script>

<div
	role="group"
	aria-label={label}
	class="rounded-sheet border-2 border-dashed p-4 text-center {isOver
		? 'border-moss bg-moss-wash'
		: 'border-line'}"
	ondragover={(event) => {
		event.preventDefault();
		isOver = true;
	}}
	ondragleave={() => (isOver = false)}
	ondrop={(event) => {
		event.preventDefault();
		isOver = false;
		if (event.dataTransfer) void dropped(event.dataTransfer).then(take);
	}}
>
	<div class="flex flex-wrap justify-center gap-2">
		<label
			class="button-main focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-focus"
		>
			<Upload size={16} />
			{label}
			<input
				type="file"
				class="sr-only"
				multiple={!isSingle}
				onchange={(event) => takeFrom(event.currentTarget)}
				{@attach takeFrom}
			/>
		</label>
		{#if !isSingle}
			<label
				class="button-quiet focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-focus"
			>
				<FolderUp size={16} /> A folder
				<input
					type="file"
					class="sr-only"
					webkitdirectory
					onchange={(event) => takeFrom(event.currentTarget)}
					{@attach takeFrom}
				/>
			</label>
		{/if}
	</div>
	<p class="mt-2 text-sm text-quiet">
		or drop {isSingle ? 'it' : 'files and folders'} here, up to {formatBytes(limit)}{isSingle ? '' : ' each'}
	</p>
</div>
{#if uploads.list.length > 0}
	{#if uploads.summary}<p class="mt-2 text-sm text-quiet" role="status">{uploads.summary}</p>{/if}
	<ul class="mt-3 grid gap-2" aria-label="Uploads">
		{#each uploads.list as entry (entry.id)}
			<li class="text-sm">
				<span class="flex flex-wrap items-baseline justify-between gap-2">
					<bdi class="truncate font-medium">{entry.folder ? `${entry.folder}/` : ''}{entry.name}</bdi>
					<span class="flex gap-3">
						{#if entry.state === 'going'}
							<button class="cursor-pointer underline" onclick={entry.pause}>Pause</button>
						{:else if entry.state === 'paused'}
							<button class="cursor-pointer underline" onclick={entry.resume}>Go on</button>
						{/if}
						{#if entry.state === 'going' || entry.state === 'paused' || entry.state === 'waiting'}
							<button class="cursor-pointer underline" onclick={entry.stop}>Stop</button>
						{/if}
					</span>
				</span>
				{#if entry.state === 'refused'}
					<p role="alert" class="font-medium text-brick">{entry.problem}</p>
				{:else if entry.state === 'done'}
					<p role="status">Received.</p>
				{:else}
					{#if entry.problem}<p role="alert" class="font-medium text-gorse">{entry.problem}</p>{/if}
					<Progress
						value={entry.percent}
						label={entry.state === 'paused'
							? 'Paused'
							: entry.state === 'waiting'
								? 'Waits its turn'
								: 'Sent'}
					/>
				{/if}
			</li>
		{/each}
	</ul>
{/if}
