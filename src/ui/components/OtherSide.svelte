<script lang="ts">
	/** The front as somebody else, beside what is being edited: `o` opens and closes it. */
	import { untrack, type ComponentProps } from 'svelte';
	import { page } from '$app/state';
	import { optionsOf } from '$ui/fields/labelled';
	import Slider from '$ui/parts/Slider.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import NumberField from '$ui/fields/NumberField.svelte';
	import Picker from '$ui/fields/Picker.svelte';
	import TimeRail from './TimeRail.svelte';

	let {
		plans,
		zone,
		headerHeight,
		isOpen = $bindable(false)
	}: {
		plans: { id: string; name: string }[];
		zone: string;
		headerHeight: number;
		isOpen?: boolean;
	} = $props();

	let scrollY = $state(0);
	/** It ends where the window ends, whether the header is scrolled away or not. */
	const above = $derived(Math.max(0, headerHeight - scrollY));

	type Kind = 'stranger' | 'member' | 'holder' | 'lapsed';

	let kind = $state<Kind>('stranger');
	let planId = $state(untrack(() => plans[0]?.id ?? ''));
	let days = $state('0');
	let member = $state<{ id: string; label: string } | null>(null);
	let path = $state('/');
	let prefix = $state('');
	let problem = $state('');
	let width = $state(46);
	let asked = 0;

	/** An item that is being edited is looked at; the moment is the rail's. */
	const suggested = $derived((page.data.item as { address?: string | null } | undefined)?.address ?? null);
	/** The rail of the page, or where it has none, one of its own. */
	const hasPageRail = $derived(page.data.moment !== undefined);
	let ownMoment = $state<Record<string, string | null>>({});
	const moment = $derived(
		['asof', 'rules', 'assume']
			.flatMap((name) => {
				const value = hasPageRail ? page.url.searchParams.get(name) : ownMoment[name];
				return value ? [`${name}=${encodeURIComponent(value)}`] : [];
			})
			.join('&')
	);
	let rail = $state<Pick<ComponentProps<typeof TimeRail>, 'moment' | 'marks'> | null>(null);

	$effect(() => {
		if (suggested) path = suggested;
	});

	$effect(() => {
		if (!isOpen) return;
		const as =
			kind === 'stranger'
				? { kind }
				: kind === 'member'
					? { kind, id: member?.id }
					: { kind, id: planId, days };
		if (kind === 'member' && !member) {
			prefix = '';
			return;
		}
		const body = JSON.stringify({ as, moment: `?${moment}`, path });
		const mine = ++asked;
		const timer = setTimeout(() => void look(body, mine), 250);
		return () => clearTimeout(timer);
	});

	async function look(body: string, mine: number) {
		const response = await fetch('/desk/other-side', {
			method: 'POST',
			body,
			headers: { 'content-type': 'application/json' }
		});
		const answer = (await response.json()) as {
			prefix?: string;
			message?: string;
			moment?: NonNullable<typeof rail>['moment'];
			marks?: number[];
		};
		if (mine !== asked) return;
		prefix = answer.prefix ?? '';
		problem = answer.message ?? '';
		if (answer.moment) rail = { moment: answer.moment, marks: answer.marks ?? [] };
	}

	function onkeydown(event: KeyboardEvent) {
		const target = event.target as HTMLElement;
		const isTyping = target.isContentEditable || /^(?:INPUT|TEXTAREA|SELECT)$/.test(target.tagName);
		if (event.key === 'o' && !isTyping && !event.ctrlKey && !event.metaKey && !event.altKey) isOpen = !isOpen;
		else if (event.key === 'Escape' && isOpen && !event.defaultPrevented) isOpen = false;
	}
</script>

<svelte:window {onkeydown} bind:scrollY />

{#if isOpen}
	<aside
		class="sticky top-0 grid shrink-0 grid-rows-[auto_1fr_auto] border-l-4 border-moss bg-sheet"
		style:width="{width}%"
		style:height="calc(100dvh - {above}px)"
		aria-label="The other side"
	>
		<div class="grid gap-2 border-b border-line p-3">
			<div class="flex items-baseline justify-between gap-3">
				<h2>The other side</h2>
				<div class="w-24">
					<Slider
						label="Width"
						value={width}
						min={28}
						max={70}
						says="{width} % of the window"
						onMove={(to) => (width = to)}
					/>
				</div>
				<button type="button" class="cursor-pointer underline" onclick={() => (isOpen = false)}
					>Close (o)</button
				>
			</div>
			<div class="flex flex-wrap items-center gap-2">
				<SelectField
					label="Look as"
					hidesLabel
					class="w-60"
					options={[
						{ value: 'stranger', label: 'as a stranger' },
						{ value: 'holder', label: 'as a holder of' },
						{ value: 'lapsed', label: 'as one whose plan has lapsed' },
						{ value: 'member', label: 'as a member' }
					]}
					bind:value={() => kind, (to) => (kind = to as Kind)}
				/>
				{#if kind === 'holder' || kind === 'lapsed'}
					<SelectField label="Plan" hidesLabel class="w-44" options={optionsOf(plans)} bind:value={planId} />
				{/if}
				{#if kind === 'holder'}
					<span class="text-sm">joined</span>
					<NumberField label="Days ago" hidesLabel min={0} class="w-16" unit="days ago" bind:value={days} />
				{/if}
				{#if kind === 'member'}
					<div class="w-64">
						<Picker
							label="Member"
							kinds="member"
							placeholder={member?.label ?? 'Type a name or address'}
							onChoose={(found) => (member = found)}
						/>
					</div>
				{/if}
			</div>
			<TextField label="Path" bind:value={path} />
			{#if problem}<p class="text-sm font-medium text-brick">{problem}</p>{/if}
		</div>
		{#if prefix}
			<iframe
				class="h-full w-full bg-ground"
				title="The front, as somebody else"
				src={prefix + (path.startsWith('/') ? path : `/${path}`)}
			></iframe>
		{:else}
			<p class="p-5 text-quiet">Choose as whom to look.</p>
		{/if}
		{#if rail && !hasPageRail}
			<div class="px-5">
				<TimeRail
					{...rail}
					{zone}
					onGo={async (changes) => {
						ownMoment = { ...ownMoment, ...changes };
					}}
				/>
			</div>
		{/if}
	</aside>
{/if}
