<script lang="ts">
	import Moment from '$ui/components/Moment.svelte';
	import Words from '$ui/components/Words.svelte';
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();
	const plan = $derived(data.plan);
	const amount = $derived(words().money(plan.owed.amountMinor, plan.owed.currency));
	const title = $derived(words().say('pay.title', { plan: plan.name }));
</script>

<svelte:head><title>{title} · {data.site.name}</title></svelte:head>

{#snippet day()}<Moment at={plan.tryAt ?? 0} zone={data.site.zone} />{/snippet}

<form method="post" class="sheet grid max-w-xl gap-4 p-6 pt-7">
	<h1>{title}</h1>
	{#if form?.problem}<p role="alert" class="font-medium text-brick">{words().maybe(form.problem)}</p>{/if}
	<p>{words().say('pay.what', { amount })}</p>
	<p>{words().say(plan.isOpen ? 'pay.open' : 'pay.shut', { plan: plan.name })}</p>
	{#if plan.tryAt !== null}<p class="text-quiet"><Words of="pay.again" things={{ day }} /></p>{/if}
	<div class="flex flex-wrap gap-3">
		<button class="button-main">{words().say('pay.button', { amount })}</button>
		<a class="button-quiet" href="/account">{words().say('account.back')}</a>
	</div>
</form>
