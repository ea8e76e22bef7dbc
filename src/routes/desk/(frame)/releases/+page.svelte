<script lang="ts">
	import ListTree from '@lucide/svelte/icons/list-tree';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { writeLocal } from '$core/time/calendar';
	import type { BoardUnit } from '$core/access/release-bars';
	import { optionsOf } from '$ui/fields/labelled';
	import { asking } from '$ui/address';
	import CheckField from '$ui/fields/CheckField.svelte';
	import MomentField from '$ui/fields/MomentField.svelte';
	import SearchField from '$ui/fields/SearchField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import ComingReleases from '$ui/components/ComingReleases.svelte';
	import ReleaseEditor from '$ui/components/ReleaseEditor.svelte';
	import TimeRail from '$ui/components/TimeRail.svelte';
	import { WINDOW } from './ask';

	let { data, form } = $props();

	const zone = $derived(data.site.zone);

	/** So long after the last key a moment is typed to its end. */
	const TYPED_MS = 900;

	let unit = $state<BoardUnit>('week');
	let hasDates = $state(false);
	const nameOf = (id: string | null) => data.plans.find((one) => one.id === id)?.name ?? '';
	const board = $derived({ joinedAt: data.joinedAt, unit, zone });
	const search = $derived(page.url.searchParams.get('q') ?? '');
	const isReleased = $derived(page.url.searchParams.get('only') === 'released');
	const isAllFolded = $derived(page.url.searchParams.get('folds') === 'all');
	const nothing = $derived(
		search
			? 'Nothing is called like that.'
			: isReleased
				? `Nothing has a release of its own for ${nameOf(data.planId)} yet.`
				: 'The Library is empty. Make a course with lessons first.'
	);

	/** When something opens by itself. */
	let opening = $state.raw<number[]>([]);

	/** While it is typed: part by part it is a moment already, but not the one that is meant. */
	let joining = $state<string | null>(null);
	let settling: ReturnType<typeof setTimeout> | undefined;
	function join(typed: string) {
		joining = typed;
		clearTimeout(settling);
		if (typed === '') return;
		settling = setTimeout(() => {
			void ask({ joined: typed }).then(() => (joining = null));
		}, TYPED_MS);
	}

	function ask(changes: Record<string, string | null>): Promise<void> {
		return goto(asking(page.url.searchParams, changes), {
			replaceState: true,
			keepFocus: true,
			noScroll: true
		});
	}
</script>

<svelte:head><title>Releases · Desk</title></svelte:head>

<section class="sheet min-w-0 p-6" aria-labelledby="releases">
	<div class="flex flex-wrap items-end gap-x-4 gap-y-3">
		<div class="mr-auto min-w-48">
			<h1 id="releases" class="text-xl">Releases</h1>
			<p class="text-sm text-quiet">
				{#if data.within}Of {data.within}.
					<a href={asking(page.url.searchParams, { within: null })}>All of it</a>{:else}What opens when,
					counted from the day somebody joins a plan.{/if}
			</p>
		</div>
		<SelectField
			label="Plan"
			class="w-40"
			options={optionsOf(data.plans)}
			from={data.planId ?? ''}
			onChoose={(plan) => void ask({ plan })}
		/>
		<SelectField
			label="Compared with"
			class="w-40"
			options={[
				{ value: '', label: 'nothing' },
				...optionsOf(data.plans.filter(({ id }) => id !== data.planId))
			]}
			from={data.compareId ?? ''}
			onChoose={(compare) => void ask({ compare })}
		/>
		<MomentField
			label="For a member who joined on"
			bind:value={() => joining ?? writeLocal(data.joinedAt, zone), join}
		/>
	</div>
	<div class="mt-4 flex flex-wrap items-center gap-x-4 gap-y-2">
		<div class="w-56"><SearchField of="the board" value={search} onType={(q) => void ask({ q })} /></div>
		<CheckField
			label="Only what has a release"
			bind:checked={() => isReleased, (isOnly) => void ask({ only: isOnly ? 'released' : null })}
		/>
		<button
			type="button"
			class="tool"
			disabled={Boolean(search) || isReleased}
			onclick={() => void ask({ folds: isAllFolded ? null : 'all' })}
			><ListTree size={16} /> {isAllFolded ? 'Unfold all' : 'Fold all'}</button
		>
		<span class="ml-auto flex flex-wrap items-center gap-x-4 gap-y-3">
			{#if data.compareId}<span class="text-sm"
					><span class="mr-1.5 inline-block h-1.5 w-5 rounded-sheet bg-heather align-middle"></span>{nameOf(
						data.compareId
					)}</span
				>{/if}
			<SelectField
				label="Columns"
				hidesLabel
				class="w-52"
				options={[
					{ value: 'day', label: 'days since joining' },
					{ value: 'week', label: 'weeks since joining' },
					{ value: 'month', label: 'months since joining' }
				]}
				bind:value={() => unit, (to) => (unit = to as BoardUnit)}
			/>
			<CheckField label="as dates" bind:checked={hasDates} />
		</span>
	</div>
	<p class="mt-3 hidden text-sm text-quiet @3xl:block">
		Drag a bar, or its right end. By keys: up and down go from row to row, left and right move, with Shift
		they resize, Home opens at once, Delete takes the release away, Enter types it.
	</p>
	{#if data.planId}
		{#key data.planId}
			<ReleaseEditor
				first={data.first}
				pageSize={WINDOW}
				planId={data.planId}
				planName={nameOf(data.planId)}
				compareName={nameOf(data.compareId)}
				{board}
				{hasDates}
				idle={data.idle}
				{nothing}
				{form}
				onAsk={(changes) => void ask(changes)}
			/>
		{/key}
	{:else}<p class="mt-4 text-quiet">
			There is no plan yet, and so nobody whose time would count. <a href="/desk/plans/new"
				>Make the first plan</a
			>.
		</p>{/if}
</section>

<section class="sheet mt-5 p-6" aria-labelledby="coming">
	<h2 id="coming">Coming releases</h2>
	<p class="text-sm text-quiet">In the 60 days after the moment of the rail, for members as they are.</p>
	<ComingReleases
		within={page.url.searchParams.get('within')}
		at={data.moment.at}
		rules={data.moment.rules}
		{zone}
		onFound={(found) => (opening = found)}
	/>
</section>
<TimeRail moment={data.moment} marks={opening} {zone} />
