<script lang="ts">
	import type { SvelteSet } from 'svelte/reactivity';
	import MomentField from '$ui/fields/MomentField.svelte';
	import Popover from '$ui/parts/Popover.svelte';
	import ChosenFoot from './ChosenFoot.svelte';

	/** What can be done with the codes that are chosen, at the foot of their list. */
	let { chosen, zone }: { chosen: SvelteSet<string>; zone: string } = $props();

	const own = $props.id();
	const ACTION = '/desk/codes?/end';

	let until = $state('');
	let isOpen = $state(false);
</script>

{#snippet sent()}
	<input type="hidden" name="ids" value={[...chosen].join(',')} />
	<input type="hidden" name="until" value={until} />
{/snippet}

<form id="{own}-table" method="post" action="/desk/codes/rows.csv">{@render sent()}</form>

{#snippet tools()}
	<Popover
		title="When they end"
		side="top"
		triggerClass="bar-tool"
		bind:isOpen={() => isOpen, (to) => ((isOpen = to), (until = ''))}
	>
		{#snippet trigger()}When they end …{/snippet}
		<div class="grid gap-3">
			<p class="text-sm text-quiet">What was redeemed stays as it is.</p>
			<button form={own} formaction={ACTION} name="do" value="now" class="button-quiet">End them now</button>
			<MomentField label="Or another end (none, if empty)" id="{own}-until" bind:value={until} />
			<button form={own} formaction={ACTION} name="do" value="then" class="button-main">Set this end</button>
		</div>
	</Popover>
	<button form="{own}-table" class="bar-tool">As a table (CSV)</button>
{/snippet}

<ChosenFoot
	form={own}
	size={chosen.size}
	titleOf={() => ''}
	action={ACTION}
	{zone}
	{sent}
	{tools}
	onPress={() => (isOpen = false)}
	onNone={() => chosen.clear()}
/>
