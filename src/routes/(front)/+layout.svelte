<script lang="ts">
	import { provideWords } from '$ui/words';
	import { frontWords } from '$words/front';
	import OneBook from '$ui/components/OneBook.svelte';

	let { data, children } = $props();

	provideWords(() => data.site.language);
	const words = $derived(frontWords(data.site.language));

	const next = $derived(data.path === '/' ? '' : `?next=${encodeURIComponent(data.path)}`);
</script>

{#if data.isPractice || data.viewer?.isStaff}<OneBook isPractice={data.isPractice} />{/if}
<a href="#content" class="sr-only focus:not-sr-only">{words.say('site.to-content')}</a>
<div class="flex min-h-screen flex-col">
	<header class="border-b border-line bg-sheet">
		<nav
			class="mx-auto flex max-w-5xl flex-wrap items-center gap-x-6 gap-y-1 px-4 py-3"
			aria-label={words.say('site.menu')}
		>
			<a href="/" class="mr-auto text-lg font-semibold text-ink no-underline">{data.site.name}</a>
			<span class="flex flex-wrap gap-x-6 gap-y-1">
				<a href="/plans" class="text-ink">{words.say('site.plans')}</a>
				{#if data.viewer?.isStaff}<a href="/desk" class="text-ink">{words.say('site.desk')}</a>{/if}
				{#if data.viewer}
					<a href="/account" class="text-ink">{words.say('site.account')}</a>
				{:else}
					<a href="/sign-in?find" class="text-ink">{words.say('site.find-access')}</a>
					<a href="/sign-in{next}" class="text-ink">{words.say('site.sign-in')}</a>
				{/if}
			</span>
		</nav>
		{#if data.isPractice}
			<p class="bg-ink px-4 py-1.5 text-center text-sm font-medium text-sheet" role="note">
				{words.say('site.practice')}
				<a class="ml-1 text-sheet" href="/desk/practice" data-sveltekit-reload
					>{words.say('site.practice-book')}</a
				>
			</p>
		{/if}
		{#if data.viewer?.owes && !data.path.startsWith('/account/pay/')}
			<p class="border-t border-line bg-gorse-wash px-4 py-1.5 text-center text-sm" role="status">
				{words.say('site.owes', { plan: data.viewer.owes.plan })}
				<a class="ml-1 font-medium" href="/account/pay/{data.viewer.owes.agreementId}"
					>{words.say('site.pay')}</a
				>
			</p>
		{/if}
		{#if data.otherSide}
			<p class="border-t border-line bg-gorse-wash px-4 py-1.5 text-center text-sm" role="note">
				{words.say('site.other-side', {
					who: data.otherSide.label,
					when: words.moment(data.otherSide.at, data.site.zone)
				})}
			</p>
		{:else if data.viewer?.seesEverything}
			<p class="border-t border-line bg-gorse-wash px-4 py-1.5 text-center text-sm">
				{words.say('site.staff')}
			</p>
		{/if}
	</header>
	<main id="content" class="mx-auto w-full max-w-5xl grow px-4 py-8">{@render children()}</main>
	<footer class="mx-auto flex w-full max-w-5xl flex-wrap gap-x-5 gap-y-1 px-4 py-6 text-sm text-quiet">
		<span class="mr-auto">{data.site.name}</span>
		{#if !data.viewer}<a href="/sign-in?find" class="text-quiet">{words.say('site.find-access')}</a>{/if}
		{#each data.site.legal as { page, href } (page)}
			<a {href} class="text-quiet">{words.say(`legal.${page}`)}</a>
		{/each}
	</footer>
</div>
