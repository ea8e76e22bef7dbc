<script lang="ts">
	import { enhance } from '$app/forms';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { asking } from '$ui/address';
	import { ChosenRows } from '$ui/chosen-rows.svelte';
	import { optionsOf } from '$ui/fields/labelled';
	import Fold from '$ui/parts/Fold.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import MomentField from '$ui/fields/MomentField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import DataTable from '$ui/parts/DataTable.svelte';
	import MembersBar from '$ui/components/MembersBar.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Popover from '$ui/parts/Popover.svelte';
	import { formatDay } from '$ui/wording/time';

	let { data, form } = $props();

	const STATE_OPTIONS = [
		{ value: 'holds', label: 'hold a plan' },
		{ value: 'runs-out', label: 'hold one that runs out' },
		{ value: 'lapsed', label: 'held one before' },
		{ value: 'never', label: 'never held one' }
	];

	const errors = $derived(
		((form && 'errors' in form ? form.errors : null) ?? {}) as Record<string, string[]>
	);
	const typed = $derived(((form && 'values' in form ? form.values : null) ?? {}) as Record<string, string>);

	const columns = [
		{ key: 'name', label: 'Name', sortable: true },
		{ key: 'email', label: 'E-mail', sortable: true },
		{ key: 'plans', label: 'Plans held' },
		{ key: 'labels', label: 'Labels' },
		{ key: 'ends', label: 'Until' },
		{ key: 'joined', label: 'Came', sortable: true }
	];

	const STATES = [
		['holds', 'hold a plan'],
		['lapsed', 'held one before'],
		['never', 'never held one']
	] as const;

	const asked = $derived(page.url.searchParams);
	/** What the list is of: without the page and the order. */
	const ask = $derived(asking(asked, { page: null, order: null }).slice(1));
	const chosen = new ChosenRows(
		() => ask,
		() => data.rows
	);

	const NARROWING = ['plan', 'state', 'label', 'came', 'came-to', 'ended', 'ended-to'];
	const isNarrowed = $derived(NARROWING.some((name) => asked.get(name)));
	const narrow = (changes: Record<string, string | null>) =>
		void goto(asking(asked, { ...changes, page: null }), {
			keepFocus: true,
			noScroll: true,
			replaceState: true
		});

	let isWhenOpen = $state(false);
	const DAYS = ['came', 'came-to', 'ended', 'ended-to'] as const;
	let days = $state({ came: '', 'came-to': '', ended: '', 'ended-to': '' });
	const span = (words: string, from: string | null, to: string | null) => {
		const day = (text: string) => formatDay(Date.parse(`${text}T12:00Z`), 'UTC');
		if (from && to) return `${words} ${day(from)} to ${day(to)}`;
		if (from) return `${words} from ${day(from)}`;
		return to ? `${words} until ${day(to)}` : null;
	};
	const whenWords = $derived(
		[
			span('came', asked.get('came'), asked.get('came-to')),
			span('ended', asked.get('ended'), asked.get('ended-to'))
		]
			.filter((words) => words !== null)
			.join(', ')
			.replace(/^./, (c) => c.toUpperCase())
	);
	function showWhen(isOpen: boolean) {
		if (isOpen) for (const name of DAYS) days[name] = asked.get(name) ?? '';
	}
</script>

<svelte:head><title>Members · Desk</title></svelte:head>

