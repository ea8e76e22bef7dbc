<script lang="ts">
	/** A table of rates by country and day: rows are added below it, and taken out of it. */
	import { page } from '$app/state';
	import { percentOf, rateProblems, readRate, type TaxRate, type TaxRateProblem } from '$core/billing/tax';
	import { countries, countryName } from '$ui/countries';
	import MomentField from '$ui/fields/MomentField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import TextField from '$ui/fields/TextField.svelte';

	let {
		rates = $bindable(),
		unionRates,
		message
	}: {
		rates: TaxRate[];
		/** To begin with. */
		unionRates: readonly TaxRate[];
		message: string | undefined;
	} = $props();

	const today = $derived((page.data.site as { today: string }).today);
	const shown = $derived(
		rates
			.map((rate, n) => ({ ...rate, n, called: countryName(rate.country) }))
			.sort((a, b) => a.called.localeCompare(b.called) || a.from.localeCompare(b.from))
	);

	let country = $state('');
	let name = $state('');
	let percent = $state('');
	let from = $state('');
	let problem = $state<{ field: string; message: string } | null>(null);
	const errors = $derived<Record<string, string[]>>(problem ? { [problem.field]: [problem.message] } : {});

	const PROBLEMS: Record<TaxRateProblem, [field: string, message: string]> = {
		'not-a-country': ['rateCountry', 'Choose a country.'],
		'name-missing': ['rateName', 'Say what the tax is called there, such as VAT.'],
		'name-too-long': ['rateName', 'At most 20 characters.'],
		'not-a-rate': ['ratePercent', 'A rate is a number from 0 to 100, such as 19 or 25.5.'],
		'not-a-day': ['rateFrom', 'Choose the first day that it counts.'],
		twice: ['rateFrom', 'This country has a rate from that day already: take it out first.']
	};

	function add() {
		const row = { country, name: name.trim(), rate: readRate(percent) ?? -1, from: from || today };
		const found = rateProblems([...rates, row]).at(-1) ?? null;
		if (found) {
			const [field, text] = PROBLEMS[found];
			problem = { field, message: text };
			return;
		}
		rates = [...rates, row];
		[country, name, percent, from] = ['', '', '', ''];
		problem = null;
	}

	function begin() {
		const known = rates.map((one) => `${one.country} ${one.from}`);
		rates = [...rates, ...unionRates.filter((one) => !known.includes(`${one.country} ${one.from}`))];
	}
</script>

<section class="grid gap-3" aria-labelledby="rates-title" id="rates" tabindex="-1">
	<div class="flex flex-wrap items-baseline justify-between gap-3">
		<h2 id="rates-title" class="text-base font-medium">Rates</h2>
		<button type="button" class="button-quiet" onclick={begin}>Put in those of the European Union</button>
	</div>
	<p class="text-sm text-quiet">
		Where a country has no rate, no tax is asked for. The rates of the Union are the standard ones as they
		were when this Stile was made: look at them before you keep them.
	</p>
	{#if message}<p class="text-sm font-medium text-brick">{message}</p>{/if}
	{#if shown.length > 0}
		<div class="max-h-96 overflow-y-auto rounded-sheet border border-line">
			<table class="w-full">
				<thead class="sticky top-0 bg-sheet">
					<tr class="border-b border-line text-left text-sm text-quiet">
						<th class="px-3 py-1.5 font-medium">Country</th>
						<th class="px-3 py-1.5 font-medium">Called</th>
						<th class="px-3 py-1.5 text-right font-medium">Rate</th>
						<th class="px-3 py-1.5 font-medium">From</th>
						<th class="px-3 py-1.5"><span class="sr-only">Take out</span></th>
					</tr>
				</thead>
				<tbody>
					{#each shown as row (`${row.country} ${row.from}`)}
						<tr class="border-b border-line last:border-0">
							<td class="px-3 py-1.5">{row.called}</td>
							<td class="px-3 py-1.5">{row.name}</td>
							<td class="price px-3 py-1.5 text-right">{percentOf(row.rate)} %</td>
							<td class="px-3 py-1.5 whitespace-nowrap">{row.from}</td>
							<td class="px-3 py-1.5 text-right">
								<button
									type="button"
									class="cursor-pointer underline"
									onclick={() => (rates = rates.filter((_, n) => n !== row.n))}
									>Take out<span class="sr-only"> {row.called} from {row.from}</span></button
								>
							</td>
						</tr>
					{/each}
				</tbody>
			</table>
		</div>
	{/if}
	<fieldset class="grid items-start gap-3 rounded-sheet bg-sunk p-3 sm:grid-cols-[2fr_1fr_1fr_auto]">
		<legend class="sr-only">Add a rate</legend>
		<SelectField
			id="rateCountry"
			label="Country"
			options={countries().map((one) => ({ value: one.code, label: one.name }))}
			bind:value={country}
			{errors}
		/>
		<TextField id="rateName" label="Called" placeholder="VAT" maxlength={20} bind:value={name} {errors} />
		<TextField
			id="ratePercent"
			label="Percent"
			placeholder="19"
			inputmode="decimal"
			maxlength={8}
			bind:value={percent}
			{errors}
		/>
		<MomentField id="rateFrom" label="From" to="day" bind:value={from} {errors} />
		<button type="button" class="button-quiet justify-self-start" onclick={add}>Add this rate</button>
	</fieldset>
</section>
