<script lang="ts">
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Field from '$ui/components/Field.svelte';

	let { data, form } = $props();

	const errors = $derived(form?.errors ?? {});
	const typed = $derived(String(form?.values?.code ?? data.code));
</script>

<svelte:head><title>Redeem a code · {data.site.name}</title></svelte:head>

<form method="post" class="sheet grid max-w-md gap-4 p-6 pt-7" novalidate>
	<h1>Redeem a code</h1>
	<ErrorSummary {errors} />
	<input type="hidden" name="next" value={data.next} />
	<Field name="code" label="Code" hint="Large or small letters, with or without hyphens." {errors}>
		{#snippet children(props)}<input
				class="input"
				autocomplete="off"
				defaultValue={typed}
				{...props}
			/>{/snippet}
	</Field>
	<button class="button-main justify-self-start">Redeem</button>
</form>
