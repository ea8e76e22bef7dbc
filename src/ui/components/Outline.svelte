<script lang="ts">
	import type { ComponentProps } from 'svelte';
	import type { Outlined } from '$core/library/outline';
	import WayIn from './WayIn.svelte';

	type Entry = ComponentProps<typeof WayIn>['entry'] & {
		id: string;
		title: string;
		address: string | null;
	};

	/** A collection as its page shows it: sections with what is in them, each thing with its state. */
	let { tree, zone }: { tree: Outlined<Entry>[]; zone: string } = $props();
</script>

{#snippet level(entries: Outlined<Entry>[])}
	<ul class="grid gap-1">
		{#each entries as { entry, inside } (entry.id)}
			<li>
				{#if entry.address}
					<span
						class="flex flex-wrap items-center justify-between gap-x-4 border-b border-line py-1.5 text-sm"
					>
						<a href={entry.address} class="py-0.5 text-base">{entry.title}</a>
						<WayIn {entry} {zone} />
					</span>
				{:else}
					<h2 class="mt-4 mb-1">{entry.title}</h2>
				{/if}
				{#if inside.length > 0}
					<div class={entry.address ? 'ml-5' : ''}>{@render level(inside)}</div>
				{/if}
			</li>
		{/each}
	</ul>
{/snippet}

{@render level(tree)}