<section class="sheet p-5 pt-6">
	<div class="mb-3 flex flex-wrap items-baseline gap-x-5 gap-y-1">
		<h1 class="text-xl">Members</h1>
		<p class="flex flex-wrap gap-x-4 gap-y-2 text-quiet">
			{#each STATES as [state, words] (state)}
				<a
					href={asking(asked, { state: asked.get('state') === state ? null : state, page: null })}
					aria-current={asked.get('state') === state ? 'true' : undefined}
					class={asked.get('state') === state ? 'font-semibold text-ink' : 'text-quiet'}
					>{data.totals[state].toLocaleString('en')} {words}</a
				>
			{/each}
		</p>
		<span class="ml-auto flex gap-4">
			<a href="/desk/members/import">Bring in by a table</a>
			<a href="/desk/members/labels">Labels</a>
			<a href="/desk/check">Check access</a>
		</span>
	</div>
	<div class="mb-5">
		<Fold label="Add a member by hand" isOpen={form !== null && !('bulk' in form)}>
			<form method="post" action="?/add" class="grid gap-4 md:grid-cols-2" novalidate use:enhance>
				<div class="md:col-span-2"><ErrorSummary {errors} /></div>
				<TextField
					name="email"
					label="E-mail address"
					hint="An invitation with a way in is mailed there."
					type="email"
					from={typed.email ?? ''}
					{errors}
				/>
				<TextField name="name" label="Name" from={typed.name ?? ''} {errors} />
				<SelectField
					name="plan"
					label="Plan, from now on"
					options={[{ value: '', label: 'none' }, ...optionsOf(data.planChoices)]}
					from={typed.plan ?? ''}
					{errors}
				/>
				<MomentField name="until" label="Until (for good, if empty)" from={typed.until ?? ''} {errors} />
				<button class="button-main justify-self-start">Add and invite</button>
			</form>
		</Fold>
	</div>
	<DataTable
		caption="Members"
		{columns}
		rows={data.rows}
		total={data.total}
		pageSize={data.pageSize}
		chosen={chosen.ids}
		nameOf={({ name }) => name}
	>
		{#snippet tools()}
			{#each [{ name: 'plan', label: 'Plan', any: 'any plan', options: optionsOf(data.planChoices) }, { name: 'state', label: 'State', any: 'any state', options: STATE_OPTIONS }, { name: 'label', label: 'Label', any: 'any label', options: optionsOf(data.labelChoices) }] as { name, label, any, options } (name)}
				{#if options.length > 0}
					<SelectField
						{label}
						hidesLabel
						class="w-44"
						options={[{ value: '', label: any }, ...options]}
						from={asked.get(name) ?? ''}
						onChoose={(value) => narrow({ [name]: value })}
					/>
				{/if}
			{/each}
			<Popover title="When" bind:isOpen={isWhenOpen} onOpen={showWhen}>
				{#snippet trigger()}{whenWords || 'Any time'} …{/snippet}
				<div class="grid gap-3">
					<MomentField to="day" label="Came from" id="came" bind:value={days.came} />
					<MomentField to="day" label="to" id="came-to" bind:value={days['came-to']} />
					<MomentField to="day" label="A plan of theirs ended from" id="ended" bind:value={days.ended} />
					<MomentField to="day" label="to" id="ended-to" bind:value={days['ended-to']} />
					<button type="button" class="button-main" onclick={() => ((isWhenOpen = false), narrow(days))}
						>Show them</button
					>
				</div>
			</Popover>
			{#if isNarrowed}<button
					type="button"
					class="cursor-pointer underline"
					onclick={() => narrow(Object.fromEntries(NARROWING.map((name) => [name, null])))}>Show all</button
				>{/if}
		{/snippet}
		{#snippet row(member)}
			<td class="py-2 pr-4 font-medium"><a href="/desk/members/{member.id}">{member.name}</a></td>
			<td class="py-2 pr-4">{member.email}</td>
			<td class="py-2 pr-4">
				{#if member.plans}{member.plans}{:else}<span class="text-slate"
						>{member.endsAt === null ? 'none' : 'lapsed'}</span
					>{/if}
			</td>
			<td class="py-2 pr-4">{member.labels ?? ''}</td>
			<td class="py-2 pr-4"
				>{#if member.renews}renews
				{:else if member.endsAt !== null}{member.endsAt <= data.now ? 'ended ' : ''}<Moment
						at={member.endsAt}
						zone={data.site.zone}
					/>
				{:else if member.plans}for good{/if}</td
			>
			<td class="py-2"><Moment at={member.createdAt} zone={data.site.zone} /></td>
		{/snippet}
		{#snippet empty()}
			<p class="py-6 text-quiet">
				{isNarrowed || asked.get('q')
					? 'Nobody is like that.'
					: 'Nobody yet. Members stand here once they have paid, or were added by hand.'}
			</p>
		{/snippet}
	</DataTable>
	<MembersBar
		{chosen}
		total={data.total}
		{ask}
		plans={data.planChoices}
		labels={data.labelChoices}
		zone={data.site.zone}
	/>
</section>
