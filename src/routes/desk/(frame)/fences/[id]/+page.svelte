<script lang="ts">
	import { enhance } from '$app/forms';
	import FenceEditor from '$ui/components/FenceEditor.svelte';
	import Rehearsal from '$ui/components/Rehearsal.svelte';
	import TimeRail from '$ui/components/TimeRail.svelte';
	import { editingOf, standing } from '$ui/parts/editing.svelte';
	import Why from '$ui/components/Why.svelte';
	import { namesOf } from '$ui/names';

	let { data, form } = $props();

	const names = $derived(namesOf(data.known, data.site.zone));
	const fenceId = $derived(data.fence.id);
	const editing = $derived(editingOf(fenceId));
	const begun = standing(
		() => editing,
		() => ({ fence: data.fence, named: data.named, members: data.members, revision: data.revision })
	);
	const removal = $derived(form && 'removal' in form ? form.removal : null);
	const ofEditor = $derived(form && !('removal' in form) ? form : null);
</script>

<svelte:head><title>{data.fence.name} · Fences · Desk</title></svelte:head>

{#key `${fenceId} ${begun.current.revision} ${editing.version}`}
	<FenceEditor
		fence={begun.current.fence}
		id={fenceId}
		revision={data.revision}
		known={data.known}
		choices={data.choices}
		named={begun.current.named}
		members={begun.current.members}
		siteTurnAway={data.siteTurnAway}
		zone={data.site.zone}
		{editing}
		form={ofEditor}
	/>
{/key}

{#if data.items.length > 0}
	<section class="sheet mt-5 p-5 pt-6" aria-labelledby="found">
		<h2 id="found">As people find it</h2>
		<div class="mt-2 overflow-x-auto">
			<table class="w-full">
				<thead>
					<tr class="border-b border-line text-left text-sm text-quiet">
						<th class="py-1.5 pr-4 font-medium">Item</th>
						<th class="py-1.5 pr-4 font-medium">A stranger</th>
						{#each data.planIds as planId (planId)}<th class="py-1.5 pr-4 font-medium"
								>{names.newcomer(planId)}</th
							>{/each}
					</tr>
				</thead>
				<tbody>
					{#each data.items as item (item.id)}
						<tr class="border-b border-line last:border-0">
							<td class="py-1.5 pr-4"><a href="/desk/library/{item.id}">{names.resource(item.id)}</a></td>
							{#each item.found as verdict, n (n)}
								<td class="py-1.5 pr-4"
									><Why
										{verdict}
										ask={{ member: null, plan: data.planIds[n - 1], item: item.id, at: data.moment.at }}
									/></td
								>
							{/each}
						</tr>
					{/each}
				</tbody>
			</table>
		</div>
		{#if data.caught > data.items.length}
			<p class="mt-2 text-sm text-quiet">
				The first {data.items.length} of {data.caught} items that it catches.
			</p>
		{/if}
	</section>
{/if}

<form
	method="post"
	action="?/remove"
	class="mt-5 grid gap-3"
	use:enhance={() =>
		({ update }) =>
			update({ reset: false })}
>
	{#if removal}<Rehearsal
			rehearsal={removal}
			title="What taking down “{data.fence.name}” would do"
			zone={data.site.zone}
			action="?/remove"
		/>{/if}
	<button class="button-stop justify-self-start">Take this fence down</button>
</form>
<TimeRail moment={data.moment} marks={data.marks} zone={data.site.zone} />
