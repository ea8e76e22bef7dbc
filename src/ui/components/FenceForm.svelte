<script lang="ts">
	import { enhance } from '$app/forms';
	import type { Fence } from '$core/access/model';
	import ErrorSummary from './ErrorSummary.svelte';
	import Field from './Field.svelte';
	import Saved from './Saved.svelte';

	/** Puts up a fence, or changes one. `preset`: what a new one begins with. */
	let {
		fence,
		preset = { itemIds: [], planIds: [] },
		items,
		plans,
		defaultNotice,
		errors = {},
		values = {},
		saved = null
	}: {
		fence: Fence | null;
		preset?: { itemIds: string[]; planIds: string[] };
		items: { id: string; title: string; address: string }[];
		plans: { id: string; name: string }[];
		defaultNotice: string;
		errors?: Record<string, string[]>;
		values?: Record<string, string | string[]>;
		saved?: string | null;
	} = $props();

	const isBack = $derived(Object.keys(errors).length > 0);
	const audiences = $derived(fence?.crossings.map(({ audience }) => audience) ?? []);
	const list = (value: string | string[] | undefined) => (value === undefined ? [] : [value].flat());
	const chosenItems = $derived(isBack ? list(values.items) : (fence?.selector.itemIds ?? preset.itemIds));
	const chosenPlans = $derived(
		isBack
			? list(values.plans)
			: fence
				? audiences.flatMap((a) => (a.kind === 'holders' ? a.planIds : []))
				: preset.planIds
	);
	const isChecked = (name: string, kind: 'signed-in' | 'anyone') =>
		isBack ? values[name] === 'yes' : audiences.some((a) => a.kind === kind);
	const turnAway = $derived((isBack ? values.turnAway : fence?.turnAway?.kind) ?? 'site');
	const notice = $derived(values.notice ?? (fence?.turnAway?.kind === 'notice' ? fence.turnAway.text : ''));
	const sentTo = $derived(values.sentTo ?? (fence?.turnAway?.kind === 'sent' ? fence.turnAway.to : ''));
	const name = $derived(
		values.name ?? fence?.name ?? items.find((item) => item.id === preset.itemIds[0])?.title ?? ''
	);

	let search = $state('');
	const shown = $derived(
		items.filter(
			(item) =>
				chosenItems.includes(item.id) || item.title.toLowerCase().includes(search.trim().toLowerCase())
		)
	);
</script>

<form
	method="post"
	action="?/save"
	class="sheet grid gap-5 p-6 pt-7"
	novalidate
	use:enhance={() =>
		({ update }) =>
			update({ reset: false })}
>
	<div class="flex flex-wrap items-baseline justify-between gap-3">
		<h2>{fence ? fence.name : 'A new fence'}</h2>
		<label class="flex items-center gap-2">
			<input
				type="checkbox"
				name="isOn"
				value="yes"
				checked={isBack ? values.isOn === 'yes' : (fence?.isOn ?? true)}
			/> On
		</label>
	</div>
	<Saved text={saved} />
	<ErrorSummary {errors} />
	<Field name="name" label="Name" {errors}>
		{#snippet children(props)}<input class="input" value={name} {...props} />{/snippet}
	</Field>

	<fieldset id="items">
		<legend class="font-medium">What it catches</legend>
		<input
			class="input mt-1 max-w-80"
			type="search"
			placeholder="Find an item"
			aria-label="Find an item"
			bind:value={search}
			onkeydown={(event) => event.key === 'Enter' && event.preventDefault()}
		/>
		<ul class="mt-2 max-h-56 overflow-y-auto rounded-sheet border border-line">
			{#each shown as item (item.id)}
				<li class="border-b border-line px-3 py-1.5 last:border-0">
					<label class="flex items-baseline gap-2">
						<input type="checkbox" name="items" value={item.id} checked={chosenItems.includes(item.id)} />
						{item.title} <span class="text-sm text-quiet">{item.address}</span>
					</label>
				</li>
			{:else}
				<li class="px-3 py-2 text-quiet">Nothing by that name. Bring it in at the Library first.</li>
			{/each}
		</ul>
		{#if errors.items}<p class="text-sm font-medium text-brick">{errors.items[0]}</p>{/if}
	</fieldset>

	<fieldset class="grid gap-1">
		<legend class="mb-1 font-medium">What it does</legend>
		<label class="flex items-baseline gap-2">
			<input
				type="radio"
				name="mode"
				value="replaces"
				checked={(values.mode ?? fence?.mode ?? 'replaces') === 'replaces'}
			/>
			<span>Closes: only those below may cross</span>
		</label>
		<label class="flex items-baseline gap-2">
			<input type="radio" name="mode" value="adds" checked={(values.mode ?? fence?.mode) === 'adds'} />
			<span>Adds: those below may cross too, and nothing is taken from anybody</span>
		</label>
	</fieldset>

	<fieldset id="plans" class="grid gap-1">
		<legend class="mb-1 font-medium">Who may cross</legend>
		{#each plans as plan (plan.id)}
			<label class="flex items-center gap-2">
				<input type="checkbox" name="plans" value={plan.id} checked={chosenPlans.includes(plan.id)} />
				Holders of {plan.name}
			</label>
		{/each}
		<label class="flex items-center gap-2">
			<input type="checkbox" name="signedIn" value="yes" checked={isChecked('signedIn', 'signed-in')} /> Everyone
			signed in
		</label>
		<label class="flex items-center gap-2">
			<input type="checkbox" name="anyone" value="yes" checked={isChecked('anyone', 'anyone')} /> Anyone, strangers
			too
		</label>
		<p class="text-sm text-quiet">With none of them, only staff get through.</p>
		{#if errors.plans}<p class="text-sm font-medium text-brick">{errors.plans[0]}</p>{/if}
	</fieldset>

	<fieldset class="grid gap-2">
		<legend class="mb-1 font-medium">What everybody else gets</legend>
		<label class="flex items-baseline gap-2">
			<input type="radio" name="turnAway" value="site" checked={turnAway === 'site'} />
			<span>The notice of the site: “{defaultNotice}”</span>
		</label>
		<label class="flex items-baseline gap-2">
			<input type="radio" name="turnAway" value="notice" checked={turnAway === 'notice'} />
			<span>A notice of its own, with the plans that open it</span>
		</label>
		<div class="ml-6">
			<Field name="notice" label="Notice" {errors}>
				{#snippet children(props)}<textarea class="input" rows="3" {...props}>{notice}</textarea>{/snippet}
			</Field>
		</div>
		<label class="flex items-baseline gap-2">
			<input type="radio" name="turnAway" value="sent" checked={turnAway === 'sent'} />
			<span>They are sent elsewhere</span>
		</label>
		<div class="ml-6">
			<Field
				name="sentTo"
				label="To this path"
				hint="/sign-in, a plan’s page, or any other of this site."
				{errors}
			>
				{#snippet children(props)}<input class="input max-w-96" value={sentTo} {...props} />{/snippet}
			</Field>
		</div>
		<label class="flex items-baseline gap-2">
			<input type="radio" name="turnAway" value="absent" checked={turnAway === 'absent'} />
			<span>As if there were no such page</span>
		</label>
	</fieldset>
	<button class="button-main justify-self-start">{fence ? 'Save' : 'Put up the fence'}</button>
</form>
