<script lang="ts">
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Field from '$ui/components/Field.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import { CANCEL_WORDS } from '$ui/wording/payment';

	let { data, form } = $props();

	const errors = $derived(form?.errors ?? {});
	const typed = $derived(form?.values ?? {});
</script>

<svelte:head><title>Cancel {data.plan.name} · {data.site.name}</title></svelte:head>

<form method="post" class="sheet grid max-w-xl gap-4 p-6 pt-7">
	<h1>Cancel {data.plan.name}</h1>
	<ErrorSummary {errors} />
	<p>
		{#if data.plan.state === 'renewing'}
			The last period is not paid, so {data.plan.name} closes at once.
		{:else}
			{data.plan.name} stays open until
			<strong><Moment at={data.plan.paidUntil} zone={data.site.zone} /></strong>, which you have paid. Nothing
			more is charged.
		{/if}
	</p>
	<fieldset id="reason" class="grid gap-1">
		<legend class="mb-1 font-medium">Why do you cancel?</legend>
		{#each data.reasons as reason (reason)}
			<label class="flex items-center gap-2">
				<input type="radio" name="reason" value={reason} checked={typed.reason === reason} />
				{CANCEL_WORDS[reason]}
			</label>
		{/each}
		{#if errors.reason}<p class="text-sm font-medium text-brick">{errors.reason[0]}</p>{/if}
	</fieldset>
	<Field name="words" label="Anything you want to tell us" {errors}>
		{#snippet children(props)}
			<textarea class="input" rows="3" {...props}>{typed.words ?? ''}</textarea>
		{/snippet}
	</Field>
	<div class="flex flex-wrap gap-3">
		<button class="button-stop-main">Cancel {data.plan.name}</button>
		<a class="button-quiet" href="/account">Keep it</a>
	</div>
</form>
