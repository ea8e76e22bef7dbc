<script lang="ts">
	/** The sides of Insight, and the span and currency that all of them are looked at in. */
	import { page } from '$app/state';
	import type { Span } from '$core/measure/spans';
	import { lastMonths } from '$core/measure/spans';
	import MomentField from '$ui/fields/MomentField.svelte';

	let { asked }: { asked: { span: Span; today: string; currency: string; currencies: string[] } } = $props();

	const SIDES = [
		['Recurring income', '/desk/insight'],
		['What earns', '/desk/insight/earned'],
		['Who stays', '/desk/insight/stays'],
		['First stretches and declined cards', '/desk/insight/outcomes']
	] as const;

	/** What is asked for stays what it is from side to side. */
	const asking = (change: Record<string, string>) =>
		'?' + new URLSearchParams({ ...asked.span, currency: asked.currency, ...change }).toString();
	/** What a figure is made of has the figure's span, and says it. */
	const isRows = $derived(/\/(?:moved|rows)$/.test(page.url.pathname));
	/** By what earnings are told apart stays on its side. */
	const by = $derived(page.url.searchParams.get('by'));
	const here = (change: Record<string, string>) => asking(by === null ? change : { by, ...change });
	const year = $derived(asked.today.slice(0, 4));
	const spans = $derived([
		['12 months', lastMonths(12, asked.today)],
		['24 months', lastMonths(24, asked.today)],
		['this month', lastMonths(1, asked.today)],
		[year, { from: `${year}-01-01`, to: asked.today }]
	] as const);
	const isAsked = ({ from, to }: Span) => from === asked.span.from && to === asked.span.to;
</script>

<nav class="mb-4 flex flex-wrap gap-x-5 gap-y-1 border-b border-line" aria-label="Sides of Insight">
	{#each SIDES as [label, href] (href)}
		{@const isHere =
			page.url.pathname === href || (href !== '/desk/insight' && page.url.pathname.startsWith(href))}
		<a
			href={href + asking({})}
			aria-current={isHere ? 'page' : undefined}
			class="-mb-px border-b-2 pb-2 no-underline {isHere
				? 'border-moss font-semibold text-ink'
				: 'border-transparent text-quiet hover:text-ink'}">{label}</a
		>
	{/each}
	<a class="ml-auto pb-2" href="/desk/sales/tax">Tax by country</a>
</nav>
{#if !isRows}
	<form method="get" class="mb-4 flex flex-wrap items-end gap-x-3 gap-y-2">
		{#if by !== null}<input type="hidden" name="by" value={by} />{/if}
		<MomentField name="from" label="From" to="day" from={asked.span.from} />
		<MomentField name="to" label="to" to="day" from={asked.span.to} />
		<input type="hidden" name="currency" value={asked.currency} />
		<button class="button-quiet">Show</button>
		<p class="flex flex-wrap gap-x-3 pb-2">
			{#each spans as [label, span] (label)}
				<a
					href={here({ ...span })}
					aria-current={isAsked(span) ? 'true' : undefined}
					class={isAsked(span) ? 'font-semibold text-ink' : 'text-quiet'}>{label}</a
				>
			{/each}
		</p>
		{#if asked.currencies.length > 1}
			<p class="ml-auto flex flex-wrap gap-x-3 pb-2">
				{#each asked.currencies as currency (currency)}
					<a
						href={here({ currency })}
						aria-current={currency === asked.currency ? 'true' : undefined}
						class={currency === asked.currency ? 'font-semibold text-ink' : 'text-quiet'}>{currency}</a
					>
				{/each}
			</p>
		{/if}
	</form>
{/if}
