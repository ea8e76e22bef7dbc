<script lang="ts">
	/** The moment that a view is worked out for: a day that is dragged to or reached by keys, or a moment that is typed. `n` is now. */
	import { untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { asking } from '$ui/address';
	import { addCalendar, atHour, calendarBetween, readLocal, writeLocal } from '$core/time/calendar';
	import MomentField from '$ui/fields/MomentField.svelte';
	import Popover from '$ui/parts/Popover.svelte';
	import Slider from '$ui/parts/Slider.svelte';
	import CheckField from '$ui/fields/CheckField.svelte';
	import { formatDay, formatMoment } from '$ui/wording/time';

	let {
		moment,
		marks = [],
		zone,
		onGo = goInAddress
	}: {
		moment: { at: number; now: number; from: number; to: number; rules: 'today' | 'then'; assume: string };
		/** Where something changes. */
		marks?: number[];
		zone: string;
		/** Takes what changes: `null` for a parameter that is taken away. The page's address keeps it otherwise. */
		onGo?: (changes: Changes) => Promise<void>;
	} = $props();

	type Changes = Record<string, string | null>;

	/** What else stands at the foot of the window stands above it. */
	let height = $state(0);
	$effect(() => {
		const { style } = document.documentElement;
		style.setProperty('--rail', `${height}px`);
		return () => style.removeProperty('--rail');
	});

	let dragged = $state<number | null>(null);
	let timer: ReturnType<typeof setTimeout> | undefined;
	const shown = $derived(dragged ?? moment.at);
	const isNow = $derived(dragged === null && Math.abs(moment.at - moment.now) < 60_000);
	/** The rail goes by days of the publisher's clocks, each from its first moment. */
	const firstDay = $derived(atHour(moment.from, 0, zone));
	const dayAt = (n: number) =>
		Math.min(moment.to, Math.max(moment.from, addCalendar(firstDay, n, 'day', zone)));
	const dayOf = (at: number) => Math.max(0, Math.floor(calendarBetween(firstDay, at, 'day', zone)));
	const share = (at: number) => ((at - moment.from) / (moment.to - moment.from)) * 100;
	const seen = $derived([...new Set(marks.filter((at) => at > moment.from && at < moment.to))].slice(0, 200));

	function go(changes: Changes) {
		void onGo(changes).then(() => (dragged = null));
	}

	function goInAddress(changes: Changes): Promise<void> {
		return goto(asking(page.url.searchParams, changes), {
			replaceState: true,
			keepFocus: true,
			noScroll: true
		});
	}

	function drag(day: number) {
		dragged = dayAt(day);
		clearTimeout(timer);
		timer = setTimeout(() => go({ asof: String(dragged) }), 180);
	}

	let isTyping = $state(false);
	let typed = $state('');
	let problem = $state('');

	function beginTyping(isOpen: boolean) {
		if (!isOpen) return;
		typed = untrack(() => writeLocal(shown, zone));
		problem = '';
	}

	function takeTyped(event: SubmitEvent) {
		event.preventDefault();
		const read = readLocal(typed, zone);
		const isWithin = read.ok && read.at >= moment.from && read.at <= moment.to;
		problem = !read.ok
			? 'Type a whole date and a time.'
			: isWithin
				? ''
				: `Choose a moment between ${formatDay(moment.from, zone)} and ${formatDay(moment.to, zone)}.`;
		if (!read.ok || !isWithin) return;
		isTyping = false;
		go({ asof: String(read.at) });
	}

	function onkeydown(event: KeyboardEvent) {
		const target = event.target as HTMLElement;
		const isInField =
			target.isContentEditable ||
			(/^(?:INPUT|TEXTAREA|SELECT)$/.test(target.tagName) && target.getAttribute('type') !== 'range');
		if (event.key === 'n' && !isInField && !event.ctrlKey && !event.metaKey) go({ asof: null });
		else if (event.key === ']' && !isInField) next(1);
		else if (event.key === '[' && !isInField) next(-1);
	}

	/** To the next or last mark. */
	function next(direction: 1 | -1) {
		const wanted =
			direction === 1
				? seen.filter((at) => at > shown).sort((a, b) => a - b)[0]
				: seen.filter((at) => at < shown).sort((a, b) => b - a)[0];
		if (wanted !== undefined) go({ asof: String(wanted) });
	}
</script>

<svelte:window {onkeydown} />

<section
	bind:clientHeight={height}
	class="sticky bottom-0 z-10 -mx-5 mt-6 flex min-h-9 flex-wrap items-center gap-x-4 gap-y-1 border-t-2 px-5 text-sm {isNow
		? 'border-line'
		: 'border-gorse'} bg-sheet"
	aria-label="Time rail"
>
	<Popover
		title="As of an exact moment"
		showsTitle
		side="top"
		class="w-96"
		triggerClass="min-h-6 cursor-pointer font-semibold whitespace-nowrap underline decoration-line underline-offset-4 hover:decoration-current"
		onOpen={beginTyping}
		bind:isOpen={isTyping}
	>
		{#snippet trigger()}As of {formatMoment(shown, zone)}{isNow ? ' (now)' : ''}{/snippet}
		<form onsubmit={takeTyped} class="grid gap-3" novalidate>
			<MomentField label="Day and time" bind:value={typed} />
			{#if problem}<p role="alert" class="text-sm font-medium text-brick">{problem}</p>{/if}
			<button class="button-main justify-self-start">Go there</button>
		</form>
	</Popover>
	<span class="flex gap-3">
		<button type="button" class="cursor-pointer underline" onclick={() => go({ asof: null })}>Now (n)</button>
		<button
			type="button"
			class="cursor-pointer underline"
			onclick={() => next(-1)}
			disabled={seen.length === 0}>Change before ([)</button
		>
		<button
			type="button"
			class="cursor-pointer underline"
			onclick={() => next(1)}
			disabled={seen.length === 0}>Next change (])</button
		>
	</span>
	{#if moment.at < moment.now - 60_000}
		<CheckField
			label="by the rules of then"
			bind:checked={() => moment.rules === 'then', (isThen) => go({ rules: isThen ? 'then' : null })}
		/>
	{/if}
	{#if moment.at > moment.now}
		<CheckField
			label="only what is paid (otherwise renewals go on)"
			bind:checked={
				() => moment.assume === 'only-what-is-paid', (isPaid) => go({ assume: isPaid ? 'paid' : null })
			}
		/>
	{/if}
	<span class="flex min-w-64 grow items-center gap-3 text-quiet">
		<span class="whitespace-nowrap">{formatDay(moment.from, zone)}</span>
		<span class="relative block grow">
			<Slider
				label="As of"
				value={dayOf(shown)}
				min={0}
				max={dayOf(moment.to)}
				says={formatMoment(shown, zone)}
				onMove={drag}
			/>
			<span class="pointer-events-none absolute inset-x-0 bottom-0 block h-1.5" aria-hidden="true">
				<span class="absolute top-0 h-1.5 w-0.5 bg-ink" style:left="{share(moment.now)}%"></span>
				{#each seen as at (at)}<span class="absolute top-0 h-1.5 w-0.5 bg-gorse" style:left="{share(at)}%"
					></span>{/each}
			</span>
		</span>
		<span class="whitespace-nowrap">{formatDay(moment.to, zone)}</span>
	</span>
</section>
