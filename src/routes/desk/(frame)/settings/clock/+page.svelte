<script lang="ts">
	import { enhance } from '$app/forms';
	import Moment from '$ui/components/Moment.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import NumberField from '$ui/fields/NumberField.svelte';
	import { formatMoment } from '$ui/wording/time';

	let { data, form } = $props();

	const errors = $derived((form && 'errors' in form ? form.errors : null) ?? {});
	const values = $derived((form && 'values' in form ? form.values : {}) as Record<string, string>);
	const moved = $derived(
		form && 'movedTo' in form && form.movedTo
			? `It is ${formatMoment(form.movedTo, data.site.zone)} now. On the way, ${form.jobs === 1 ? '1 thing' : `${form.jobs} things`} fell due.`
			: null
	);
	let isMoving = $state(false);
</script>

<svelte:head><title>Demo clock · Settings · Desk</title></svelte:head>

<form
	method="post"
	class="sheet grid max-w-3xl gap-4 p-6 pt-7"
	novalidate
	use:enhance={() => {
		isMoving = true;
		return async ({ update }) => {
			await update({ reset: false });
			isMoving = false;
		};
	}}
>
	<h1 class="text-xl">Demo clock</h1>
	<p>It is <strong><Moment at={data.now} zone={data.site.zone} precise /></strong>.</p>
	<p class="text-sm text-quiet">
		Move it forward, and everything that falls due on the way happens in its order: renewals, retries, lapses,
		mails. It never goes back. Only the demo has this clock.
	</p>
	<Saved text={moved} />
	<NumberField
		name="days"
		label="Forward by how many days?"
		{errors}
		class="max-w-32"
		from={values.days ?? '31'}
	/>
	<button class="button-main justify-self-start" disabled={isMoving}
		>{isMoving ? 'Moving' : 'Move the clock'}</button
	>
</form>
