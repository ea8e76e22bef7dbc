<script lang="ts">
	import { postalLines } from '$core/text/postal';
	import ExtraOffer from '$ui/components/ExtraOffer.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Words from '$ui/components/Words.svelte';
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();

	/** Whether something is offered besides, or was taken. */
	const hasExtras = $derived(
		data.extras !== null && (data.extras.next !== null || data.extras.taken.length > 0)
	);
	const isOpen = $derived.by(() => {
		if (data.isSeveral) return data.begins === null ? 'thanks.open-all' : 'thanks.later-all';
		return data.begins === null ? 'thanks.open' : 'thanks.later';
	});
	/** What the button says that leads on. */
	const onTo = $derived.by(() => {
		if (data.kind === 'paid' && data.gift) return 'thanks.gift-see';
		return data.begins === null ? 'thanks.open-it' : 'thanks.to-account';
	});
	const amount = $derived(data.kind === 'paid' ? words().money(data.totalMinor, data.currency) : '');
</script>

<svelte:head><title>{words().say('thanks.title')} · {data.site.name}</title></svelte:head>

<div class="grid items-start gap-6 {hasExtras ? 'md:grid-cols-2' : ''}">
	<div class="sheet max-w-xl p-6 pt-7">
		{#snippet note()}{#if data.postal}
				{@const lines = postalLines(data.postal, words().country(data.postal.country))}
				<p class="mt-4 text-quiet">{words().say('thanks.postal')}</p>
				<p>
					{#each lines as line, n (n)}<span class="block">{line}</span>{/each}
				</p>
			{/if}{#if data.note}
				<p class="reading mt-4 border-l-3 border-moss pl-4 whitespace-pre-line">{data.note}</p>
			{/if}{/snippet}
		{#snippet firstDay()}<Moment at={data.begins ?? 0} zone={data.site.zone} />{/snippet}
		{#snippet begins()}<p class="mt-2"><Words of="thanks.begins" things={{ day: firstDay }} /></p>{/snippet}
		{#if data.kind === 'free'}
			<h1>{words().say(data.landing === null ? 'thanks.free' : isOpen, { plan: data.planName })}</h1>
			{#if data.begins !== null}{@render begins()}{/if}
			{@render note()}
			{#if data.landing !== null}
				<p class="mt-5">
					<a class="button-main" href={data.landing}
						>{words().say(data.begins === null ? 'thanks.open-free' : 'thanks.to-account')}</a
					>
				</p>
			{:else if data.mayOpen && !(form && 'isByMail' in form)}
				<p class="mt-2">{words().say('thanks.free-text', { address: data.email })}</p>
				<form method="post" action="?/open" class="mt-5">
					<button class="button-main">{words().say('thanks.open-free')}</button>
				</form>
			{:else}
				<p class="mt-4" role="status">{words().say('thanks.free-mailed', { address: data.email })}</p>
				<p class="mt-3"><a href="/sign-in">{words().say('thanks.no-mail')}</a></p>
			{/if}
		{:else}
			{#if data.isGivenBack}
				<h1>{words().say('thanks.had-already', { plan: data.planName })}</h1>
				<p class="mt-2">{words().say('thanks.had-already-text', { amount })}</p>
			{:else if data.gift}
				{@const { email: address, tellAt, isTold } = data.gift}
				{#snippet day()}<Moment at={tellAt} zone={data.site.zone} />{/snippet}
				<h1>{words().say('thanks.gift')}</h1>
				<p class="mt-2">{words().say('thanks.gift-paid', { amount, number: data.number })}</p>
				<p class="mt-2">
					{#if isTold}{words().say('thanks.gift-now', { address })}
					{:else}<Words of="thanks.gift-later" values={{ address }} things={{ day }} />{/if}
					{words().say('thanks.gift-account')}
				</p>
			{:else if data.isIn}
				<h1>{words().say(isOpen, { plan: data.planName })}</h1>
				{#if data.begins !== null}{@render begins()}{/if}
				<p class="mt-2">
					{words().say(data.totalMinor > 0 ? 'thanks.paid' : 'thanks.nothing-paid', {
						amount,
						number: data.number
					})}
				</p>
			{:else}
				<h1>{words().say('thanks.order')}</h1>
				<p class="mt-2">
					{words().say('thanks.order-text', { amount, plan: data.planName, number: data.number })}
				</p>
			{/if}
			{@render note()}
			{#if data.isIn}
				<p class="mt-5">
					<a class="button-main" href={data.landing}>{words().say(onTo)}</a>
				</p>
				<p class="mt-4 text-quiet">
					{words().say('thanks.signed-in', { address: data.email })}
				</p>
			{:else}
				<p class="mt-4">
					{words().say('thanks.mailed', { address: data.email })}
				</p>
				<p class="mt-3"><a href="/sign-in">{words().say('thanks.no-mail')}</a></p>
			{/if}
			{#if data.isByCard}
				<p class="mt-4 text-sm text-quiet">
					{words().say('thanks.statement', { statement: data.statementName ?? data.site.statementName })}
				</p>
			{/if}
		{/if}
	</div>
	{#if data.extras && hasExtras}
		<ExtraOffer
			next={data.extras.next}
			taken={data.extras.taken}
			problem={form && 'extraProblem' in form ? (form.extraProblem ?? null) : null}
			zone={data.site.zone}
		/>
	{/if}
</div>
