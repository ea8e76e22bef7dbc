<script lang="ts">
	/** Drop or choose files and folders. */
	import FolderUp from '@lucide/svelte/icons/folder-up';
	import Upload from '@lucide/svelte/icons/upload';
	import { untrack } from 'svelte';
	import { chosen, dropped, summaryOf, useUploads, type Chosen } from '$ui/uploads.svelte';
	import { formatBytes } from '$ui/wording/time';
	import UploadList from './UploadList.svelte';

	let {
		limit,
		label = 'Bring in files',
		isSingle = false,
		isCompact = false,
		metadata = {},
		resumes = null,
		onDone
	}: {
		limit: number;
		label?: string;
		/** One file, without its folder. */
		isSingle?: boolean;
		/** A button among others; files are dropped anywhere on the page. */
		isCompact?: boolean;
		/** What the server is told of each. */
		metadata?: Record<string, string>;
		/** An upload that was left: only its own file goes on with it. */
		resumes?: { id: string; bytes: number } | null;
		onDone: () => void;
	} = $props();

	const uploads = useUploads();
	const box = $props.id();
	$effect(() => uploads.lookAt(box));
	const own = $derived(uploads.of(box));
	const summary = $derived(summaryOf(own));
	let isOver = $state(false);
	/** What is dropped anywhere on the page is for it. */
	const isAnywhere = $derived(isCompact && resumes === null);

	const hasFiles = (event: DragEvent) => event.dataTransfer?.types.includes('Files') ?? false;
	function hover(event: DragEvent) {
		if (!hasFiles(event)) return;
		event.preventDefault();
		isOver = true;
	}
	/** From one part of the page to another is no leaving. */
	function leave({ relatedTarget, currentTarget }: DragEvent) {
		const isWithin =
			relatedTarget instanceof Node && currentTarget instanceof Node && currentTarget.contains(relatedTarget);
		if (!isWithin) isOver = false;
	}
	function drop(event: DragEvent) {
		if (!hasFiles(event) || !event.dataTransfer) return;
		event.preventDefault();
		isOver = false;
		void dropped(event.dataTransfer).then(take);
	}

	function take(files: Chosen[]) {
		const some = isSingle ? files.slice(0, 1).map(({ file }) => ({ file, folder: '' })) : files;
		uploads.add(some, { box, limit, metadata, onDone, resumes });
	}
	/** As soon as the scripts run, too: what was chosen before is not lost. */
	function takeFrom(input: HTMLInputElement) {
		if (!input.files?.length) return;
		const files = chosen(input.files);
		input.value = '';
		untrack(() => take(files));
	}
</script>

<svelte:document
	ondragover={isAnywhere ? hover : undefined}
	ondragleave={isAnywhere ? leave : undefined}
	ondrop={isAnywhere ? drop : undefined}
/>
{#if isAnywhere && isOver}<p
		class="pointer-events-none fixed inset-4 z-40 flex items-center justify-center rounded-sheet border-2 border-dashed border-moss bg-moss-wash/90 text-xl font-semibold text-moss"
		role="status"
	>
		Drop files and folders to bring them in, up to {formatBytes(limit)} each
	</p>{/if}

<div
	role="group"
	aria-label={label}
	class="{isCompact ? 'rounded-sheet' : 'rounded-sheet border-2 border-dashed p-4 text-center'} {isOver
		? 'border-moss bg-moss-wash'
		: 'border-line'}"
	ondragover={isCompact ? undefined : hover}
	ondragleave={isCompact ? undefined : leave}
	ondrop={isCompact ? undefined : drop}
>
	<div class="flex flex-wrap justify-center gap-2">
		<label
			class="{resumes || (isSingle && !isCompact)
				? 'button-quiet'
				: 'button-main'} focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-focus"
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
	{#if !isCompact}<p class="mt-2 text-sm text-quiet">
			or drop {isSingle ? 'it' : 'files and folders'} here, up to {formatBytes(limit)}{isSingle
				? ''
				: ' each'}
		</p>{/if}
</div>
{#if own.length > 0}
	{#if summary && !isCompact}<p class="mt-2 text-sm text-quiet" role="status">{summary}</p>{/if}
	<UploadList list={own} label="Uploads" class={isCompact ? 'order-last basis-full' : 'mt-3'} />
{/if}
