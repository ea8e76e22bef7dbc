<script lang="ts">
	import { enhance } from '$app/forms';
	import { RESOURCE_KINDS, type ResourceKind } from '$core/access/model';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import ItemFields from '$ui/components/ItemFields.svelte';
	import { KIND_WORDS } from '$ui/wording/library';

	let { data, form } = $props();

	const errors = $derived(form?.errors ?? {});
	const typed = $derived((form?.values ?? {}) as Record<string, string | string[]>);
	const text = (name: string) => String(typed[name] ?? '');
	/** Videos come in by upload. */
	const kinds = RESOURCE_KINDS.filter((kind) => kind !== 'video');
</script>

<svelte:head><title>New · Library · Desk</title></svelte:head>

{#if !data.kind}
	<section class="sheet p-6 pt-7">
		<h2>What is it?</h2>
		<p class="mt-1 text-quiet">A video comes in by its file: drop it on the left.</p>
		<ul class="mt-4 grid gap-2 sm:grid-cols-3">
			{#each kinds as kind (kind)}<li>
					<a class="button-quiet w-full" href="?kind={kind}">{KIND_WORDS[kind].one}</a>
				</li>{/each}
		</ul>
	</section>
{:else}
	{@const kind = data.kind as ResourceKind}
	<form method="post" class="sheet grid max-w-2xl gap-4 p-6 pt-7" novalidate use:enhance>
		<h2>A new {KIND_WORDS[kind].one}</h2>
		<ErrorSummary {errors} />
		<input type="hidden" name="kind" value={kind} />
		<ItemFields
			{kind}
			{errors}
			places={{ ...data.places, ...form?.places }}
			categories={data.categories}
			tags={data.tags}
			values={{
				title: text('title'),
				description: text('description') || '[]',
				address: text('address'),
				home: form ? text('home') : data.homeId,
				category: text('category'),
				tags: [typed.tags ?? []].flat(),
				base:
					text('base') === 'open' || (!form && ['page', 'course', 'section', 'show', 'shelf'].includes(kind))
						? 'open'
						: 'closed',
				fileName: text('fileName'),
				target: text('target'),
				opensInBrowser: typed.opensInBrowser === 'yes',
				showsPoster: !form || typed.showsPoster === 'yes'
			}}
		/>
		<button class="button-main justify-self-start">Make it</button>
	</form>
{/if}
