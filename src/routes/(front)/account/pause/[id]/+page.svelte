<script lang="ts">
	import Moment from '$ui/components/Moment.svelte';
	import Words from '$ui/components/Words.svelte';
	import { useWords } from '$ui/words';

	let { data } = $props();

	const words = useWords();
	const zone = $derived(data.site.zone);
	const title = $derived(words().say('pause.title', { plan: data.name }));
</script>

<svelte:head><title>{title} · {data.site.name}</title></svelte:head>

{#snippet day()}<strong><Moment at={data.paidThrough ?? 0} {zone} /></strong>{/snippet}

<form method="post" class="sheet grid max-w-xl gap-4 p-6 pt-7">
	<h1>{title}</h1>
	<p><Words of="pause.what" values={{ plan: data.name }} things={{ day }} /></p>
	<fieldset class="grid gap-1">
		<legend class="mb-1 font-medium">{words().say('pause.how-long')}</legend>
		{#each data.pauses as { step, months, nextAt }, n (step)}
			{#snippet next()}<Moment at={nextAt ?? 0} {zone} />{/snippet}
			<label class="flex items-baseline gap-2">
				<input type="radio" name="step" value={step} checked={n === 0} />
				<span>
					{#if months === null}{words().say('pause.open-end')}
					{:else}<Words of="pause.months" values={{ count: months }} things={{ next }} />{/if}
				</span>
			</label>
		{/each}
	</fieldset>
	<div class="flex flex-wrap gap-3">
		<button class="button-main">{title}</button>
		<a class="button-quiet" href="/account">{words().say('pause.leave')}</a>
	</div>
</form>
