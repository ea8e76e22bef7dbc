<script lang="ts">
	import Search from '@lucide/svelte/icons/search';
	import { mode, toggleMode } from 'mode-watcher';
	import { page } from '$app/state';
	import Eye from '@lucide/svelte/icons/eye';
	import { refresh } from '$ui/refresh';
	import CommandField from '$ui/components/CommandField.svelte';
	import OneBook from '$ui/components/OneBook.svelte';
	import PracticeBar from '$ui/components/PracticeBar.svelte';
	import OtherSide from '$ui/components/OtherSide.svelte';
	import Shortcuts from '$ui/components/Shortcuts.svelte';
	import UploadsButton from '$ui/components/UploadsButton.svelte';
	import { forgetAll } from '$ui/parts/what-changed';
	import { provideUploads, Uploads } from '$ui/uploads.svelte';
	import { Toaster, toast } from 'svelte-sonner';
	import { onMount } from 'svelte';
	import Menu from '$ui/parts/Menu.svelte';
	import { formatMoment } from '$ui/wording/time';
	import { afterNavigate, goto } from '$app/navigation';
	import { focusAfter, isEditor, leadTo } from '$ui/desk-focus';
	import { hearNews, ofThisTab } from '$ui/news';

	let { data, children } = $props();

	const AREAS = [
		['Today', '/desk'],
		['Library', '/desk/library'],
		['Plans', '/desk/plans'],
		['Fences', '/desk/fences'],
		['Releases', '/desk/releases'],
		['Members', '/desk/members'],
		['Sales', '/desk/sales'],
		['Mail', '/desk/mail'],
		['Insight', '/desk/insight'],
		['Check', '/desk/check'],
		['Settings', '/desk/settings'],
		// What stands under another area has a place of its own for whoever may not go there.
		['Codes', '/desk/codes', '/desk/plans'],
		['Staff', '/desk/settings/staff', '/desk/settings']
	] as const;
	const areas = $derived(
		AREAS.filter(
			([, address, under]) =>
				data.areas.includes(address) && (under === undefined || !data.areas.includes(under))
		)
	);

	/** Long enough to be read, and to press what it offers. */
	const TOAST_MS = 15_000;

	/** Where somebody is in another view by now, it is told there. */
	const uploads = new Uploads(({ name, itemId }) => {
		if (itemId === null) return;
		toast.success(`${name} is received`, {
			duration: TOAST_MS,
			action: { label: 'Open it', onClick: () => void goto(`/desk/library/${itemId}`) }
		});
	});
	provideUploads(uploads);

	afterNavigate(({ from, to }) => {
		focusAfter(from?.url.pathname ?? null, to?.url.pathname ?? '');
		const named = to?.url.hash.slice(1);
		// The kit goes to it first, and takes the focus from what is in it.
		if (named) setTimeout(() => leadTo(named));
	});
	// Lists follow what happens.
	onMount(() =>
		hearNews(ofThisTab(), (news) => {
			void refresh(`desk:${news}`);
			if (news === 'library') void tellPrepared();
		})
	);

	/** Whoever sent a film and works elsewhere meanwhile hears what became of it. */
	async function tellPrepared() {
		for (const { itemId, title, problem } of await uploads.prepared()) {
			const href = `/desk/library/${itemId}`;
			if (page.url.pathname.startsWith(href)) continue;
			const action = { label: 'Open it', onClick: () => void goto(href) };
			if (problem === null) toast.success(`${title} is prepared`, { duration: TOAST_MS, action });
			else toast.error(`${title} could not be prepared`, { duration: TOAST_MS, action });
		}
	}

	let isFinding = $state(false);
	let isOtherSide = $state(false);
	const TOAST = {
		toast: 'floating flex w-full items-center gap-3 px-4 py-3',
		title: 'font-medium',
		actionButton: 'ml-auto cursor-pointer underline'
	};
	let headerHeight = $state(0);
	/** Codes stand with plans. */
	const isIn = (address: string) =>
		address === '/desk'
			? page.url.pathname === '/desk'
			: page.url.pathname.startsWith(address) ||
				(address === '/desk/plans' && page.url.pathname.startsWith('/desk/codes'));

	let signOut = $state<HTMLFormElement | null>(null);
	let nav = $state<HTMLElement | null>(null);
	const entries = $derived([
		...(data.hasMovableClock && data.areas.includes('/desk/settings')
			? [
					{
						label: `Demo clock: ${formatMoment(data.now, data.site.zone)}`,
						onChoose: () => void goto('/desk/settings/clock')
					}
				]
			: []),
		...(data.areas.includes('/desk/other-side')
			? [{ label: 'Other side (o)', onChoose: () => (isOtherSide = !isOtherSide) }]
			: []),
		...(data.areas.includes('/desk/settings/told')
			? [{ label: 'Mails to you', onChoose: () => void goto('/desk/settings/told') }]
			: []),
		...(data.areas.includes('/desk/practice')
			? [{ label: 'Practise buying', onChoose: () => void goto('/desk/practice') }]
			: []),
		{ label: 'To the front', onChoose: () => location.assign('/') },
		{ label: mode.current === 'dark' ? 'Light' : 'Dark', onChoose: toggleMode },
		{ label: 'Keys (?)', onChoose: () => (isShowingKeys = true) },
		// Whoever practises is signed in twice: they leave practice first.
		...(data.isPractice ? [] : [{ label: 'Sign out', onChoose: () => signOut?.requestSubmit() }])
	]);
	let isShowingKeys = $state(false);
	// Where the areas do not fit, the one that somebody is in is in sight.
	$effect(() => {
		void page.url.pathname;
		nav?.querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
	});
