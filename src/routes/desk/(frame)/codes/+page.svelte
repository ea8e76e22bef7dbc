<script lang="ts">
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Field from '$ui/components/Field.svelte';
	import Moment from '$ui/components/Moment.svelte';

	let { data, form } = $props();

	const errors = $derived((form?.errors ?? {}) as Record<string, string[]>);
	const typed = $derived((form?.values ?? {}) as Record<string, string>);
	let how = $state<'one' | 'many'>('many');
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
	<form method="post" class="sheet grid gap-4 p-5 pt-6" novalidate>
		<h2>Make codes</h2>
		<ErrorSummary {errors} />
		<Field name="name" label="Name" hint="Only you see it." {errors}>
			{#snippet children(props)}<input class="input" value={typed.name ?? ''} {...props} />{/snippet}
		</Field>
		<fieldset class="flex flex-wrap gap-4">
			<legend class="sr-only">One or many</legend>
			<label class="flex items-center gap-2"
				><input type="radio" name="how" value="many" bind:group={how} /> Many, made here</label
			>
			<label class="flex items-center gap-2"
				><input type="radio" name="how" value="one" bind:group={how} /> One of your own</label
			>
		</fieldset>
		{#if how === 'many'}
			<Field name="count" label="How many" {errors}>
				{#snippet children(props)}<input
						class="input max-w-28 text-right"
						inputmode="numeric"
						value={typed.count ?? '10'}
						{...props}
					/>{/snippet}
			</Field>
		{:else}
			<Field name="code" label="The code" {errors}>
				{#snippet children(props)}<input class="input" value={typed.code ?? ''} {...props} />{/snippet}
			</Field>
		{/if}
		<Field name="uses" label="Uses of each (any number, if empty)" {errors}>
			{#snippet children(props)}<input
					class="input max-w-28 text-right"
					inputmode="numeric"
					value={typed.uses ?? '1'}
					{...props}
				/>{/snippet}
		</Field>
		<div class="grid gap-4 sm:grid-cols-[1fr_8rem]">
			<Field name="plan" label="Gives the plan" {errors}>
				{#snippet children(props)}
					<select class="input" {...props}>
						<option value="">none: it opens fences</option>
						{#each data.planChoices as plan (plan.id)}<option
								value={plan.id}
								selected={typed.plan === plan.id}>{plan.name}</option
							>{/each}
					</select>
				{/snippet}
			</Field>
			<Field name="days" label="For days" {errors}>
				{#snippet children(props)}<input
						class="input text-right"
						inputmode="numeric"
						placeholder="for good"
						value={typed.days ?? ''}
						{...props}
					/>{/snippet}
			</Field>
		</div>
		<div class="grid gap-4 sm:grid-cols-2">
			<Field name="startsAt" label="From" {errors}>
				{#snippet children(props)}<input
						class="input"
						type="datetime-local"
						value={typed.startsAt ?? ''}
						{...props}
					/>{/snippet}
			</Field>
			<Field name="endsAt" label="Until" {errors}>
				{#snippet children(props)}<input
						class="input"
						type="datetime-local"
						value={typed.endsAt ?? ''}
						{...props}
					/>{/snippet}
			</Field>
		</div>
		<button class="button-main justify-self-start">Make them</button>
	</form>
</div>
