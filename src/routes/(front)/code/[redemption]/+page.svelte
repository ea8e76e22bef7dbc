<script lang="ts">
	import Moment from '$ui/components/Moment.svelte';
	import OpenedList from '$ui/components/OpenedList.svelte';
	import Words from '$ui/components/Words.svelte';
	import { useWords } from '$ui/words';

	let { data } = $props();

	const words = useWords();

	const title = $derived(
		data.plan === null
			? words().say('code.opened-some')
			: words().say(data.isOver ? 'code.over' : 'code.opened', { plan: data.plan })
	);
</script>

<svelte:head><title>{title} · {data.site.name}</title></svelte:head>

<div class="sheet max-w-xl p-6 pt-7">
	<h1>{title}</h1>
	{#if data.plan !== null}
		<p class="mt-2">
			{#snippet day()}{#if data.until !== null}<Moment at={data.until} zone={data.site.zone} />{/if}{/snippet}
			{#if data.until === null}{words().say('code.for-good')}
			{:else}<Words of={data.isOver ? 'code.over-since' : 'code.until'} things={{ day }} />{/if}
			{#if !data.waits}{words().say('code.in-account')}{/if}
		</p>
	{/if}
	{#if data.isMailed}<p class="mt-2" role="status">{words().say('code.waits')}</p>{/if}
	{#if data.goesTo !== null}
		<p class="mt-5"><a class="button-main" href={data.goesTo}>{words().say('item.open-it')}</a></p>
	{/if}
	<section class="mt-7" aria-labelledby="opens">
		<h2 id="opens" class="mb-2">{words().say('code.opens')}</h2>
		<OpenedList items={data.items} none={words().say('code.opens-nothing')} zone={data.site.zone} />
		{#if data.inAccount > 0}<p class="mt-2 text-quiet">
				{words().say('code.opens-in-account', { count: data.inAccount })}
			</p>{/if}
		{#if data.more > 0}<p class="mt-2 text-quiet">
				{words().say('code.opens-more', { count: data.more })}
			</p>{/if}
	</section>
</div>