</script>

<a href="#content" class="sr-only focus:not-sr-only">To the content</a>
{#if isEditor(page.url.pathname) && !page.url.pathname.startsWith('/desk/members')}<a
		href="#editor"
		class="sr-only focus:not-sr-only">To what is open</a
	>{/if}
<OneBook isPractice={data.isPractice} />
<header
	class="grid grid-cols-[minmax(0,1fr)_auto] items-stretch border-b border-line bg-sheet md:h-14 md:grid-cols-[auto_minmax(0,1fr)_auto]"
	bind:clientHeight={headerHeight}
>
	<a
		href="/desk"
		class="flex h-12 min-w-0 items-center gap-2 pr-2 pl-5 font-semibold text-ink no-underline md:h-auto md:max-w-56"
	>
		<svg
			class="shrink-0"
			width="24"
			height="20"
			viewBox="0 0 24 20"
			fill="none"
			stroke="var(--moss)"
			stroke-width="2"
			aria-hidden="true"
		>
			<path d="M5 1v18M19 1v18M1 15h7M16 15h7M1 7h7M16 7h7M8 15v-3h8v3M10 12V9h4v3" />
		</svg>
		<span class="truncate" title={data.site.name}>{data.site.name}</span>
	</a>
	<nav
		class="order-last col-span-2 flex h-10 items-stretch overflow-x-auto border-t border-line px-3 [scrollbar-width:none] md:order-none md:col-span-1 md:h-auto md:border-0"
		aria-label="Areas"
		bind:this={nav}
	>
		{#each areas as [label, address] (address)}
			<a
				href={address}
				aria-current={isIn(address) ? 'page' : undefined}
				class="flex shrink-0 items-center border-y-3 border-t-transparent px-2 font-medium 2xl:px-2.5 no-underline {isIn(
					address
				)
					? 'border-b-moss text-moss'
					: 'border-b-transparent text-ink hover:border-b-line'}">{label}</a
			>
		{/each}
	</nav>
	<div class="flex items-center gap-1.5 pr-4">
		<UploadsButton {uploads} />
		<button class="button-quiet" onclick={() => (isFinding = true)}>
			<Search size={16} /> Find <kbd class="hidden font-sans text-sm text-quiet 2xl:inline">Ctrl K</kbd>
		</button>
		{#if data.areas.includes('/desk/other-side')}<button
				class="button-quiet hidden sm:inline-flex"
				aria-pressed={isOtherSide}
				onclick={() => (isOtherSide = !isOtherSide)}
			>
				<Eye size={16} /> Other side <kbd class="hidden font-sans text-sm text-quiet 2xl:inline">o</kbd>
			</button>{/if}
		<Menu label="More" {entries} />
		<form method="post" action="/sign-out" onsubmit={forgetAll} bind:this={signOut} hidden></form>
	</div>
</header>
{#if data.isPractice}<PracticeBar />{/if}
<noscript
	><p class="border-b border-gorse bg-gorse-wash px-5 py-2 font-medium">
		The Desk can be read without scripts, but nothing can be saved: let them run for this site.
	</p></noscript
>
<div class="flex items-start" style:--above="{headerHeight}px">
	<main id="content" class="@container mx-auto w-full max-w-[1500px] min-w-0 p-5">{@render children()}</main>
	{#if data.areas.includes('/desk/other-side')}<OtherSide
			plans={data.planChoices}
			zone={data.site.zone}
			{headerHeight}
			bind:isOpen={isOtherSide}
		/>{/if}
</div>
<CommandField areas={data.areas} hasMovableClock={data.hasMovableClock} bind:isOpen={isFinding} />
<Toaster
	position="bottom-right"
	theme={mode.current ?? 'light'}
	toastOptions={{ unstyled: true, classes: TOAST }}
/>
<Shortcuts bind:isOpen={isShowingKeys} />
