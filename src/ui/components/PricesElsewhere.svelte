<script lang="ts">
	import HandOn from './HandOn.svelte';

	/** The plans that are on sale, as a piece of HTML for another site. */
	let { plans, origin }: { plans: { id: string; name: string; slug: string }[]; origin: string } = $props();

	let left = $state<string[]>([]);
	const chosen = $derived(plans.filter(({ id }) => !left.includes(id)));
	const address = $derived(
		`${origin}/embed/plans${chosen.length === plans.length ? '' : `?of=${chosen.map(({ slug }) => slug).join(',')}`}`
	);
	const html = $derived(
		`<iframe src="${address}" title="Plans" style="width:100%;height:32rem;border:0"></iframe>`
	);

	function take(id: string, isIn: boolean) {
		left = isIn ? left.filter((one) => one !== id) : [...left, id];
	}
</script>

<fieldset class="mt-3 grid gap-1">
	<legend class="sr-only">Which plans?</legend>
	{#each plans as { id, name } (id)}
		<label class="flex gap-2">
			<input
				type="checkbox"
				checked={!left.includes(id)}
				onchange={({ currentTarget }) => take(id, currentTarget.checked)}
			/>
			<span>{name}</span>
		</label>
	{/each}
</fieldset>
<div class="mt-3">
	{#if chosen.length > 0}
		<HandOn
			what="your prices"
			lines={[
				{
					label: 'A piece of HTML for another site',
					text: html,
					hint: 'It shows what is on sale at every moment. Its buttons lead to your checkout.'
				},
				{ label: 'What it shows', text: address }
			]}
			finds="these plans with their prices, and a button to buy each."
		/>
	{:else}<p class="text-quiet">Choose a plan at least.</p>{/if}
</div>
