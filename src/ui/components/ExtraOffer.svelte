<script lang="ts">
	import type { Terms } from '$core/billing/terms';
	import Moment from './Moment.svelte';
	import Price from './Price.svelte';
	import Words from './Words.svelte';
	import { useWords } from '$ui/words';

	/** What is offered besides to whoever has just paid, with what became of what they took; works without script. */
	let {
		next,
		taken,
		problem,
		zone
	}: {
		next: {
			id: string;
			planName: string;
			lines: string[];
			words: string;
			terms: Terms;
			todayMinor: number;
			insteadMinor: number | null;
			next: { at: number; amountMinor: number } | null;
			ending: string;
		} | null;
		taken: {
			planName: string;
			amount: { minor: number; currency: string };
			became: 'bought' | 'declined' | 'waits' | 'had-already';
		}[];
		/** Why the press came to nothing, by its key. */
		problem: string | null;
		zone: string;
	} = $props();

	const words = useWords();
	let isSent = $state(false);
	const money = (minor: number) => words().money(minor, next?.terms.currency ?? '');
</script>

<section class="grid max-w-xl gap-4" aria-label={words().say('extra.title')}>
	{#each taken as { planName, amount, became }, n (n)}
		<p
			role="status"
			class="border-l-4 px-4 py-2 {became === 'bought'
				? 'border-moss bg-moss-wash'
				: 'border-gorse bg-gorse-wash'}"
		>
			{words().say(`extra.${became}`, {
				plan: planName,
				amount: words().money(amount.minor, amount.currency)
			})}
		</p>
	{/each}
	{#if next}
		{@const following = next.next}
		{#snippet then()}<strong class="price">{money(following?.amountMinor ?? 0)}</strong>{/snippet}
		{#snippet day()}<Moment at={following?.at ?? 0} {zone} />{/snippet}
		<form
			method="post"
			action="?/extra"
			class="sheet grid gap-3 p-6 pt-7"
			onsubmit={(event) => {
				if (isSent) event.preventDefault();
				isSent = true;
			}}
		>
			<p class="text-sm text-quiet">{words().say('extra.title')}</p>
			<h2>{next.planName}</h2>
			{#if next.words}<p class="reading whitespace-pre-line">{next.words}</p>{/if}
			{#if next.lines.length > 0}
				<ul class="reading grid gap-1 text-base">
					{#each next.lines as line (line)}<li class="border-l-2 border-moss pl-3">{line}</li>{/each}
				</ul>
			{/if}
			<p>
				<Price terms={next.terms} class="font-semibold" />
				{#if next.insteadMinor !== null}<span class="block text-sm text-quiet"
						>{words().say('extra.instead', { amount: money(next.insteadMinor) })}</span
					>{/if}
			</p>
			{#if following}<p class="text-quiet">
					<Words of="checkout.next" things={{ amount: then, day }} />
				</p>{/if}
			{#if problem}<p role="alert" class="font-medium text-brick">{words().maybe(problem)}</p>{/if}
			<input type="hidden" name="extra" value={next.id} />
			<input type="hidden" name="seen" value={next.todayMinor} />
			<p class="flex flex-wrap items-center gap-3">
				<button class="button-main" name="takes" value="yes" aria-disabled={isSent}
					>{next.todayMinor > 0
						? words().say('extra.take', { amount: money(next.todayMinor) })
						: words().say('extra.take-free')}</button
				>
				<button class="button-quiet" name="takes" value="no" aria-disabled={isSent}
					>{words().say('extra.leave')}</button
				>
			</p>
			<p class="text-sm text-quiet">{words().say('extra.card', { ending: next.ending })}</p>
		</form>
	{/if}
</section>
