<script lang="ts">
	import ArrowDown from '@lucide/svelte/icons/arrow-down';
	import ArrowUp from '@lucide/svelte/icons/arrow-up';
	import { tick } from 'svelte';
	import { enhance } from '$app/forms';
	import { priceText } from '$words/price';
	import { useWords } from '$ui/words';

	let { data } = $props();

	const words = useWords();

	/** What is sold alone is offered where it is, whatever the order. */
	let plans = $derived(data.plans.filter(({ isAlone }) => !isAlone));
	let said = $state('');

	/** Its button keeps the keyboard, where it stands then. */
	async function move(from: number, by: 1 | -1, { currentTarget }: { currentTarget: HTMLElement }) {
		const to = from + by;
		const moved = [...plans];
		const [one] = moved.splice(from, 1);
		if (!one || to < 0 || to >= plans.length) return;
		moved.splice(to, 0, one);
		plans = moved;
		said = `${one.name} is ${to + 1} of ${plans.length}.`;
		await tick();
		currentTarget.focus();
	}
</script>

<svelte:head><title>The order of plans · Desk</title></svelte:head>

<form method="post" class="sheet max-w-2xl p-6 pt-7" use:enhance>
	<h2>In which order are they offered?</h2>
	<p class="mt-1 text-quiet">
		On the plan page and in notices. Whoever signs in lands at the first thing of the first of these that they
		hold.
	</p>
	<ol class="mt-4 divide-y divide-line border-y border-line">
		{#each plans as plan, n (plan.id)}
			<li class="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
				<input type="hidden" name="plan" value={plan.id} />
				<span class="w-6 text-right text-quiet">{n + 1}</span>
				<span class="font-medium">{plan.name}</span>
				<span class="mr-auto text-sm text-quiet">{priceText(words(), plan.terms)}</span>
				<span class="flex gap-2">
					<button
						type="button"
						class="button-quiet"
						aria-label="{plan.name} up"
						aria-disabled={n === 0}
						onclick={(event) => void move(n, -1, event)}><ArrowUp size={16} aria-hidden="true" /></button
					>
					<button
						type="button"
						class="button-quiet"
						aria-label="{plan.name} down"
						aria-disabled={n === plans.length - 1}
						onclick={(event) => void move(n, 1, event)}><ArrowDown size={16} aria-hidden="true" /></button
					>
				</span>
			</li>
		{/each}
	</ol>
	<p class="sr-only" aria-live="polite">{said}</p>
	<p class="mt-5 flex flex-wrap items-center gap-4">
		<button class="button-main">Keep this order</button>
		<a href="/desk/plans">Leave it as it was</a>
	</p>
</form>
