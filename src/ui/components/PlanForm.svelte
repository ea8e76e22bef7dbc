<script lang="ts">
	import { enhance } from '$app/forms';
	import { page } from '$app/state';
	import type { ComponentProps } from 'svelte';
	import type { AfterLapse } from '$core/access/model';
	import { plainAmount } from '$core/billing/money';
	import ChangedElsewhere from './ChangedElsewhere.svelte';
	import ErrorSummary from './ErrorSummary.svelte';
	import Field from './Field.svelte';
	import Rehearsal from './Rehearsal.svelte';
	import Saved from './Saved.svelte';

	interface Plan {
		name: string;
		lines: string[];
		amountMinor: number;
		currency: string;
		unit: 'month' | 'year';
		isPublic: boolean;
		isOnSale: boolean;
		afterLapse: AfterLapse;
		ladderId: string | null;
		rung: number;
	}

	/** Writes a plan, or rewrites one. */
	let {
		plan,
		currencies,
		currency,
		ladders,
		zone,
		rehearsal,
		revision = '',
		theirs = null,
		errors = {},
		values = {},
		saved = null
	}: {
		plan: Plan | null;
		currencies: string[];
		currency: string;
		ladders: { id: string; name: string }[];
		zone: string;
		rehearsal: ComponentProps<typeof Rehearsal>['rehearsal'] | null;
		/** What the form begins with. */
		revision?: string;
		/** What somebody else has saved meanwhile. */
		theirs?: { revision: string; words: string } | null;
		errors?: Record<string, string[]>;
		values?: Record<string, string | string[]>;
		saved?: string | null;
	} = $props();

	const isBack = $derived(Object.keys(values).length > 0);
	const typed = $derived({
		name: values.name ?? plan?.name ?? '',
		lines: values.lines ?? plan?.lines.join('\n') ?? '',
		amount: values.amount ?? (plan ? plainAmount({ minor: plan.amountMinor, currency: plan.currency }) : ''),
		currency: values.currency ?? plan?.currency ?? currency,
		unit: values.unit ?? plan?.unit ?? 'month',
		afterLapse: values.afterLapse ?? plan?.afterLapse ?? 'on',
		ladder: values.ladder ?? ladders.find(({ id }) => id === plan?.ladderId)?.name ?? '',
		rung: values.rung ?? String(plan?.rung ?? 1),
		isPublic: isBack ? values.isPublic === 'yes' : (plan?.isPublic ?? true),
		isOnSale: isBack ? values.isOnSale === 'yes' : (plan?.isOnSale ?? true)
	});
</script>

<form
	method="post"
	action="?/save"
	class="sheet grid gap-4 p-6 pt-7"
	novalidate
	use:enhance={() =>
		({ update }) =>
			update({ reset: false })}
>
	<h2>{plan ? plan.name : 'A new plan'}</h2>
	<Saved text={saved} />
	<ErrorSummary {errors} />
	<input type="hidden" name="revision" value={revision} />
	{#if theirs}<ChangedElsewhere {theirs} what="this plan" href={page.url.pathname} />{/if}
	{#if rehearsal}<Rehearsal {rehearsal} {zone} action="?/save" />{/if}
	<Field name="name" label="Name" {errors}>
		{#snippet children(props)}<input class="input" value={typed.name} {...props} />{/snippet}
	</Field>
	<Field name="lines" label="What you get" hint="A line each." {errors}>
		{#snippet children(props)}<textarea class="input" rows="4" {...props}>{typed.lines}</textarea>{/snippet}
	</Field>
	<div class="grid gap-4 sm:grid-cols-3">
		<Field name="amount" label="Price" {errors}>
			{#snippet children(props)}
				<input class="input text-right" inputmode="decimal" value={typed.amount} {...props} />
			{/snippet}
		</Field>
		<Field name="currency" label="Currency" {errors}>
			{#snippet children(props)}
				<select class="input" {...props}>
					{#each currencies as code (code)}<option selected={code === typed.currency}>{code}</option>{/each}
				</select>
			{/snippet}
		</Field>
		<Field name="unit" label="Paid" {errors}>
			{#snippet children(props)}
				<select class="input" {...props}>
					<option value="month" selected={typed.unit === 'month'}>every month</option>
					<option value="year" selected={typed.unit === 'year'}>every year</option>
				</select>
			{/snippet}
		</Field>
	</div>
	<label class="flex items-center gap-2">
		<input type="checkbox" name="isPublic" value="yes" checked={typed.isPublic} /> Listed on the plan page and in
		notices
	</label>
	<label class="flex items-center gap-2">
		<input type="checkbox" name="isOnSale" value="yes" checked={typed.isOnSale} /> On sale
	</label>
	<div class="grid gap-4 sm:grid-cols-[1fr_6rem]">
		<Field
			name="ladder"
			label="Ladder"
			hint="Plans of which a member holds one at a time. Empty: on none."
			{errors}
		>
			{#snippet children(props)}<input
					class="input"
					list="ladders"
					value={typed.ladder}
					{...props}
				/>{/snippet}
		</Field>
		<Field name="rung" label="Rung" hint="1: lowest" {errors}>
			{#snippet children(props)}<input
					class="input text-right"
					inputmode="numeric"
					value={typed.rung}
					{...props}
				/>{/snippet}
		</Field>
	</div>
	<datalist id="ladders"
		>{#each ladders as ladder (ladder.id)}<option value={ladder.name}></option>{/each}</datalist
	>
	<Field name="afterLapse" label="When somebody comes back after a lapse, releases" {errors}>
		{#snippet children(props)}
			<select class="input" {...props}>
				<option value="on" selected={typed.afterLapse === 'on'}>go on as if they had never been away</option>
				<option value="stand-still" selected={typed.afterLapse === 'stand-still'}
					>stood still meanwhile, and go on from there</option
				>
				<option value="anew" selected={typed.afterLapse === 'anew'}>begin anew</option>
			</select>
		{/snippet}
	</Field>
	<button class="button-main justify-self-start">{plan ? 'Save' : 'Create the plan'}</button>
</form>
