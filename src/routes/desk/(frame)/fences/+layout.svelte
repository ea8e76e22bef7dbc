<script lang="ts">
	import { SvelteURLSearchParams } from 'svelte/reactivity';
	import { page } from '$app/state';
	import SearchField from '$ui/fields/SearchField.svelte';
	import { oneStop } from '$ui/one-stop';
	import Pager from '$ui/parts/Pager.svelte';

	let { data, children } = $props();

	/** The list stays as it was found. */
	const listAsked = $derived.by(() => {
		const kept = new SvelteURLSearchParams();
		for (const name of ['q', 'page']) {
			const value = page.url.searchParams.get(name);
			if (value) kept.set(name, value);
		}
		return kept.size > 0 ? `?${kept}` : '';
	});
</script>

<div class="grid grid-cols-1 items-start gap-5 @4xl:grid-cols-[24rem_1fr]">
	<section
		class="sheet p-4 pt-6 {page.params.id
			? 'hidden @4xl:block'
			: ''} @4xl:sticky @4xl:top-4 @4xl:max-h-[88vh] @4xl:overflow-y-auto"
		aria-labelledby="fences"
	>
		<div class="flex items-baseline justify-between gap-3">
			<h1 id="fences" class="text-xl">Fences</h1>
			<a class="button-main" href="/desk/fences/new">New fence</a>
		</div>
		{#if data.hasMany}
			<form
				class="mt-3"
				role="search"
				data-sveltekit-keepfocus
				data-sveltekit-replacestate
				data-sveltekit-noscroll
			>
				<SearchField of="the fences" value={data.search} />
			</form>
		{/if}
		<ul class="mt-3 divide-y divide-line" data-sveltekit-preload-data="hover" {@attach oneStop}>
			{#each data.fences as fence (fence.id)}
				<li>
					<a
						href="/desk/fences/{fence.id}{listAsked}"
						aria-current={page.params.id === fence.id ? 'true' : undefined}
						class="block px-2 py-2 text-ink no-underline hover:bg-sunk {page.params.id === fence.id
							? 'border-l-3 border-moss bg-moss-wash'
							: 'border-l-3 border-transparent'}"
					>
						<span class="flex justify-between gap-2">
							<span class="font-medium">{fence.name}</span>
							<span class="text-sm {fence.isOn ? 'text-moss' : 'text-gorse'}"
								>{fence.isOn ? 'on' : 'off'}</span
							>
						</span>
						<span class="block text-sm text-quiet">{fence.words}</span>
						<span class="flex justify-between text-sm">
							<span class={fence.catches === 0 ? 'text-gorse' : 'text-quiet'}
								>{fence.catches === 1 ? '1 item' : `${fence.catches} items`} now</span
							>
							{#if fence.isWarned}<span class="font-medium text-gorse">look at it</span>{/if}
						</span>
					</a>
				</li>
			{:else}
				<li class="py-3 text-quiet">
					{data.search ? 'Nothing like that.' : 'A fence closes what it catches, and says who may cross.'}
				</li>
			{/each}
		</ul>
		<Pager of="the fences" total={data.total} pageSize={data.pageSize} />
		{#if data.findings.length > 0}
			<h2 class="mt-4">What looks wrong</h2>
			<ul class="mt-1 grid gap-1.5 text-sm">
				{#each data.findings as { text, href }, n (n)}
					<li>
						{text}
						{#if href}<a {href}>Look</a>{/if}
					</li>
				{/each}
				{#if data.moreFindings > 0}<li class="text-quiet">and {data.moreFindings} more</li>{/if}
			</ul>
		{/if}
	</section>
	<div class="min-w-0" id="editor" tabindex="-1">
		{#if page.params.id}<p class="mb-2 @4xl:hidden"><a href="/desk/fences">All fences</a></p>{/if}
		{@render children()}
	</div>
</div>
