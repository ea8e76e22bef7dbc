<script lang="ts">
	import { formatMoney } from '$core/billing/money';
	import DataTable from '$ui/parts/DataTable.svelte';
	import DeskLink from '$ui/components/DeskLink.svelte';
	import ManyBar, { type Press } from '$ui/components/ManyBar.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import SalesHead from '$ui/components/SalesHead.svelte';
	import SalesTools from '$ui/components/SalesTools.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import { page } from '$app/state';
	import { asking } from '$ui/address';
	import { ChosenRows } from '$ui/chosen-rows.svelte';
	import { agreementWords, STEP_WORDS } from '$ui/wording/agreement';

	let { data } = $props();

	const SHOWN = [
		['running', 'Run'],
		['owing', 'Owe a payment'],
		['ending', 'Cancelled'],
		['resting', 'Rest'],
		['finished', 'All paid'],
		['ended', 'Ended']
	] as const;
	const columns = [
		{ key: 'at', label: 'Began', sortable: true },
		{ key: 'number', label: 'Order' },
		{ key: 'name', label: 'Member', sortable: true },
		{ key: 'plan', label: 'Plan' },
		{ key: 'next', label: 'How it stands', sortable: true },
		{ key: 'amount', label: 'Next payment', end: true }
	];
	const COLOURS: Record<string, string> = {
		first: 'text-moss',
		running: 'text-moss',
		renewing: 'text-moss',
		owing: 'text-gorse',
		finished: 'text-moss'
	};
	const STEPS = (['cancel', 'resume', 'rest-1', 'rest-2', 'rest-3', 'rest', 'wake', 'stop'] as const).map(
		(step) => ({ value: step, label: STEP_WORDS[step] })
	);

	const ask = $derived(asking(page.url.searchParams, { page: null, order: null }).slice(1));
	const chosen = new ChosenRows(
		() => ask,
		() => data.rows
	);
	const maySteer = $derived(data.may.includes('members'));
	let step = $state('');
	const titleOf = (did: string, many: string) =>
		`${STEPS.find(({ value }) => value === did)?.label ?? ''}: ${many}?`;
</script>

<svelte:head><title>Subscriptions · Sales · Desk</title></svelte:head>

{#snippet steps(press: Press)}
	<RadioField label="What is to be done" options={STEPS} bind:value={step} />
	{@render press({ label: 'Say what that would do', did: 'steer', isHeld: step === '' })}
{/snippet}

{#snippet sent()}
	<input type="hidden" name="step" value={step} />
{/snippet}

<section class="sheet p-5 pt-6">
	<SalesHead
		title="Subscriptions and instalments"
		states={SHOWN}
		shown={data.shown}
		table="/desk/sales/agreements/rows.csv"
	/>
	<DataTable
		caption="Subscriptions and instalments"
		{columns}
		rows={data.rows}
		total={data.total}
		pageSize={data.pageSize}
		{...maySteer ? { chosen: chosen.ids } : {}}
		nameOf={({ plan, name }) => `${plan ?? 'a plan'} of ${name}`}
	>
		{#snippet tools()}<SalesTools plans={data.planChoices} began="Began" />{/snippet}
		{#snippet row(agreement)}
			<td class="py-2 pr-4 whitespace-nowrap"><Moment at={agreement.at} zone={data.site.zone} /></td>
			<td class="py-2 pr-4 whitespace-nowrap"
				><a href="/desk/sales/{agreement.orderId}">{agreement.number}</a></td
			>
			<td class="py-2 pr-4"
				><DeskLink href="/desk/members/{agreement.memberId}">{agreement.name}</DeskLink></td
			>
			<td class="py-2 pr-4"
				>{agreement.plan ?? 'A plan that is gone'}{#if agreement.payments !== null}<span class="text-quiet"
						>, {agreement.payments} instalments</span
					>{/if}</td
			>
			<td
				class="min-w-48 py-2 pr-4 font-medium first-letter:uppercase {COLOURS[agreement.state] ??
					'text-slate'}"
			>
				{agreementWords(agreement, data.site.zone)}
			</td>
			<td class="py-2 text-right whitespace-nowrap">
				{agreement.nextMinor === null
					? ''
					: formatMoney({ minor: agreement.nextMinor, currency: agreement.currency })}
			</td>
		{/snippet}
		{#snippet empty()}
			<p class="py-6 text-quiet">
				Nothing is paid by and by yet, or nothing that fits. What is paid once stands under Orders.
			</p>
		{/snippet}
	</DataTable>
	{#if maySteer}
		<ManyBar
			{chosen}
			total={data.total}
			{ask}
			what={['subscription', 'subscriptions']}
			action="/desk/sales/agreements?/steer"
			zone={data.site.zone}
			tools={[{ label: 'End, pause or go on', body: steps }]}
			{sent}
			{titleOf}
			onOpen={() => (step = '')}
		/>
	{/if}
</section>
