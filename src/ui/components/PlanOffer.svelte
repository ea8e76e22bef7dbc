<script lang="ts">
	import { formatMoney } from '$core/billing/money';
	import { PERIOD_WORDS } from '$ui/wording/time';
	import Moment from './Moment.svelte';

	/** A plan as it is offered: what you get, what it costs, and the way on. */
	let {
		plan,
		action,
		opensAt = null,
		zone = 'UTC'
	}: {
		plan: {
			name: string;
			slug: string;
			lines: string[];
			amountMinor: number;
			currency: string;
			unit: 'month' | 'year';
		};
		action: { label: string; href: string };
		/** When it would open what is looked at, if not at once. */
		opensAt?: number | null;
		zone?: string;
	} = $props();
</script>

<article class="sheet flex flex-col gap-3 p-5 pt-6">
	<h3 class="text-lg font-semibold"><a class="text-ink" href="/plans/{plan.slug}">{plan.name}</a></h3>
	<p>
		<span class="price text-xl font-semibold"
			>{formatMoney({ minor: plan.amountMinor, currency: plan.currency })}</span
		>
		<span class="text-quiet">{PERIOD_WORDS[plan.unit]}</span>
	</p>
	{#if opensAt !== null}
		<p>Opens this on <Moment at={opensAt} {zone} />, if you join now.</p>
	{/if}
	{#if plan.lines.length > 0}
		<ul class="reading grid gap-1 text-base">
			{#each plan.lines as line (line)}<li class="border-l-2 border-moss pl-3">{line}</li>{/each}
		</ul>
	{/if}
	<a class="button-main mt-auto self-start" href={action.href}>{action.label}</a>
</article>
