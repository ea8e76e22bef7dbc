<script lang="ts">
	import LogOut from '@lucide/svelte/icons/log-out';
	import Moon from '@lucide/svelte/icons/moon';
	import Search from '@lucide/svelte/icons/search';
	import Sun from '@lucide/svelte/icons/sun';
	import { mode, toggleMode } from 'mode-watcher';
	import { page } from '$app/state';
	import Eye from '@lucide/svelte/icons/eye';
	import { refresh } from '$ui/refresh';
	import CommandField from '$ui/components/CommandField.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import OtherSide from '$ui/components/OtherSide.svelte';
	import Shortcuts from '$ui/components/Shortcuts.svelte';
	import UploadsButton from '$ui/components/UploadsButton.svelte';
	import { forgetAll } from '$ui/parts/what-changed';
	import { provideUploads, Uploads } from '$ui/uploads.svelte';
	import { Toaster, toast } from 'svelte-sonner';
	import { onMount } from 'svelte';
	import { goto } from '$app/navigation';
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
		['Settings', '/desk/settings'],
		// What stands under another area has a place of its own for whoever may not go there.
		['Codes', '/desk/codes', '/desk/fences'],
		['Check access', '/desk/check', '/desk/members'],
		['Staff', '/desk/settings/staff', '/desk/settings']
	] as const;
	const areas = $derived(
		AREAS.filter(
			([, address, under]) =>
				data.areas.includes(address) && (under === undefined || !data.areas.includes(under))
		)
	);

	/** Where somebody is in another view by now, it is told there. */
	const uploads = new Uploads(({ name, itemId }) => {
		if (itemId === null) return;
		toast.success(`${name} is received`, {
			action: { label: 'Open it', onClick: () => void goto(`/desk/library/${itemId}`) }
		});
	});
	provideUploads(uploads);

	// Lists follow what happens.
	onMount(() => hearNews(ofThisTab(), (news) => void refresh(`desk:${news}`)));

	let isFinding = $state(false);
	let isOtherSide = $state(false);
	const TOAST = {
		toast: 'floating flex w-full items-center gap-3 px-4 py-3',
		title: 'font-medium',
		actionButton: 'ml-auto cursor-pointer underline'
	};
	let headerHeight = $state(0);
	const isIn = (address: string) =>
		address === '/desk' ? page.url.pathname === '/desk' : page.url.pathname.startsWith(address);
</script>

<a href="#content" class="sr-only focus:not-sr-only">To the content</a>
<header class="border-b border-line bg-sheet" bind:clientHeight={headerHeight}>
	<div class="flex flex-wrap items-center gap-x-4 gap-y-2 px-5 pt-3 pb-2">
		<a href="/desk" class="flex items-center gap-2 font-semibold text-ink no-underline">
			<svg
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
			{data.site.name}
		</a>
		<a href="/" class="text-sm">To the front</a>
		<button class="button-quiet ml-auto min-w-56 justify-start text-quiet" onclick={() => (isFinding = true)}>
			<Search size={16} /> Find anything <kbd class="ml-auto font-sans text-sm">Ctrl K</kbd>
		</button>
		<UploadsButton {uploads} />
		{#if data.areas.includes('/desk/other-side')}<button
				class="button-quiet"
				aria-pressed={isOtherSide}
				onclick={() => (isOtherSide = !isOtherSide)}
			>
				<Eye size={16} /> Other side <kbd class="font-sans text-sm text-quiet">o</kbd>
			</button>{/if}
		<button class="button-quiet" onclick={toggleMode}>
			{#if mode.current === 'dark'}<Sun size={16} /> Light{:else}<Moon size={16} /> Dark{/if}
		</button>
		<form method="post" action="/sign-out" onsubmit={forgetAll}>
			<button class="button-quiet"><LogOut size={16} /> Sign out</button>
		</form>
	</div>
	<nav class="flex flex-wrap items-end gap-1 px-4" aria-label="Areas">
		{#each areas as [label, address] (address)}
			<a
				href={address}
				aria-current={isIn(address) ? 'page' : undefined}
				class="border-b-3 px-3 pt-1 pb-2 font-medium no-underline {isIn(address)
					? 'border-moss text-moss'
					: 'border-transparent text-ink hover:border-line'}">{label}</a
			>
		{/each}
		{#if data.hasMovableClock && data.areas.includes('/desk/settings')}
			<a href="/desk/settings#clock" class="ml-auto pb-2 text-sm text-quiet">
				Demo clock: <Moment at={data.now} zone={data.site.zone} precise />
			</a>
		{/if}
	</nav>
</header>
<noscript
	><p class="border-b border-gorse bg-gorse-wash px-5 py-2 font-medium">
		The Desk can be read without scripts, but nothing can be saved: let them run for this site.
	</p></noscript
>
<div class="flex items-start">
	<main id="content" class="@container mx-auto w-full max-w-[1500px] min-w-0 p-5">{@render children()}</main>
	{#if data.areas.includes('/desk/other-side')}<OtherSide
			plans={data.planChoices}
			zone={data.site.zone}
			{headerHeight}
			bind:isOpen={isOtherSide}
		/>{/if}
</div>
<CommandField bind:isOpen={isFinding} />
<Toaster
	position="bottom-right"
	theme={mode.current ?? 'light'}
	toastOptions={{ unstyled: true, classes: TOAST }}
/>
<Shortcuts />
