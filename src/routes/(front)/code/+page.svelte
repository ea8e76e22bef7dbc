<script lang="ts">
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Field from '$ui/fields/Field.svelte';
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();

	const errors = $derived(form?.errors ?? {});
	const typed = $derived(String(form?.values?.code ?? data.code));
	/** Kept over a wrong code, wherever it was typed. */
	const next = $derived(String(form?.values?.next ?? data.next));
	const back = $derived(`/code?${new URLSearchParams({ code: typed, ...(next && { next }) })}`);
</script>

<svelte:head><title>{words().say('code.title')} · {data.site.name}</title></svelte:head>

<form method="post" class="sheet grid max-w-md gap-4 p-6 pt-7" novalidate>
	<h1>{words().say('code.title')}</h1>
	<ErrorSummary {errors} />
	<input type="hidden" name="next" value={next} />
	<Field name="code" label={words().say('code.code')} hint={words().say('code.hint')} {errors}>
		{#snippet children(props)}<input
				class="input"
				autocomplete="off"
				defaultValue={typed}
				{...props}
			/>{/snippet}
	</Field>
	{#if data.asksAddress}
		<Field name="email" label={words().say('code.address')} hint={words().say('code.address-hint')} {errors}>
			{#snippet children(props)}<input
					class="input"
					type="email"
					autocomplete="email"
					defaultValue={String(form?.values?.email ?? '')}
					{...props}
				/>{/snippet}
		</Field>
	{/if}
	<button class="button-main justify-self-start">{words().say('code.redeem')}</button>
	{#if data.asksAddress}
		<p class="text-quiet">
			{words().say('code.have-account')}
			<a href="/sign-in?{new URLSearchParams({ next: back })}">{words().say('sign-in.title')}</a>
		</p>
	{/if}
</form>
