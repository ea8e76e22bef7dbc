<script lang="ts">
	import type { Terms } from '$core/billing/terms';
	import { priceText } from '$words/price';
	import type { Verdict } from '$core/access/decision';
	import type { Standing } from '$core/access/model';
	import type { ChipName, RichText } from '$core/text/rich-text';
	import Field from '$ui/fields/Field.svelte';
	import RichTextView from './RichTextView.svelte';
	import StateMark from './StateMark.svelte';
	import Words from './Words.svelte';
	import { useWords } from '$ui/words';

	/** What somebody gets who is turned away: the state, why, the publisher's words, and the ways on. */
	let {
		denial,
		title,
		member,
		plans,
		otherWays = { code: false, account: false },
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
			plan: { name: string; terms: Terms };
			action: { href: string };
			opensAt: number | null;
		}[];
		/** Whether a code, or a free account, would open it. */
		otherWays?: { code: boolean; account: boolean } | undefined;
		zone: string;
		path: string;
	} = $props();

	const words = useWords();

	/** What stands in place of the plans where none opens it. */
	const noPlan = $derived(
		otherWays.account ? 'closed.an-account' : otherWays.code ? 'closed.a-code' : 'closed.no-plan'
	);
	const opensOn = $derived(denial.opensAt === null ? null : words().moment(denial.opensAt, zone));
</script>

{#snippet chip(name: ChipName)}
	{#if name === 'item'}{title}
	{:else if name === 'member'}{member ?? words().say('closed.you')}
	{:else if name === 'opens-on'}{opensOn ?? words().say('closed.later')}
	{:else}{#each plans as { plan, action, opensAt }, n (plan.name)}{n > 0 ? ', ' : ''}<a href={action.href}
				>{plan.name}</a
			>
			({priceText(words(), plan.terms)}{#if opensAt !== null}, {words().say('closed.opens', {
					when: words().day(opensAt, zone)
				})}{/if}){:else}{words().say(noPlan)}{/each}{/if}
{/snippet}

{#snippet signIn()}<a href="/sign-in?next={encodeURIComponent(path)}">{words().say('site.sign-in')}</a
	>{/snippet}

{#snippet find()}<a href="/sign-in?find&next={encodeURIComponent(path)}">{words().say('find.here')}</a
	>{/snippet}

<section class="sheet p-6 pt-7" aria-label={words().say('closed.why')}>
	{#if denial.standing !== 'stranger' || denial.verdict !== 'shut'}
		<p class="mb-2"><StateMark verdict={denial.verdict} at={denial.opensAt} {zone} /></p>
	{/if}
	<h2 class="mb-2">
		{words().say(denial.isHeldInVain ? 'closed.in-vain' : `closed.${denial.standing}`)}
	</h2>
	{#if denial.isHeldInVain}
		<p>{words().say('closed.in-vain-text')}</p>
	{/if}
	<RichTextView text={denial.text} {chip} />
	{#if otherWays.account}
		<form
			method="post"
			action="/sign-in?/join&next={encodeURIComponent(path)}"
			class="mt-4 flex flex-wrap items-end gap-2"
			novalidate
		>
			<Field id="join-email" name="email" label={words().say('closed.join')}>
				{#snippet children(props)}<input
						class="input w-64"
						type="email"
						autocomplete="email"
						{...props}
					/>{/snippet}
			</Field>
			<button class="button-main">{words().say('closed.join-do')}</button>
		</form>
	{/if}
	{#if otherWays.code}
		<form method="post" action="/code" class="mt-4 flex flex-wrap items-end gap-2" novalidate>
			<input type="hidden" name="next" value={path} />
			<Field id="code-here" name="code" label={words().say('closed.code')}>
				{#snippet children(props)}<input class="input w-48" autocomplete="off" {...props} />{/snippet}
			</Field>
			<button class="button-quiet">{words().say('code.redeem')}</button>
		</form>
	{/if}
	{#if denial.standing === 'stranger'}
		<p class="mt-4"><Words of="closed.bought-already" things={{ signIn, find }} /></p>
	{/if}
</section>
