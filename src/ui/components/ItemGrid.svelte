<script lang="ts">
	import type { ComponentProps } from 'svelte';
	import { formatLength } from '$ui/wording/time';
	import WayIn from './WayIn.svelte';
	import { useWords } from '$ui/words';

	/** Items as the front lists them: picture, title, state. */
	let {
		items,
		zone
	}: {
		items: (ComponentProps<typeof WayIn>['entry'] & {
			id: string;
			title: string;
			address: string | null;
			seconds: number | null;
			poster: string | null;
		})[];
		zone: string;
	} = $props();

	const words = useWords();
</script>

{#if items.length === 0}
	<p class="sheet p-6 pt-7">{words().say('site.nothing-yet')}</p>
{:else}
	<ul class="grid gap-5 sm:grid-cols-2 lg:grid-cols-3">
		{#each items as item (item.id)}
			<li class="sheet flex flex-col">
				<a href={item.address} class="block grow text-ink no-underline hover:underline">
					{#if item.poster}
						<img
							src={item.poster}
							alt=""
							class="aspect-video w-full rounded-t-sheet object-cover"
							loading="lazy"
						/>
					{/if}
					<span class="block px-4 pt-4 font-semibold">{item.title}</span>
				</a>
				<p class="mt-auto flex items-center justify-between gap-3 px-4 pt-1 pb-3 text-sm">
					<WayIn entry={item} {zone} />
					{#if item.seconds}<span class="text-quiet">{formatLength(item.seconds)}</span>{/if}
				</p>
			</li>
		{/each}
	</ul>
{/if}
