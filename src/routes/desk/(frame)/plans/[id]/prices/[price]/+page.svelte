<script lang="ts">
	import { enhance } from '$app/forms';
	import { page } from '$app/state';
	import FirstBuyers from '$ui/components/FirstBuyers.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import PriceInput from '$ui/components/PriceInput.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import { Editing } from '$ui/parts/editing.svelte';
	import EditorFoot from '$ui/parts/EditorFoot.svelte';

	let { data, form } = $props();

	const editing = new Editing();
	const errors = $derived(
		editing.isPutBack
			? {}
			: (((form && 'errors' in form ? form.errors : null) ?? {}) as Record<string, string[]>)
	);
	const sent = $derived(
		(!editing.isPutBack && form && 'values' in form ? form.values : {}) as Record<string, string>
	);
	const title = $derived(data.price ? data.price.name || 'A price' : 'Another price');
</script>

<svelte:head><title>{title} · {data.plan.name} · Plans · Desk</title></svelte:head>

<p class="mb-2"><a href="/desk/plans/{data.plan.id}">Back to {data.plan.name}</a></p>
<div class="grid items-start gap-5 @6xl:grid-cols-[1fr_22rem]">
	{#key page.params.price}
		<form
			method="post"
			action="?/save"
			class="sheet grid grid-cols-1 gap-4 p-6 pt-7"
			novalidate
			use:enhance={editing.submit}
		>
			<h2>{data.price ? title : `Another price for ${data.plan.name}`}</h2>
			<Saved text={form && 'saved' in form ? form.saved : null} />
			<ErrorSummary {errors} />
			{#if data.isFirstUnnamed}<p class="border-l-2 border-gorse pl-3">
					The first price has no name yet. Where this one is in the same currency, give it one, too, on the
					plan’s own page: buyers choose between the two.
				</p>{/if}
			{#key editing.version}
				<TextField
					name="priceName"
					label="What buyers choose it by"
					hint="Such as: By the year, two months for nothing. Where it is the only price in its currency it needs none: buyers choose their currency first."
					from={sent.priceName ?? data.price?.name ?? ''}
					{errors}
				/>
				<PriceInput
					terms={data.price?.terms ?? null}
					{sent}
					currency={data.site.currency}
					currencies={data.currencies}
					{errors}
				/>
				<FirstBuyers
					from={sent.firstBuyers ?? String(data.price?.firstBuyers ?? '')}
					isOnly={false}
					{errors}
				/>
				<EditorFoot
					{editing}
					of="price {page.url.pathname}"
					revision={null}
					keep={data.price ? 'Keep it' : 'Add the price'}
				/>
			{/key}
		</form>
	{/key}
	{#if data.price}
		{@const { checkoutUrl, isFirst, isOnSale } = data.price}
		<section class="sheet p-5 pt-6" aria-labelledby="sell">
			<h2 id="sell">Sell it</h2>
			{#if form && 'problem' in form}<p role="alert" class="mt-2 font-medium text-brick">
					{form.problem}
				</p>{/if}
			{#if isOnSale}
				<p class="mt-1 text-sm text-quiet">A button with this address leads straight to this price:</p>
				<p class="mt-1"><a href={checkoutUrl} class="break-all">{checkoutUrl}</a></p>
			{:else}<p class="mt-1 text-quiet">It is not sold any more. Who has bought at it keeps it.</p>{/if}
			<div class="mt-4 flex flex-wrap gap-2">
				{#if isOnSale && !isFirst}<form method="post" action="?/first" use:enhance>
						<button class="button-quiet">Put it first</button>
					</form>{/if}
				<form method="post" action="?/offer" use:enhance>
					<input type="hidden" name="isOnSale" value={isOnSale ? '' : 'yes'} />
					<button class="button-quiet">{isOnSale ? 'Sell it no more' : 'Sell it again'}</button>
				</form>
			</div>
		</section>
	{/if}
</div>
