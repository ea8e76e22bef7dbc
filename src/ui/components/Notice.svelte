<script lang="ts">
	import type { Verdict } from '$core/access/decision';
	import { formatMoney } from '$core/billing/money';
	import type { Standing } from '$core/access/model';
	import type { ChipName, RichText } from '$core/access/rich-text';
	import { turnAwayTitle } from '$ui/wording/decision';
	import { formatZoned, PERIOD_WORDS } from '$ui/wording/time';
	import Moment from './Moment.svelte';
	import RichTextView from './RichTextView.svelte';
	import StateMark from './StateMark.svelte';

	/** What somebody gets who is turned away: the state, why, the publisher's words, and the ways on. */
	let {
		denial,
		title,
		member,
		plans,
		zone,
		path
	}: {
		denial: {
			verdict: Exclude<Verdict, 'open'>;
			standing: Standing;
			text: RichText;
			opensAt: number | null;
			isHeldInVain: boolean;
		};
		title: string;
		/** The name of whoever is signed in. */
		member: string | null;
		plans: {
			plan: { name: string; amountMinor: number; currency: string; unit: 'month' | 'year' };
			action: { href: string };
			opensAt: number | null;
		}[];
		zone: string;
		path: string;
	} = $props();

	const opensOn = $derived(denial.opensAt === null ? null : formatZoned(denial.opensAt, zone));
</script>

{#snippet chip(name: ChipName)}
	{#if name === 'item'}{title}
	{:else if name === 'member'}{member ?? 'you'}
	{:else if name === 'opens-on'}{opensOn ?? 'later'}
	{:else}{#each plans as { plan, action, opensAt }, n (plan.name)}{n > 0 ? ', ' : ''}<a href={action.href}
				>{plan.name}</a
			>
			({formatMoney({ minor: plan.amountMinor, currency: plan.currency })}
			{PERIOD_WORDS[plan.unit]}{#if opensAt !== null}, opens <Moment at={opensAt} {zone} />{/if}){:else}no
			plan that is on sale{/each}{/if}
{/snippet}

<section class="sheet p-6 pt-7" aria-label="Why this is closed">
	{#if denial.standing !== 'stranger' || denial.verdict !== 'shut'}
		<p class="mb-2"><StateMark verdict={denial.verdict} at={denial.opensAt} {zone} /></p>
	{/if}
	<h2 class="mb-2">
		{denial.isHeldInVain ? 'Your plan ends before this opens' : turnAwayTitle(denial.standing)}
	</h2>
	{#if denial.isHeldInVain}
		<p>
			What you have bought runs out before this would open for you, so it does not open while that stays so.
		</p>
	{/if}
	<RichTextView text={denial.text} {chip} />
	{#if denial.standing === 'stranger'}
		<p class="mt-4">
			Have you bought it already? <a href="/sign-in?next={encodeURIComponent(path)}">Sign in</a>
		</p>
	{/if}
</section>
