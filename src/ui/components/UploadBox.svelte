<script lang="ts">
	/** Drop or choose videos; each goes up in pieces (tus) and goes on after a lost connection. */
	import Upload from '@lucide/svelte/icons/upload';
	import { cleanFileName } from '$core/media/file-name';
	import { formatBytes } from '$ui/wording/time';
	import Progress from './Progress.svelte';

	let { limit, onDone }: { limit: number; onDone: () => void } = $props();

	const CHUNK_BYTES = 8 * 1024 * 1024;
	const RETRY_AFTER_MS = [0, 1000, 3000, 5000, 10_000];

	interface Going {
		id: number;
		name: string;
		percent: number;
		state: 'going' | 'done' | 'refused';
		problem: string;
		stop: () => void;
	}

	let list = $state<Going[]>([]);
	let isOver = $state(false);
	let count = 0;

	async function take(files: FileList | null) {
		for (const file of files ?? []) await send(file);
	}

	async function send(file: File) {
		const id = ++count;
		list.unshift({
			id,
			name: cleanFileName(file.name),
			percent: 0,
			state: 'going',
			problem: '',
			stop: () => {}
		});
		const entry = list.find((other) => other.id === id);
		if (!entry) return;
		const refuse = (problem: string) => Object.assign(entry, { state: 'refused', problem });
		if (file.size === 0) return refuse('This file is empty (0 bytes). Choose the video file again.');
		if (file.size > limit)
			return refuse(`This file has ${formatBytes(file.size)}; the limit is ${formatBytes(limit)}.`);
		const { DetailedError, Upload: TusUpload } = await import('tus-js-client');
		const upload = new TusUpload(file, {
			endpoint: '/desk/uploads',
			chunkSize: CHUNK_BYTES,
			retryDelays: RETRY_AFTER_MS,
			metadata: { filename: file.name },
			// A refusal is final: trying again would only repeat it.
			onShouldRetry: (error) => !isRefusal(error.originalResponse?.getStatus()),
			onProgress: (sent, total) => (entry.percent = Math.round((sent / total) * 100)),
			onSuccess: () => {
				entry.state = 'done';
				onDone();
			},
			onError: (error) => {
				const answer = error instanceof DetailedError ? error.originalResponse : null;
				refuse(
					(isRefusal(answer?.getStatus()) && answer?.getBody().trim()) ||
						'The connection was lost. Drop the file again to go on.'
				);
			}
		});
		entry.stop = () => {
			void upload.abort();
			refuse('Stopped. Drop the file again to go on where it was.');
		};
		const [earlier] = await upload.findPreviousUploads();
		if (earlier) upload.resumeFromPreviousUpload(earlier);
		upload.start();
	}

	function isRefusal(status: number | undefined): boolean {
		return status !== undefined && status >= 400 && status < 500 && status !== 409 && status !== 423;
	}
</script>

<div
	role="group"
	aria-label="Bring in videos"
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
		void take(event.dataTransfer?.files ?? null);
	}}
>
	<label class="button-main focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-focus">
		<Upload size={16} /> Upload a video
		<input
			type="file"
			class="sr-only"
			multiple
			accept="video/*,.mkv"
			onchange={(event) => {
				void take(event.currentTarget.files);
			}}
		/>
	</label>
	<p class="mt-2 text-sm text-quiet">or drop files here, up to {formatBytes(limit)} each</p>
</div>
{#if list.length > 0}
	<ul class="mt-3 grid gap-2" aria-label="Uploads">
		{#each list as entry (entry.id)}
			<li class="text-sm">
				<span class="flex items-baseline justify-between gap-2">
					<bdi class="truncate font-medium">{entry.name}</bdi>
					{#if entry.state === 'going'}<button class="cursor-pointer underline" onclick={entry.stop}
							>Stop</button
						>{/if}
				</span>
				{#if entry.state === 'refused'}
					<p role="alert" class="font-medium text-brick">{entry.problem}</p>
				{:else if entry.state === 'done'}
					<p role="status">Received. It is being prepared.</p>
				{:else}
					<Progress value={entry.percent} label="Sent" />
				{/if}
			</li>
		{/each}
	</ul>
{/if}
