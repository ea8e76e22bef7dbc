<script lang="ts">
	import { page } from '$app/state';
	import SearchField from '$ui/fields/SearchField.svelte';
	import { oneStop } from '$ui/one-stop';
	import { findSettings, settingsSections } from '$ui/settings-places';

	let { data, children } = $props();

	let text = $state('');
	/** The section itself, or what stands below it. */
	const isHere = (href: string) =>
		page.url.pathname === href || (href !== '/desk/settings' && page.url.pathname.startsWith(`${href}/`));
	const sections = $derived(settingsSections(data.areas, data.hasMovableClock));
	const found = $derived(findSettings(text, data.areas, data.hasMovableClock));
</script>

<div class="grid grid-cols-1 items-start gap-5 @4xl:grid-cols-[17rem_minmax(0,1fr)]">
	<div class="sheet p-4 pt-6 @4xl:sticky @4xl:top-4">
		<p class="mb-3 text-xl font-semibold">Settings</p>
		<SearchField of="the settings" value={text} onType={(typed) => (text = typed)} />
		{#if text.trim() === ''}
			<nav class="mt-3" aria-label="Sections">
				<ul class="flex flex-wrap gap-x-1 gap-y-0.5 @4xl:grid" {@attach oneStop}>
					{#each sections as { href, label, about } (href)}
						<li>
							<a
								{href}
								aria-current={page.url.pathname === href ? 'page' : isHere(href) ? 'true' : undefined}
								class="block border-l-3 px-2 py-1.5 text-ink no-underline hover:bg-sunk {isHere(href)
									? 'border-moss bg-moss-wash'
									: 'border-transparent'}"
								><span class="font-medium">{label}</span><span class="hidden text-sm text-quiet @4xl:block"
									>{about}</span
								></a
							>
						</li>
					{/each}
				</ul>
			</nav>
		{:else}
			<ul class="mt-3 grid gap-0.5" aria-label="Settings found" {@attach oneStop}>
				{#each found as { href, label, section } (href)}
					<li>
						<a {href} class="block px-2 py-1.5 no-underline hover:bg-sunk">
							<span class="font-medium">{label}</span>
							<span class="block text-sm text-quiet">{section}</span>
						</a>
					</li>
				{:else}
					<li class="px-2 py-1.5 text-quiet">No setting is called that.</li>
				{/each}
			</ul>
		{/if}
	</div>
	<div class="@container min-w-0">{@render children()}</div>
</div>
