<script lang="ts">
	import { invalidateAll } from '$app/navigation';
	import { page } from '$app/state';
	import UploadBox from '$ui/components/UploadBox.svelte';
	import { ITEM_WORDS, preparationWords } from '$ui/wording/library';
	import { formatLength } from '$ui/wording/time';

	let { data, children } = $props();
</script>

<div class="grid items-start gap-5 lg:grid-cols-[24rem_1fr]">
	<section class="sheet p-4 pt-6" aria-labelledby="library">
		<h1 id="library" class="mb-3 text-xl">Library</h1>
		<UploadBox limit={data.uploadLimit} onDone={() => void invalidateAll()} />
		<form class="mt-4 flex gap-2" role="search">
			<input
				class="input"
				type="search"
				name="q"
				value={data.search}
				placeholder="Find"
				aria-label="Find in the Library"
			/>
			<button class="button-quiet">Find</button>
		</form>
		<ul class="mt-3 divide-y divide-line">
			{#each data.library as item (item.id)}
				<li>
					<a
						href="/desk/library/{item.id}{page.url.search}"
						aria-current={page.params.id === item.id ? 'true' : undefined}
						class="block px-2 py-2 text-ink no-underline hover:bg-sunk {page.params.id === item.id
							? 'border-l-3 border-moss bg-moss-wash'
							: 'border-l-3 border-transparent'}"
					>
						<span class="block font-medium">{item.title}</span>
						<span class="flex flex-wrap gap-x-3 text-sm text-quiet">
							<span
								>{item.assetState === 'ready'
									? ITEM_WORDS[item.state]
									: preparationWords(item.assetState)}</span
							>
							{#if item.seconds}<span>{formatLength(item.seconds)}</span>{/if}
							<span class={item.fences === 0 ? 'text-gorse' : ''}>
								{item.fences === 0 ? 'no fence' : item.fences === 1 ? '1 fence' : `${item.fences} fences`}
							</span>
						</span>
					</a>
				</li>
			{:else}
				<li class="py-3 text-quiet">
					{data.search ? 'Nothing by that name.' : 'Videos that you upload stand here.'}
				</li>
			{/each}
		</ul>
	</section>
	{@render children()}
</div>
