<script lang="ts" module>
	import type { Snippet } from 'svelte';

	/** A button that sends what is chosen. */
	export type Press = Snippet<
		[{ label: string; did: string; action?: string; isHeld?: boolean; isQuiet?: boolean }]
	>;
</script>

<script lang="ts">
	import Popover from '$ui/parts/Popover.svelte';
	import type { ChosenRows } from '$ui/chosen-rows.svelte';
	import ChosenFoot from './ChosenFoot.svelte';

	/** What can be done with those that are chosen of a list of several pages, at its foot: each tool asks what it needs. */
	let {
		chosen,
		total,
		ask,
		what,
		action,
		zone,
		tools,
		sent,
		others,
		titleOf,
		onOpen
	}: {
		chosen: ChosenRows;
		total: number;
		/** What the list is of, as its address says it. */
		ask: string;
		/** What they are: one, and many. */
		what: readonly [one: string, many: string];
		/** Where a button sends that names nothing else. */
		action: string;
		zone: string;
		tools: { label: string; body: Snippet<[Press]> }[];
		/** What every button sends along, beside what is chosen. */
		sent: Snippet;
		/** Further buttons. */
		others?: Snippet;
		/** @param many what is chosen, in words */
		titleOf: (did: string, many: string) => string;
		/** Each tool begins with nothing typed: what was chosen for others is not theirs. */
		onOpen: () => void;
	} = $props();

	const own = $props.id();
	let open = $state<string | null>(null);
	const size = $derived(chosen.isAll ? total : chosen.ids.size);
	const many = $derived(size === 1 ? `one ${what[0]}` : `${size} ${what[1]}`);
	const isBeyond = $derived(chosen.ids.size > 0 && chosen.ids.size < total && !chosen.isAll);

	function show(label: string | null) {
		if (label !== null) onOpen();
		open = label;
	}
</script>

{#snippet all()}
	<input type="hidden" name="ids" value={chosen.isAll ? '' : [...chosen.ids].join(',')} />
	{#if chosen.isAll}<input type="hidden" name="ask" value={ask} />{/if}
	{@render sent()}
{/snippet}

{#snippet press(button: Parameters<Press>[0])}
	<button
		form={own}
		formaction={button.action ?? action}
		name="do"
		value={button.did}
		disabled={button.isHeld}
		class={button.isQuiet ? 'button-quiet' : 'button-main'}>{button.label}</button
	>
{/snippet}

{#snippet bar()}
	{#each tools as { label, body } (label)}
		<Popover
			title={label}
			side="top"
			triggerClass="bar-tool"
			bind:isOpen={() => open === label, (isOpen) => show(isOpen ? label : null)}
		>
			{#snippet trigger()}{label} …{/snippet}
			<div class="grid gap-3">{@render body(press)}</div>
		</Popover>
	{/each}
	{@render others?.()}
{/snippet}

{#snippet more()}
	{#if isBeyond}<button type="button" class="bar-tool" onclick={() => chosen.all()}>Choose all {total}</button
		>{/if}
{/snippet}

<ChosenFoot
	form={own}
	{size}
	titleOf={(did) => titleOf(did, many)}
	{action}
	{zone}
	sent={all}
	tools={bar}
	{more}
	onPress={() => (open = null)}
	onNone={() => chosen.none()}
/>
