<script lang="ts">
	import type { Going } from '$ui/uploads.svelte';
	import Progress from '$ui/parts/Progress.svelte';

	/** Files on their way up: how far each is, what can be done with it, and what it has become. */
	let { list, label, class: classes = 'mt-3' }: { list: Going[]; label: string; class?: string } = $props();

	const WORDS = { paused: 'Paused', waiting: 'Waits its turn', going: 'Sent' };
</script>

<ul class="grid gap-2 {classes}" aria-label={label}>
	{#each list as entry (entry.id)}
		<li class="text-sm">
			<span class="flex flex-wrap items-baseline justify-between gap-2">
				<bdi class="truncate font-medium">{entry.folder ? `${entry.folder}/` : ''}{entry.name}</bdi>
				<span class="flex gap-3">
					{#if entry.state === 'going'}
						<button type="button" class="cursor-pointer underline" onclick={entry.pause}>Pause</button>
					{:else if entry.state === 'paused'}
						<button type="button" class="cursor-pointer underline" onclick={entry.resume}>Go on</button>
					{/if}
					{#if entry.state === 'going' || entry.state === 'paused' || entry.state === 'waiting'}
						<button type="button" class="cursor-pointer underline" onclick={entry.stop}>Stop</button>
					{/if}
				</span>
			</span>
			{#if entry.state === 'refused'}
				<p role="alert" class="font-medium text-brick">{entry.problem}</p>
			{:else if entry.state === 'done'}
				<p role="status">
					Received.
					{#if entry.itemId}<a href="/desk/library/{entry.itemId}"
							>Open it<span class="sr-only">: {entry.name}</span></a
						>
						<a class="ml-2" href="/desk/fences/new?item={entry.itemId}"
							>Fence it<span class="sr-only">: {entry.name}</span></a
						>
						<a class="ml-2" href="/desk/library/{entry.itemId}#publish"
							>Publish it<span class="sr-only">: {entry.name}</span></a
						>{/if}
				</p>
			{:else}
				{#if entry.problem}<p role="alert" class="font-medium text-gorse">{entry.problem}</p>{/if}
				<Progress value={entry.percent} label={WORDS[entry.state]} />
			{/if}
		</li>
	{/each}
</ul>
