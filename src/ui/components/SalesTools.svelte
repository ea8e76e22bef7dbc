<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { asking } from '$ui/address';
	import { optionsOf } from '$ui/fields/labelled';
	import MomentField from '$ui/fields/MomentField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import Popover from '$ui/parts/Popover.svelte';
	import { formatDay } from '$ui/wording/time';

	/** What narrows a list of sales: the plan, and the days. */
	let {
		plans,
		began
	}: { plans: { id: string; name: string }[]; /** What the days are of. */ began: string } = $props();

	const asked = $derived(page.url.searchParams);
	const NARROWING = ['plan', 'from', 'from-to', 'state'];
	const isNarrowed = $derived(NARROWING.some((name) => asked.get(name)));
	const narrow = (changes: Record<string, string | null>) =>
		void goto(asking(asked, { ...changes, page: null }), {
			keepFocus: true,
			noScroll: true,
			replaceState: true
		});

	let isOpen = $state(false);
	let from = $state('');
	let to = $state('');
	const day = (text: string) => formatDay(Date.parse(`${text}T12:00Z`), 'UTC');
	const words = $derived.by(() => {
		const [first, last] = [asked.get('from'), asked.get('from-to')];
		if (first && last) return `${day(first)} to ${day(last)}`;
		if (first) return `From ${day(first)}`;
		return last ? `Until ${day(last)}` : 'Any day';
	});
	function show(opened: boolean) {
		if (opened) [from, to] = [asked.get('from') ?? '', asked.get('from-to') ?? ''];
	}
</script>

{#if plans.length > 0}
	<SelectField
		label="Plan"
		hidesLabel
		class="w-48"
		options={[{ value: '', label: 'any plan' }, ...optionsOf(plans)]}
		from={asked.get('plan') ?? ''}
		onChoose={(value) => narrow({ plan: value })}
	/>
{/if}
<Popover title="Days" bind:isOpen onOpen={show}>
	{#snippet trigger()}{words} …{/snippet}
	<div class="grid gap-3">
		<MomentField to="day" label="{began} from" id="from" bind:value={from} />
		<MomentField to="day" label="to" id="from-to" bind:value={to} />
		<button
			type="button"
			class="button-main"
			onclick={() => ((isOpen = false), narrow({ from, 'from-to': to }))}>Show them</button
		>
	</div>
</Popover>
{#if isNarrowed}<button
		type="button"
		class="cursor-pointer underline"
		onclick={() => narrow(Object.fromEntries(NARROWING.map((name) => [name, null])))}>Show all</button
	>{/if}
