<script lang="ts">
	import type { Snippet } from 'svelte';
	import Popover from '$ui/parts/Popover.svelte';
	import ChosenFoot from './ChosenFoot.svelte';

	/** What can be done with what is chosen of a list of sales, at its foot: each tool asks what it needs, and is pressed. */
	let {
		chosen,
		isAll,
		total,
		ask,
		what,
		action,
		zone,
		tools,
		sent,
		titleOf,
		onAll,
		onNone
	}: {
		chosen: ReadonlySet<string>;
		/** All of the list are meant, on whichever page they stand. */
		isAll: boolean;
		total: number;
		/** What the list is of, as its address says it. */
		ask: string;
		/** What they are: one, and many. */
		what: readonly [one: string, many: string];
		action: string;
		zone: string;
		/** Each with its name, its body and what it is sent by. */
		tools: { label: string; action: string; did: string; press: string; body: Snippet; isHeld?: boolean }[];
		/** What every button sends along, beside what is chosen. */
		sent: Snippet;
		titleOf: (did: string, many: string) => string;
		onAll: () => void;
		onNone: () => void;
	} = $props();

	const own = $props.id();
	let open = $state<string | null>(null);
	const size = $derived(isAll ? total : chosen.size);
	const many = $derived(size === 1 ? `one ${what[0]}` : `${size} ${what[1]}`);
	const isBeyond = $derived(chosen.size > 0 && chosen.size < total && !isAll);
</script>

{#snippet all()}
	<input type="hidden" name="ids" value={isAll ? '' : [...chosen].join(',')} />
	{#if isAll}<input type="hidden" name="ask" value={ask} />{/if}
	{@render sent()}
{/snippet}

{#snippet buttons()}
	{#each tools as tool (tool.did)}
		<Popover
			title={tool.label}
			side="top"
			triggerClass="bar-tool"
			bind:isOpen={() => open === tool.did, (isOpen) => (open = isOpen ? tool.did : null)}
		>
			{#snippet trigger()}{tool.label} …{/snippet}
			<div class="grid gap-3">
				{@render tool.body()}
				<button
					form={own}
					formaction={tool.action}
					name="do"
					value={tool.did}
					disabled={tool.isHeld}
					class="button-main">{tool.press}</button
				>
			</div>
		</Popover>
	{/each}
{/snippet}

{#snippet more()}
	{#if isBeyond}<button type="button" class="bar-tool" onclick={onAll}>Choose all {total}</button>{/if}
{/snippet}

<ChosenFoot
	form={own}
	{size}
	titleOf={(did) => titleOf(did, many)}
	{action}
	{zone}
	sent={all}
	tools={buttons}
	{more}
	onPress={() => (open = null)}
	{onNone}
/>
