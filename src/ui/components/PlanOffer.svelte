<script lang="ts">
	import { formatMoney } from '$core/billing/money';
	import { PERIOD_WORDS } from '$ui/wording/time';

	/** A plan as it is offered: what you get, what it costs, and the way on. */
	let {
		plan,
		action
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
	} = $props();
</script>

<article class="sheet flex flex-col gap-3 p-5 pt-6">
	<h3 class="text-lg font-semibold"><a class="text-ink" href="/plans/{plan.slug}">{plan.name}</a></h3>
	<p>
		<span class="text-xl font-semibold"
			>{formatMoney({ minor: plan.amountMinor, currency: plan.currency })}</span
		>
		<span class="text-quiet">{PERIOD_WORDS[plan.unit]}</span>
	</p>
	{#if plan.lines.length > 0}
		<ul class="reading grid gap-1 text-base">
			{#each plan.lines as line (line)}<li class="border-l-2 border-moss pl-3">{line}</li>{/each}
		</ul>
	{/if}
	<a class="button-main mt-auto self-start" href={action.href}>{action.label}</a>
</article>
