<script lang="ts">
	import { page } from '$app/state';
	import PlanOffer from '$ui/components/PlanOffer.svelte';
	import Player from '$ui/components/Player.svelte';
	import StateMark from '$ui/components/StateMark.svelte';
	import { buyWords, turnAwayTitle } from '$ui/wording/decision';
	import { formatMoment } from '$ui/wording/time';

	let { data } = $props();

	const denial = $derived(data.denial);
	const opensAt = $derived(denial?.opensAt ? formatMoment(denial.opensAt, data.site.zone) : null);
</script>

<svelte:head><title>{data.item.title} · {data.site.name}</title></svelte:head>

<h1 class="mb-4">{data.item.title}</h1>
{#if denial}
	<div class="grid items-start gap-6 lg:grid-cols-[3fr_2fr]">
		{#if data.item.poster}
			<img src={data.item.poster} alt="" class="aspect-video w-full rounded-sheet object-cover" />
		{/if}
		<section class="sheet p-6 pt-7 {data.item.poster ? '' : 'lg:col-span-2'}" aria-label="Why this is closed">
			<p><StateMark verdict={denial.verdict} note={opensAt ? `on ${opensAt}` : null} /></p>
			<h2 class="mt-2">{turnAwayTitle(denial.standing)}</h2>
			{#if denial.notice}<p class="reading mt-2 whitespace-pre-line">{denial.notice}</p>{/if}
			{#if denial.standing === 'stranger'}
				<p class="mt-4">
					Have you bought it already? <a href="/sign-in?next={encodeURIComponent(page.url.pathname)}"
						>Sign in</a
					>
				</p>
			{/if}
		</section>
	</div>
	{#if data.offers.length > 0}
		<h2 class="mt-8 mb-4">{data.offers.length === 1 ? 'This plan opens it' : 'These plans open it'}</h2>
		<div class="grid gap-5 sm:grid-cols-2 lg:grid-cols-3">
			{#each data.offers as { plan, action } (plan.id)}
				<PlanOffer {plan} action={{ ...action, label: `${buyWords(denial.standing)} ${plan.name}` }} />
			{/each}
		</div>
	{:else if denial.standing !== 'too-early'}
		<p class="mt-6">No plan that is on sale opens it at the moment.</p>
	{/if}
{:else}
	{#if data.stream}
		{#key data.stream}<Player stream={data.stream} poster={data.item.poster} title={data.item.title} />{/key}
	{/if}
	{#if data.item.description}
		<div class="reading mt-6 max-w-prose whitespace-pre-line">{data.item.description}</div>
	{/if}
{/if}
