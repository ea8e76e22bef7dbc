<script lang="ts">
	import DeskLink from '$ui/components/DeskLink.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Pager from '$ui/parts/Pager.svelte';

	let { data } = $props();

	const { plan, count, first, rows, pageSize } = $derived(data.waiting);
</script>

<svelte:head><title>Who waits for {plan.name} · Desk</title></svelte:head>

<section class="sheet max-w-3xl p-5 pt-6">
	<div class="flex flex-wrap items-baseline gap-x-5 gap-y-2">
		<h1 class="text-xl">Who waits for <DeskLink href="/desk/plans/{plan.id}">{plan.name}</DeskLink></h1>
		{#if count > 0}<a
				class="button-quiet ml-auto"
				href="/desk/members/waiting/{plan.id}/rows.csv"
				data-sveltekit-reload>Take them along as CSV</a
			>{/if}
	</div>
	<p class="mt-2 max-w-prose text-quiet">
		Each has shown that the mailbox is theirs. They are told once, as soon as the plan can be bought, and
		stand here no more.
	</p>
	{#if rows.length === 0}
		<p class="mt-4">Nobody waits for it.</p>
	{:else}
		<ol class="mt-3" start={first}>
			{#each rows as { email, at }, n (email)}
				<li class="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-t border-line py-2">
					<span class="w-12 text-right text-quiet">{first + n}</span>
					<span class="mr-auto break-all">{email}</span>
					<span class="text-sm text-quiet">since <Moment {at} zone={data.site.zone} precise /></span>
				</li>
			{/each}
		</ol>
		<Pager of="who waits" total={count} {pageSize} />
	{/if}
</section>
