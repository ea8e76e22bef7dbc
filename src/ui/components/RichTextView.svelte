<script lang="ts">
	import type { Snippet } from 'svelte';
	import type { Block, ChipName, Inline, RichText } from '$core/text/rich-text';

	/** Text of the publisher's, with what its chips stand for. Made of elements only: nothing typed becomes markup. */
	let {
		text,
		chip = undefined,
		headingLevel = 3
	}: { text: RichText; chip?: Snippet<[ChipName]>; headingLevel?: 2 | 3 } = $props();

	/** Links may lead to a block, whatever is written before it later. */
	function anchor({ id }: Block): string | undefined {
		return id === undefined ? undefined : `b-${id}`;
	}
</script>

{#snippet inline(content: Inline[])}
	{#each content as part, n (n)}
		{#if part.type === 'break'}<br />
		{:else if part.type === 'chip'}{@render chip?.(part.name)}
		{:else if part.href}<a href={part.href} rel="noopener">{@render styled(part)}</a>
		{:else}{@render styled(part)}{/if}
	{/each}
{/snippet}

{#snippet styled(part: Extract<Inline, { type: 'text' }>)}
	{#if part.isBold && part.isItalic}<strong><em>{part.text}</em></strong>
	{:else if part.isBold}<strong>{part.text}</strong>
	{:else if part.isItalic}<em>{part.text}</em>
	{:else}{part.text}{/if}
{/snippet}

<div class="reading grid gap-3">
	{#each text as block, n (n)}
		{#if block.type === 'heading'}<svelte:element
				this={`h${headingLevel}`}
				id={anchor(block)}
				class="mt-2 font-sans text-lg font-semibold first:mt-0"
			>
				{@render inline(block.content)}
			</svelte:element>
		{:else if block.type === 'list' && block.isOrdered}
			<ol id={anchor(block)} class="list-decimal pl-6">
				{#each block.items as item, i (i)}<li>{@render inline(item)}</li>{/each}
			</ol>
		{:else if block.type === 'list'}
			<ul id={anchor(block)} class="list-disc pl-6">
				{#each block.items as item, i (i)}<li>{@render inline(item)}</li>{/each}
			</ul>
		{:else}<p id={anchor(block)}>{@render inline(block.content)}</p>{/if}
	{/each}
</div>
