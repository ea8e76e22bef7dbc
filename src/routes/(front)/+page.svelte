<script lang="ts">
	import PlanOffer from '$ui/components/PlanOffer.svelte';
	import StateMark from '$ui/components/StateMark.svelte';
	import { formatLength } from '$ui/wording/time';

	let { data } = $props();
</script>

<svelte:head><title>{data.site.name}</title></svelte:head>

<h1 class="mb-6">{data.site.name}</h1>
{#if data.items.length === 0}
	<p class="sheet p-6 pt-7">Nothing is published yet.</p>
{:else}
	<ul class="grid gap-5 sm:grid-cols-2 lg:grid-cols-3">
		{#each data.items as item (item.id)}
			<li class="sheet flex flex-col">
				<a href={item.address} class="block text-ink no-underline hover:underline">
					{#if item.poster}
						<img
							src={item.poster}
							alt=""
							class="aspect-video w-full rounded-t-sheet object-cover"
							loading="lazy"
						/>
					{:else}
						<span class="block aspect-video w-full rounded-t-sheet bg-sunk"></span>
					{/if}
					<span class="block px-4 pt-3 font-semibold">{item.title}</span>
				</a>
				<p class="mt-auto flex items-center justify-between px-4 pt-1 pb-3 text-sm">
					<StateMark verdict={item.verdict} />
					{#if item.seconds}<span class="text-quiet">{formatLength(item.seconds)}</span>{/if}
				</p>
			</li>
		{/each}
	</ul>
{/if}

{#if data.offers.length > 0}
	<h2 class="mt-10 mb-4">Plans</h2>
	<div class="grid gap-5 sm:grid-cols-2 lg:grid-cols-3">
		{#each data.offers as { plan, action } (plan.id)}<PlanOffer {plan} {action} />{/each}
	</div>
{/if}
