<script lang="ts">
	import { enhance } from '$app/forms';
	import { optionsOf } from '$ui/fields/labelled';
	import SelectField from '$ui/fields/SelectField.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import MomentField from '$ui/fields/MomentField.svelte';
	import NumberField from '$ui/fields/NumberField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import Moment from '$ui/components/Moment.svelte';

	let { data, form } = $props();

	const errors = $derived((form?.errors ?? {}) as Record<string, string[]>);
	const typed = $derived((form?.values ?? {}) as Record<string, string>);
	let how = $state('many');
</script>

<svelte:head><title>Codes · Desk</title></svelte:head>

<p class="mb-2"><a href="/desk/fences">Fences</a></p>
<div class="grid items-start gap-5 @4xl:grid-cols-[1fr_26rem]">
	<section class="sheet p-5 pt-6" aria-labelledby="codes">
		<h1 id="codes" class="text-xl">Codes</h1>
		<p class="text-quiet">
			A code gives a plan, or lets its holder cross the fences that name it. Links may carry it: /code?code=…
		</p>
		<ul class="mt-3 divide-y divide-line">
			{#each data.batches as batch (batch.id)}
				<li class="py-2">
					<a href="/desk/codes/{batch.id}" class="font-medium">{batch.name}</a>
					<span class="block text-sm text-quiet">
						{batch.codes === 1 ? '1 code' : `${batch.codes} codes`}, redeemed {batch.uses === 1
							? 'once'
							: `${batch.uses} times`};
						{batch.planId
							? `gives ${data.planChoices.find(({ id }) => id === batch.planId)?.name ?? 'a plan'}`
							: 'opens fences by itself'}{#if batch.endsAt}; until <Moment
								at={batch.endsAt}
								zone={data.site.zone}
							/>{/if}
					</span>
				</li>
			{:else}<li class="py-2 text-quiet">None yet. Make the first on the right.</li>{/each}
		</ul>
	</section>
	<form method="post" class="sheet grid gap-4 p-5 pt-6" novalidate use:enhance>
		<h2>Make codes</h2>
		<ErrorSummary {errors} />
		<TextField name="name" label="Name" hint="Only you see it." {errors} from={typed.name ?? ''} />
		<RadioField
			label="One or many"
			hidesLabel
			isInLine
			name="how"
			options={[
				{ value: 'many', label: 'Many, made here' },
				{ value: 'one', label: 'One of your own' }
			]}
			bind:value={how}
		/>
		{#if how === 'many'}
			<NumberField name="count" label="How many" {errors} class="max-w-28" from={typed.count ?? '10'} />
		{:else}
			<TextField name="code" label="The code" {errors} from={typed.code ?? ''} />
		{/if}
		<NumberField
			name="uses"
			label="Uses of each (any number, if empty)"
			{errors}
			class="max-w-28"
			from={typed.uses ?? '1'}
		/>
		<div class="grid gap-4 sm:grid-cols-[1fr_8rem]">
			<SelectField
				name="plan"
				label="Gives the plan"
				options={[{ value: '', label: 'none: it opens fences' }, ...optionsOf(data.planChoices)]}
				from={typed.plan ?? ''}
				{errors}
			/>
			<TextField
				name="days"
				label="For days"
				{errors}
				inputmode="numeric"
				placeholder="for good"
				from={typed.days ?? ''}
			/>
		</div>
		<div class="grid gap-4">
			<MomentField name="startsAt" label="From" {errors} from={typed.startsAt ?? ''} />
			<MomentField name="endsAt" label="Until" {errors} from={typed.endsAt ?? ''} />
		</div>
		<button class="button-main justify-self-start">Make them</button>
	</form>
</div>
