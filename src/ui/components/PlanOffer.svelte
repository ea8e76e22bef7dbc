<script lang="ts">
	import type { Terms } from '$core/billing/terms';
	import type { FrontKey } from '$words/en/front';
	import Moment from './Moment.svelte';
	import Price from './Price.svelte';
	import Words from './Words.svelte';
	import { useWords } from '$ui/words';

	/** A plan as it is offered: what you get, what it costs, and the way on. */
	let {
		plan,
		action,
		code = null,
		opensAt = null,
		zone,
		included = null,
		givesTo = null
	}: {
		plan: {
			name: string;
			slug: string;
			lines: string[];
			terms: Terms;
			/** For how many buyers the price is, and how many of them may still come; `null`: for all. */
			first: { of: number; left: number } | null;
			others: { terms: Terms; first: { of: number; left: number } | null }[];
			/** The host at which it is bought, where that is another site. */
			elsewhere: string | null;
			/** It opens one thing alone. */
			isAlone: boolean;
			/** When its selling closes, where it does. */
			closesAt: number | null;
			/** When it begins for all who buy it, where that is still to come. */
			begins: number | null;
			/** When it begins for the reader, who has it. */
			yoursFrom: number | null;
		};
		action: { kind: FrontKey; href: string };
		/** That goes along to the plan's page. */
		code?: string | null;
		/** When it would open what is looked at, if not at once. */
		opensAt?: number | null;
		zone: string;
		/** All that it opens is open by what the reader holds. */
		included?: { by: string | null } | null;
		/** Where it is bought for somebody else; `null`: it is not. */
		givesTo?: string | null;
	} = $props();

	const words = useWords();
</script>

{#snippet when()}<Moment at={opensAt ?? 0} {zone} />{/snippet}
{#snippet closes()}<Moment at={plan.closesAt ?? 0} {zone} precise />{/snippet}
{#snippet begins()}<Moment at={plan.yoursFrom ?? plan.begins ?? 0} {zone} />{/snippet}
{#snippet places(first: typeof plan.first)}{#if first}<span class="block text-sm text-quiet"
			>{words().say('plan.first', first)}</span
		>{/if}{/snippet}

<article class="sheet flex flex-col gap-3 p-5 pt-6">
	<h3 class="text-lg font-semibold">
		<a class="text-ink" href="/plans/{plan.slug}{code ? `?code=${code}` : ''}">{plan.name}</a>
	</h3>
	<p>
		<Price terms={plan.terms} class="text-xl font-semibold" />
		{@render places(plan.first)}
		{#each plan.others as { terms, first }, n (n)}
			{#snippet other()}<Price {terms} />{/snippet}
			<span class="block"><Words of="plan.or" things={{ price: other }} /></span>
			{@render places(first)}
		{/each}
	</p>
	{#if opensAt !== null}
		<p><Words of="plan.opens-this" things={{ when }} /></p>
	{/if}
	{#if plan.yoursFrom !== null}
		<p class="border-l-3 border-moss bg-moss-wash px-3 py-2">
			<Words of="plan.yours-from" things={{ when: begins }} />
		</p>
	{:else if plan.begins !== null && action.kind !== 'plan.open'}
		<p><Words of="plan.begins" things={{ when: begins }} /></p>
	{/if}
	{#if plan.closesAt !== null && action.kind !== 'plan.open'}
		<p class="text-sm"><Words of="plan.sold-until" things={{ when: closes }} /></p>
	{/if}
	{#if plan.isAlone}<p>{words().say('plan.alone')}</p>{/if}
	{#if plan.lines.length > 0}
		<ul class="reading grid gap-1 text-base">
			{#each plan.lines as line (line)}<li class="border-l-2 border-moss pl-3">{line}</li>{/each}
		</ul>
	{/if}
	{#if included}
		<p class="border-l-3 border-moss bg-moss-wash px-3 py-2">
			{words().say(included.by === null ? 'plan.included' : 'plan.included-by', { plan: included.by ?? '' })}
		</p>
	{/if}
	<p class="mt-auto flex flex-wrap items-center gap-3">
		<a class={included && action.kind !== 'plan.open' ? 'button-quiet' : 'button-main'} href={action.href}
			>{words().say(action.kind, { plan: plan.name })}</a
		>
		{#if givesTo}<a href={givesTo}>{words().say('plan.give')}</a>{/if}
	</p>
	{#if plan.elsewhere}<p class="text-sm text-quiet">
			{words().say('plan.elsewhere', { host: plan.elsewhere })}
		</p>{/if}
</article>
