<script lang="ts">
	import { enhance } from '$app/forms';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import { callStanding, listenWords } from '$ui/wording/calls';
	import TextField from '$ui/fields/TextField.svelte';
	import Confirm from '$ui/parts/Confirm.svelte';

	let { data, form } = $props();

	const errors = $derived((form && 'errors' in form ? form.errors : null) ?? {});
</script>

<svelte:head><title>Programs · Settings · Desk</title></svelte:head>

<section id="keys" class="sheet grid max-w-3xl gap-3 p-6 pt-7" aria-labelledby="programs">
	<h1 id="programs" class="text-xl">Keys for programs</h1>
	<p class="text-quiet">
		A program of yours asks with a key whether a member may open something: <code class="whitespace-nowrap"
			>POST /api/v1/decisions</code
		>.
	</p>
	<Saved text={form && 'saved' in form ? form.saved : null} />
	<ErrorSummary {errors} />
	{#if form && 'key' in form && form.key}
		<div role="status" class="rounded-sheet border-l-4 border-moss bg-moss-wash px-4 py-2">
			<p class="font-medium">Copy this key now. It is not shown again.</p>
			<p class="font-mono break-all">{form.key}</p>
		</div>
	{/if}
	<ul class="divide-y divide-line">
		{#each data.keys as key (key.id)}
			<li class="flex flex-wrap items-center justify-between gap-3 py-1.5">
				<span
					><span class="font-medium">{key.name}</span>, made <Moment
						at={key.createdAt}
						zone={data.site.zone}
					/></span
				>
				{#if key.revokedAt}<span class="text-sm text-slate">revoked</span>
				{:else}<Confirm
						label="Revoke"
						title="Revoke the key for {key.name}?"
						what="What asks with it is refused from now on, and it does not come back."
						action="?/revoke"
						confirmLabel="Revoke the key"
					>
						<input type="hidden" name="id" value={key.id} />
					</Confirm>{/if}
			</li>
		{:else}
			<li class="py-1.5 text-quiet">There is none yet.</li>
		{/each}
	</ul>
	<form method="post" action="?/key" class="grid gap-2" use:enhance novalidate>
		<TextField name="keyName" label="A new key for" hint="The program that uses it." {errors} />
		<button class="button-main justify-self-start">Make a key</button>
	</form>
</section>

<section id="checkouts" class="sheet mt-5 grid max-w-3xl gap-3 p-6 pt-7" aria-labelledby="elsewhere">
	<h2 id="elsewhere">Checkouts elsewhere</h2>
	<p class="text-quiet">
		A plan that is sold by another checkout: it tells by a signed call who bought it, and who has it no more. <code
			class="whitespace-nowrap">POST /api/v1/purchases</code
		>, with an example in the documents of Stile (docs/api.md).
	</p>
	<Saved text={form && 'ended' in form ? form.ended : null} />
	{#if form && 'checkout' in form && form.checkout}
		<div role="status" class="grid gap-1 rounded-sheet border-l-4 border-moss bg-moss-wash px-4 py-2">
			<p class="font-medium">Copy both now. The secret is not shown again.</p>
			<p>Its name as a signer: <span class="font-mono break-all">{form.checkout.id}</span></p>
			<p>Its secret: <span class="font-mono break-all">{form.checkout.secret}</span></p>
		</div>
	{/if}
	<ul class="divide-y divide-line">
		{#each data.checkouts as one (one.id)}
			<li class="flex flex-wrap items-center justify-between gap-3 py-1.5">
				<span
					><span class="font-medium">{one.name}</span>, made <Moment
						at={one.createdAt}
						zone={data.site.zone}
					/> <span class="block font-mono text-sm break-all text-quiet">{one.id}</span></span
				>
				{#if one.endedAt}<span class="text-sm text-slate">ended</span>
				{:else}<Confirm
						label="End"
						spoken="End {one.name}"
						title="Listen to {one.name} no more?"
						what="Its calls are refused from now on, and it does not come back. What it has granted stays."
						action="?/endCheckout"
						confirmLabel="Listen no more"
					>
						<input type="hidden" name="id" value={one.id} />
					</Confirm>{/if}
			</li>
		{:else}
			<li class="py-1.5 text-quiet">There is none yet.</li>
		{/each}
	</ul>
	<form method="post" action="?/checkout" class="grid gap-2" use:enhance novalidate>
		<TextField name="checkoutName" label="A new checkout" hint="What you call it." {errors} />
		<button class="button-main justify-self-start">Make it</button>
	</form>
</section>

<section id="told" class="sheet mt-5 grid max-w-3xl gap-3 p-6 pt-7" aria-labelledby="listeners">
	<h2 id="listeners">Programs that are told</h2>
	<p class="text-quiet">
		A mailing list, your books, whoever packs parcels: a program of yours is called, by a signed call, when
		somebody joins a plan, leaves it or buys. What it was told can be sent again, and taken along as a table.
	</p>
	<ul class="divide-y divide-line">
		{#each data.listeners as one (one.id)}
			<li class="flex flex-wrap items-baseline justify-between gap-x-4 gap-y-1 py-2">
				<span class="min-w-0"
					><a href="/desk/settings/programs/{one.id}" class="font-medium">{one.name}</a>
					<span class="block text-sm text-quiet"
						>{listenWords(one.events)}{one.url === null ? '; kept as a table' : ''}</span
					></span
				>
				<span class="text-sm {one.endedAt === null && one.failures > 0 ? 'text-gorse' : 'text-quiet'}"
					>{callStanding(one)}</span
				>
			</li>
		{:else}
			<li class="py-1.5 text-quiet">There is none yet.</li>
		{/each}
	</ul>
	<p><a class="button-main" href="/desk/settings/programs/new">Tell a program</a></p>
</section>
