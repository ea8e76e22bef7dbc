<script lang="ts">
	import { SvelteSet } from 'svelte/reactivity';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { BATCH_STATES, type BatchState } from '$core/access/batches';
	import { asking } from '$ui/address';
	import { discountText } from '$words/price';
	import { useWords } from '$ui/words';
	import CodesBar from '$ui/components/CodesBar.svelte';
	import CodesForm from '$ui/components/CodesForm.svelte';
	import DataTable from '$ui/parts/DataTable.svelte';
	import Fold from '$ui/parts/Fold.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import Moment from '$ui/components/Moment.svelte';

	let { data, form } = $props();

	const words = useWords();

	const errors = $derived(
		((form && 'errors' in form ? form.errors : null) ?? {}) as Record<string, string[]>
	);
	const typed = $derived(
		((form && 'values' in form ? form.values : null) ?? {}) as Record<string, string | string[]>
	);

	const BATCH_WORDS: Record<BatchState, string> = {
		running: 'can be used',
		early: 'not yet',
		'used-up': 'used up',
		over: 'over'
	};
	const columns = [
		{ key: 'name', label: 'Name', sortable: true },
		{ key: 'gives', label: 'Does' },
		{ key: 'state', label: 'State' },
		{ key: 'codes', label: 'Codes', sortable: true, end: true },
		{ key: 'uses', label: 'Used', sortable: true, end: true },
		{ key: 'ends', label: 'Until', sortable: true }
	];
	const asked = $derived(page.url.searchParams);
	const ask = $derived(asking(asked, { page: null, order: null }));
	const chosen = new SvelteSet<string>();
	// Those of another list are not seen, and nothing is done to them.
	$effect(() => {
		void ask;
		chosen.clear();
	});
</script>

<svelte:head><title>Codes · Desk</title></svelte:head>

<p class="mb-2"><a href="/desk/plans">Plans</a></p>
<section class="sheet p-5 pt-6">
	<div class="mb-3 flex flex-wrap items-baseline gap-x-5 gap-y-1">
		<h1 class="text-xl">Codes</h1>
		<p class="flex flex-wrap gap-x-4 text-quiet">
			{#each BATCH_STATES.filter((one) => data.totals.states[one] > 0) as one (one)}
				<a
					href={asking(asked, { state: asked.get('state') === one ? null : one, page: null })}
					aria-current={asked.get('state') === one ? 'true' : undefined}
					class={asked.get('state') === one ? 'font-semibold text-ink' : 'text-quiet'}
					>{data.totals.states[one]} {BATCH_WORDS[one]}</a
				>
			{/each}
			<span
				>{data.totals.codes === 1 ? '1 code' : `${data.totals.codes} codes`}, used {data.totals.uses === 1
					? 'once'
					: `${data.totals.uses} times`}</span
			>
		</p>
	</div>
	<p class="mb-3 max-w-prose text-quiet">
		A code gives a plan, lets its holder cross the fences that name it, or takes something off a price. Links
		may carry it.
	</p>
	<div class="mb-5">
		<Fold label="Make codes" isOpen={data.totals.codes === 0 || (form !== null && !('bulk' in form))}>
			{#key data.totals.codes}<CodesForm
					plans={data.planChoices}
					currency={data.site.currency}
					currencies={data.currencies}
					{errors}
					{typed}
				/>{/key}
		</Fold>
	</div>
	<DataTable
		caption="Codes"
		{columns}
		rows={data.rows}
		total={data.total}
		pageSize={data.pageSize}
		{chosen}
		nameOf={({ name }) => name}
	>
		{#snippet tools()}
			<SelectField
				label="What it does"
				hidesLabel
				class="w-52"
				options={[
					{ value: '', label: 'whatever it does' },
					{ value: 'off', label: 'takes something off' },
					{ value: 'none', label: 'opens fences' },
					...data.planChoices.map(({ id, name }) => ({ value: id, label: `gives ${name}` }))
				]}
				from={asked.get('gives') ?? ''}
				onChoose={(gives) =>
					void goto(asking(asked, { gives, page: null }), {
						keepFocus: true,
						noScroll: true,
						replaceState: true
					})}
			/>
		{/snippet}
		{#snippet row(batch)}
			<td class="py-2 pr-4 font-medium"><a href="/desk/codes/{batch.id}">{batch.name}</a></td>
			<td class="py-2 pr-4">
				{#if batch.discount}
					{discountText(words(), batch.discount)}
				{:else if batch.planId === null}
					opens fences
				{:else}
					gives {data.planChoices.find(({ id }) => id === batch.planId)?.name ?? 'a plan'}{batch.days === null
						? ''
						: batch.days === 1
							? ', for a day'
							: `, for ${batch.days} days`}
				{/if}
			</td>
			<td class="py-2 pr-4">{BATCH_WORDS[batch.state]}</td>
			<td class="py-2 pr-4 text-right">{batch.codes}</td>
			<td class="py-2 pr-4 text-right whitespace-nowrap"
				>{batch.uses}{batch.usesPerCode === null ? '' : ` of ${batch.codes * batch.usesPerCode}`}</td
			>
			<td class="py-2"
				>{#if batch.endsAt}<Moment at={batch.endsAt} zone={data.site.zone} />{/if}</td
			>
		{/snippet}
		{#snippet empty()}
			<p class="py-6 text-quiet">
				{data.totals.codes === 0 ? 'None yet. Make the first above.' : 'No codes are like that.'}
			</p>
		{/snippet}
	</DataTable>
	<CodesBar {chosen} zone={data.site.zone} />
</section>
