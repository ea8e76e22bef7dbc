<script lang="ts">
	import { page } from '$app/state';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Field from '$ui/fields/Field.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Price from '$ui/components/Price.svelte';
	import Words from '$ui/components/Words.svelte';
	import { lengthText } from '$words/price';
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();

	const errors = $derived(form?.errors ?? {});
	const typed = $derived({ ...data.typed, ...form?.values }) as Record<string, string>;
	const amount = $derived(words().money(data.plan.todayMinor, data.plan.terms.currency));
	const then = $derived(data.plan.terms.then);
	const until = $derived(data.plan.access.kind === 'until' ? data.plan.access.at : null);
	/** How it goes on after today. */
	const goes = $derived(then.kind === 'nothing' ? 'once' : then.times === null ? 'until-ended' : 'times');
	/** What is paid once is paid for good; what goes on until it is ended never is. */
	const opens = $derived(
		goes === 'once' || (goes === 'times' && data.plan.access.kind === 'for-good') ? 'for-good' : 'while-paid'
	);
	let isSent = $state(false);
</script>

<svelte:head
	><title>{words().say('checkout.title', { plan: data.plan.name })} · {data.site.name}</title></svelte:head
>

{#snippet today()}<strong class="price">{amount}</strong>{/snippet}
{#snippet following()}<strong class="price"
		>{words().money(data.plan.next?.amountMinor ?? 0, data.plan.terms.currency)}</strong
	>{/snippet}
{#snippet nextDay()}<Moment at={data.plan.next?.at ?? 0} zone={data.site.zone} />{/snippet}
{#snippet openUntil()}<Moment at={until ?? 0} zone={data.site.zone} />{/snippet}
{#snippet buyer()}<strong>{data.viewer?.name}</strong>{/snippet}
{#snippet signIn()}<a href="/sign-in?next={encodeURIComponent(page.url.pathname)}"
		>{words().say('site.sign-in')}</a
	>{/snippet}

<h1 class="mb-6">{words().say('checkout.title', { plan: data.plan.name })}</h1>
{#if !data.plan.isOnSale}
	<p class="sheet max-w-xl p-6 pt-7">{words().say('plan.not-on-sale')}</p>
{:else}
	<div class="grid items-start gap-6 md:grid-cols-[3fr_2fr]">
		<form
			method="post"
			action="/checkout/{data.plan.slug}{page.url.search}"
			class="sheet grid gap-4 p-6 pt-7"
			novalidate
			onsubmit={() => (isSent = true)}
		>
			{#if data.hasEnded && !form}
				<div role="alert" class="rounded-sheet border-l-4 border-gorse bg-gorse-wash px-4 py-3">
					<p class="font-medium">{words().say('checkout.page-ended')}</p>
					<p>{words().say('checkout.page-ended-text')}</p>
				</div>
			{:else if data.wasDeclined && !form}
				<div role="alert" class="rounded-sheet border-l-4 border-brick bg-brick-wash px-4 py-3">
					<p class="font-medium">{words().say('checkout.declined')}</p>
					<p>{words().say('checkout.declined-text')}</p>
				</div>
			{/if}
			<ErrorSummary {errors} />
			<input type="hidden" name="next" value={data.next} />
			{#if data.viewer}
				<p><Words of="checkout.as" values={{ address: data.viewer.email }} things={{ name: buyer }} /></p>
				<p id="pay" class="text-sm font-medium text-brick">{words().maybe(errors.pay?.[0] ?? '')}</p>
			{:else}
				<p class="text-quiet">
					<Words of="checkout.account-already" things={{ signIn }} />
				</p>
				<Field
					name="email"
					label={words().say('checkout.address')}
					hint={words().say('checkout.address-hint')}
					{errors}
				>
					{#snippet children(props)}
						<input
							class="input"
							type="email"
							autocomplete="email"
							defaultValue={typed.email ?? ''}
							required
							{...props}
						/>
					{/snippet}
				</Field>
				<Field
					name="name"
					label={words().say('checkout.name')}
					hint={words().say('checkout.name-hint')}
					{errors}
				>
					{#snippet children(props)}
						<input class="input" autocomplete="name" defaultValue={typed.name ?? ''} required {...props} />
					{/snippet}
				</Field>
				<Field
					name="password"
					label={words().say('checkout.password')}
					hint={words().say('checkout.password-hint')}
					{errors}
				>
					{#snippet children(props)}
						<input class="input" type="password" autocomplete="new-password" {...props} />
					{/snippet}
				</Field>
			{/if}
			<button class="button-main justify-self-start" aria-disabled={isSent}>
				{isSent ? words().say('checkout.going') : words().say('checkout.pay', { amount })}
			</button>
		</form>
		<aside class="sheet p-6 pt-7" aria-label={words().say('checkout.what')}>
			<h2>{data.plan.name}</h2>
			<p class="mt-1"><Price terms={data.plan.terms} /></p>
			<p class="mt-3"><Words of="checkout.today" things={{ amount: today }} /></p>
			{#if data.plan.next}
				<p><Words of="checkout.next" things={{ amount: following, day: nextDay }} /></p>
			{/if}
			<p class="mt-1 text-quiet">
				{#if data.plan.access.kind === 'length'}
					{words().say('checkout.open-for', { length: lengthText(words(), data.plan.access.length) })}
				{:else if until !== null}
					<Words of="checkout.open-until" things={{ day: openUntil }} />
				{:else}
					{words().say(`checkout.open-${opens}`)}
				{/if}
			</p>
			<ul class="reading mt-3 grid gap-1 text-base">
				{#each data.plan.lines as line (line)}<li class="border-l-2 border-moss pl-3">{line}</li>{/each}
			</ul>
			<p class="mt-4 text-sm text-quiet">
				{words().say(`checkout.terms-${goes}`, { statement: data.site.statementName })}
			</p>
		</aside>
	</div>
{/if}
