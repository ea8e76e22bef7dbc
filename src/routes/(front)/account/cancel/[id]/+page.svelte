<script lang="ts">
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Field from '$ui/fields/Field.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Words from '$ui/components/Words.svelte';
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();

	const errors = $derived(form?.errors ?? {});
	const typed = $derived(form?.values ?? {});
</script>

<svelte:head
	><title>{words().say('cancel.title', { plan: data.plan.name })} · {data.site.name}</title></svelte:head
>

{#snippet day()}<strong><Moment at={data.plan.paidThrough ?? 0} zone={data.site.zone} /></strong>{/snippet}

<form method="post" class="sheet grid max-w-xl gap-4 p-6 pt-7">
	<h1>{words().say('cancel.title', { plan: data.plan.name })}</h1>
	<ErrorSummary {errors} />
	<p>
		{#if data.plan.state === 'renewing' || data.plan.state === 'owing'}
			{words().say('cancel.at-once', { plan: data.plan.name })}
		{:else}
			<Words of="cancel.at-end" values={{ plan: data.plan.name }} things={{ day }} />
		{/if}
	</p>
	<fieldset id="reason" class="grid gap-1">
		<legend class="mb-1 font-medium">{words().say('cancel.why')}</legend>
		{#each data.reasons as reason (reason)}
			<label class="flex items-center gap-2">
				<input type="radio" name="reason" value={reason} checked={typed.reason === reason} />
				{words().say(`cancel.${reason}`)}
			</label>
		{/each}
		{#if errors.reason}<p class="text-sm font-medium text-brick">
				{words().maybe(errors.reason[0] ?? '')}
			</p>{/if}
	</fieldset>
	<Field name="words" label={words().say('cancel.words')} {errors}>
		{#snippet children(props)}
			<textarea class="input" rows="3" {...props}>{typed.words ?? ''}</textarea>
		{/snippet}
	</Field>
	{#if data.plan.mayPause}
		<p><a href="/account/pause/{data.plan.id}">{words().say('cancel.pause')}</a></p>
	{/if}
	<div class="flex flex-wrap gap-3">
		<button class="button-stop-main">{words().say('cancel.title', { plan: data.plan.name })}</button>
		<a class="button-quiet" href="/account">{words().say('cancel.keep')}</a>
	</div>
</form>
