<script lang="ts">
	import { enhance } from '$app/forms';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Field from '$ui/components/Field.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import { formatMoment } from '$ui/wording/time';

	let { data, form } = $props();

	const errors = $derived((form && 'errors' in form ? form.errors : null) ?? {});
	const values = $derived((form && 'values' in form ? form.values : {}) as Record<string, string>);
	const site = $derived({ ...data.settings, ...values });
	const moved = $derived(
		form && 'movedTo' in form && form.movedTo
			? `It is ${formatMoment(form.movedTo, data.site.zone)} now. On the way, ${form.jobs === 1 ? '1 thing' : `${form.jobs} things`} fell due.`
			: null
	);
	let isMoving = $state(false);
</script>

<svelte:head><title>Settings · Desk</title></svelte:head>

<h1 class="mb-4">Settings</h1>
<div class="grid items-start gap-5 lg:grid-cols-[1fr_24rem]">
	<form
		method="post"
		action="?/site"
		class="sheet grid gap-4 p-6 pt-7"
		novalidate
		use:enhance={() =>
			({ update }) =>
				update({ reset: false })}
	>
		<h2>The site</h2>
		<Saved text={form && 'saved' in form ? form.saved : null} />
		{#if !errors.days}<ErrorSummary {errors} />{/if}
		<Field name="siteName" label="Name of the site" {errors}>
			{#snippet children(props)}<input class="input" value={site.siteName} {...props} />{/snippet}
		</Field>
		<Field
			name="statementName"
			label="Name on card statements"
			hint="Buyers see it before they pay and on receipts."
			{errors}
		>
			{#snippet children(props)}<input class="input" value={site.statementName} {...props} />{/snippet}
		</Field>
		<Field name="senderEmail" label="Mails come from" {errors}>
			{#snippet children(props)}<input
					class="input"
					type="email"
					value={site.senderEmail}
					{...props}
				/>{/snippet}
		</Field>
		<div class="grid gap-4 sm:grid-cols-2">
			<Field name="zone" label="Time zone" {errors}>
				{#snippet children(props)}<input class="input" list="zones" value={site.zone} {...props} />{/snippet}
			</Field>
			<Field name="currency" label="Currency for new prices" {errors}>
				{#snippet children(props)}
					<select class="input" {...props}>
						{#each data.currencies as code (code)}<option selected={code === site.currency}>{code}</option
							>{/each}
					</select>
				{/snippet}
			</Field>
		</div>
		<datalist id="zones"
			>{#each data.zones as zone (zone)}<option value={zone}></option>{/each}</datalist
		>
		<Field
			name="defaultNotice"
			label="Notice for those who are turned away"
			hint="Where a fence has none of its own. The plans that open it stand below it."
			{errors}
		>
			{#snippet children(props)}<textarea class="input reading" rows="3" {...props}
					>{site.defaultNotice}</textarea
				>{/snippet}
		</Field>
		<button class="button-main justify-self-start">Save</button>
	</form>

	{#if data.hasMovableClock}
		<form
			id="clock"
			method="post"
			action="?/clock"
			class="sheet grid gap-4 p-6 pt-7"
			novalidate
			use:enhance={() => {
				isMoving = true;
				return async ({ update }) => {
					await update({ reset: false });
					isMoving = false;
				};
			}}
		>
			<h2>Demo clock</h2>
			<p>It is <strong><Moment at={data.now} zone={data.site.zone} precise /></strong>.</p>
			<p class="text-sm text-quiet">
				Move it forward, and everything that falls due on the way happens in its order: renewals, retries,
				lapses, mails. It never goes back. Only the demo has this clock.
			</p>
			<Saved text={moved} />
			<Field name="days" label="Forward by how many days?" {errors}>
				{#snippet children(props)}
					<input class="input max-w-32" inputmode="numeric" value={values.days ?? '31'} {...props} />
				{/snippet}
			</Field>
			<button class="button-main justify-self-start" disabled={isMoving}
				>{isMoving ? 'Moving' : 'Move the clock'}</button
			>
		</form>
	{/if}
</div>
