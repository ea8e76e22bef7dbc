<script lang="ts">
	import { SvelteURLSearchParams } from 'svelte/reactivity';
	import { afterNavigate } from '$app/navigation';
	import { page } from '$app/state';
	import type { ItemState } from '$core/access/model';
	import { ITEM_WORDS } from '$ui/wording/library';
	import type { Verdict } from '$core/access/decision';
	import Popover from '$ui/parts/Popover.svelte';
	import type { Mend, Sentence } from '$ui/wording/decision';
	import StateMark from './StateMark.svelte';
	import WhySteps from './WhySteps.svelte';

	/** A state mark that opens to what decided, what can be done about it, and the steps that led there. */
	let {
		verdict,
		note = null,
		state: itemState = 'published',
		ask
	}: {
		verdict: Verdict;
		note?: string | null;
		/** Of what is asked for: what is a draft says so, and not that it is shut. */
		state?: ItemState;
		ask: { member: string | null; plan?: string; item: string; at: number };
	} = $props();

	let shown = $state<{ because: string; mends: Mend[]; why: Sentence[] } | null>(null);
	let problem = $state('');
	let isOpen = $state(false);
	// What can be done may lead to this very page.
	afterNavigate(() => (isOpen = false));

	async function load(isOpen: boolean) {
		if (!isOpen) return;
		const { member, plan, item, at } = ask;
		const query = new SvelteURLSearchParams({ item, asof: String(at) });
		if (member) query.set('member', member);
		if (plan) query.set('plan', plan);
		for (const name of ['rules', 'assume']) {
			const value = page.url.searchParams.get(name);
			if (value) query.set(name, value);
		}
		const response = await fetch(`/desk/check/why?${query}`).catch(() => null);
		if (response?.ok) shown = (await response.json()) as NonNullable<typeof shown>;
		else problem = 'The steps could not be read. Close this and open it again.';
	}
</script>

<Popover
	title="Why"
	side="left"
	triggerClass="cursor-pointer rounded-sheet underline decoration-dotted underline-offset-4 hover:bg-sunk"
	class="w-96 text-sm"
	onOpen={load}
	bind:isOpen
>
	{#snippet trigger()}<StateMark
			{verdict}
			{note}
			label={itemState === 'draft' || itemState === 'archived' ? ITEM_WORDS[itemState] : null}
		/><span class="sr-only">, why?</span>{/snippet}
	{#if shown}
		<WhySteps {...shown} />
	{:else}<p role="status">{problem || 'Reading the steps.'}</p>{/if}
</Popover>
