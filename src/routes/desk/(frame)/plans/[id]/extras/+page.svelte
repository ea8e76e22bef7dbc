<script lang="ts">
	import { enhance } from '$app/forms';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import OffInput from '$ui/components/OffInput.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import CheckField from '$ui/fields/CheckField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import Confirm from '$ui/parts/Confirm.svelte';
	import { useWords } from '$ui/words';
	import { discountText, priceText } from '$words/price';

	let { data, form } = $props();

	const words = useWords();
	const errors = $derived(
		((form && 'errors' in form ? form.errors : null) ?? {}) as Record<string, string[]>
	);
	const sent = $derived((form && 'values' in form ? form.values : {}) as Record<string, string>);
	let isLess = $derived(sent.isLess === 'yes');
	/** The same fields again, empty, once something was added. */
	const version = $derived(data.extras.length);
</script>

<svelte:head><title>Offered after {data.plan.name} · Plans · Desk</title></svelte:head>

<p class="mb-2"><a href="/desk/plans/{data.plan.id}">Back to {data.plan.name}</a></p>
<div class="grid items-start gap-5 @6xl:grid-cols-[1fr_24rem]">
	<section class="sheet p-6 pt-7" aria-labelledby="offered">
		<h2 id="offered">Offered after {data.plan.name}</h2>
		<p class="mt-1 max-w-prose text-quiet">
			Whoever has paid for it by card reads this on the page that thanks them: one after the other, each
			answered by one press, and charged to the card that they have just used. Their access and its mail do
			not wait for it. What somebody has already, or what would need an address, is left out.
		</p>
		<div class="mt-3"><Saved text={form && 'saved' in form ? (form.saved ?? null) : null} /></div>
		<ol class="mt-3 divide-y divide-line border-y border-line">
			{#each data.extras as extra, n (extra.id)}
				<li class="grid gap-x-5 gap-y-2 py-3 @3xl:grid-cols-[1fr_auto]">
					<div>
						<p class="font-medium">{n + 1}. {extra.planName}</p>
						<p class="text-sm text-quiet">
							{extra.terms ? priceText(words(), extra.terms) : 'Not sold any more'}{extra.less
								? ` · ${discountText(words(), extra.less)}`
								: ''}
						</p>
						{#if extra.words}<p class="mt-1 whitespace-pre-line">{extra.words}</p>{/if}
						<p class="mt-1 text-sm {extra.isSold ? 'text-quiet' : 'font-medium text-gorse'}">
							{extra.isSold
								? extra.asked === 0
									? 'Nobody has answered yet.'
									: `Taken by ${extra.taken} of ${extra.asked} who answered.`
								: 'It is not offered now: the price is not on sale.'}
						</p>
					</div>
					<div class="flex flex-wrap items-start gap-2">
						{#if n > 0}<form method="post" action="?/first" use:enhance>
								<input type="hidden" name="extra" value={extra.id} />
								<button class="button-quiet" aria-label="Offer {extra.planName} first">Offer it first</button>
							</form>{/if}
						<Confirm
							label="Take it away"
							spoken="Take {extra.planName} away"
							title="Offer {extra.planName} no more?"
							what="Who has taken it keeps it."
							action="?/end"
							confirmLabel="Take it away"
							isQuiet
						>
							<input type="hidden" name="extra" value={extra.id} />
						</Confirm>
					</div>
				</li>
			{:else}
				<li class="py-3 text-quiet">Nothing is offered after it.</li>
			{/each}
		</ol>
	</section>
	{#key version}
		<form method="post" action="?/add" class="sheet grid grid-cols-1 gap-4 p-6 pt-7" novalidate use:enhance>
			<h2>Offer something</h2>
			<ErrorSummary {errors} />
			{#if data.offers.length === 0}
				<p>There is no other plan on sale. <a href="/desk/plans/new">Make one</a> first.</p>
			{:else}
				<SelectField
					name="price"
					label="What"
					options={[
						{ value: '', label: 'Choose' },
						...data.offers.map(({ priceId, name, terms }) => ({
							value: priceId,
							label: `${name}: ${priceText(words(), terms)}`
						}))
					]}
					from={sent.price ?? ''}
					{errors}
				/>
				<TextField
					name="words"
					label="What you say of it"
					hint="Why it goes with what they bought. Its lines of what one gets stand below."
					rows={3}
					maxlength={500}
					from={sent.words ?? ''}
					{errors}
				/>
				<CheckField name="isLess" label="It costs less there" bind:checked={isLess} />
				{#if isLess}
					<OffInput
						discount={null}
						{sent}
						currency={data.site.currency}
						currencies={data.currencies}
						{errors}
					/>
				{/if}
				<button class="button-main justify-self-start">Offer it</button>
			{/if}
		</form>
	{/key}
</div>
