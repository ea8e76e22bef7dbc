<script lang="ts">
	import Field from '$ui/fields/Field.svelte';
	import { useWords } from '$ui/words';

	/** Where whoever wants a plan that cannot be bought leaves their address; works without script. */
	let {
		slug,
		address,
		waits,
		form
	}: {
		slug: string;
		/** Of the member who looks; `null`: it is asked for. */
		address: string | null;
		/** They stand on the list already. */
		waits: boolean;
		form: {
			errors?: Record<string, string[]>;
			values?: Record<string, string | string[]>;
			mailed?: string;
		} | null;
	} = $props();

	const words = useWords();
	const said = $derived(form?.errors?.email?.[0] ?? '');
</script>

<section class="grid gap-3" aria-labelledby="waiting">
	<h2 id="waiting">{words().say('wait.title')}</h2>
	{#if waits}
		<p role={form ? 'status' : undefined}>{words().say('wait.waits')}</p>
		<form method="post" action="/plans/{slug}?/leave">
			<button class="button-quiet">{words().say('wait.end')}</button>
		</form>
	{:else if form?.mailed}
		<p role="status">{words().say('wait.mailed', { address: form.mailed })}</p>
	{:else}
		<form method="post" action="/plans/{slug}?/wait" class="grid gap-3" novalidate>
			{#if address === null}
				<p>{words().say('wait.text')}</p>
				<Field name="email" label={words().say('sign-in.address')} errors={form?.errors ?? {}}>
					{#snippet children(props)}
						<input
							class="input"
							type="email"
							autocomplete="email"
							defaultValue={String(form?.values?.email ?? '')}
							required
							{...props}
						/>
					{/snippet}
				</Field>
			{:else}
				<p>{words().say('wait.text-member', { address })}</p>
				{#if said}<p role="alert" class="font-medium text-brick">{words().maybe(said)}</p>{/if}
			{/if}
			<button class="button-main justify-self-start">{words().say('wait.ask')}</button>
		</form>
	{/if}
</section>
