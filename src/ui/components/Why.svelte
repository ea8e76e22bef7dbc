<script lang="ts">
	import { SvelteURLSearchParams } from 'svelte/reactivity';
	import { page } from '$app/state';
	import type { Verdict } from '$core/access/decision';
	import Popover from '$ui/parts/Popover.svelte';
	import type { Sentence } from '$ui/wording/decision';
	import StateMark from './StateMark.svelte';

	/** A state mark that opens to the steps that led to it: those it came with, or else they are asked for. */
	let {
		verdict,
		note = null,
		why,
		ask
	}: { verdict: Verdict; note?: string | null } & (
		| { why: Sentence[]; ask?: never }
		| { why?: never; ask: { member: string | null; plan?: string; item: string; at: number } }
	) = $props();

	let asked = $state<Sentence[] | null>(null);
	let problem = $state('');
	const shown = $derived(why ?? asked);

	async function load(isOpen: boolean) {
		if (!isOpen || !ask) return;
		const { member, plan, item, at } = ask;
		const query = new SvelteURLSearchParams({ item, asof: String(at) });
		if (member) query.set('member', member);
		if (plan) query.set('plan', plan);
		for (const name of ['rules', 'assume']) {
			const value = page.url.searchParams.get(name);
			if (value) query.set(name, value);
		}
		const response = await fetch(`/desk/check/why?${query}`).catch(() => null);
		if (response?.ok) asked = ((await response.json()) as { why: Sentence[] }).why;
		else problem = 'The steps could not be read. Close this and open it again.';
	}
</script>

<Popover
	title="Why"
	showsTitle
	triggerClass="cursor-pointer rounded-sheet underline decoration-dotted underline-offset-4 hover:bg-sunk"
	class="w-96 text-sm"
	onOpen={load}
>
	{#snippet trigger()}<StateMark {verdict} {note} /><span class="sr-only">, why?</span>{/snippet}
	{#if shown}
		<ol class="grid list-decimal gap-1.5 pl-5">
			{#each shown as { text, href, hrefLabel }, i (i)}
				<li>
					{text}
					{#if href}<a {href}>{hrefLabel}</a>{/if}
				</li>
			{/each}
		</ol>
	{:else}<p role="status">{problem || 'Reading the steps.'}</p>{/if}
</Popover>
