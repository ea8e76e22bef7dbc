<script lang="ts">
	import { enhance } from '$app/forms';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import ListenerFields from '$ui/components/ListenerFields.svelte';

	let { data, form } = $props();

	const made = $derived(form && 'made' in form ? form.made : null);
	const refused = $derived(form && 'errors' in form ? form : null);
</script>

<svelte:head><title>Tell a program · Settings · Desk</title></svelte:head>

<p class="mb-2"><a href="/desk/settings/programs#told">All programs</a></p>
<section class="sheet grid max-w-3xl gap-4 p-6 pt-7" aria-labelledby="new-listener">
	<h1 id="new-listener" class="text-xl">Tell a program</h1>
	{#if made}
		<div role="status" class="grid gap-1 rounded-sheet border-l-4 border-moss bg-moss-wash px-4 py-2">
			{#if made.isCalled}
				<p class="font-medium">
					It is told from now on. Give it both of these now; the secret is not shown again.
				</p>
				<p>We sign as: <span class="font-mono break-all">{made.id}</span></p>
				<p>With the secret: <span class="font-mono break-all">{made.secret}</span></p>
				<p class="text-sm">How a call is checked is said, with an example, in docs/api.md.</p>
			{:else}<p class="font-medium">It is kept from now on.</p>{/if}
		</div>
		<p>
			<a class="button-main" href="/desk/settings/programs/{made.id}"
				>{made.isCalled ? 'On to a trial call' : 'To its table'}</a
			>
		</p>
	{:else}
		<ErrorSummary errors={refused?.errors ?? {}} />
		<form method="post" class="grid gap-4" use:enhance novalidate>
			<ListenerFields
				plans={data.plans}
				kept={{ name: '', url: '', events: ['joined', 'left', 'bought'], planIds: null }}
				values={refused?.values ?? {}}
				errors={refused?.errors ?? {}}
			/>
			<button class="button-main justify-self-start">Make it</button>
		</form>
	{/if}
</section>
