<script lang="ts">
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Field from '$ui/components/Field.svelte';

	let { data, form } = $props();

	const errors = $derived(form && 'errors' in form ? form.errors : {});
	const email = $derived(form && 'values' in form ? String(form.values?.email ?? '') : '');
	const mailedTo = $derived(form && 'mailedTo' in form ? form.mailedTo : null);
	const query = $derived(data.next ? `&next=${encodeURIComponent(data.next)}` : '');
</script>

<svelte:head><title>Sign in · {data.site.name}</title></svelte:head>

<div class="sheet max-w-md p-6 pt-7">
	<h1 class="mb-4">Sign in</h1>
	{#if mailedTo}
		<p role="status">
			If {mailedTo} has an account here, a link is on its way. Open it on this device and press the button on its
			page.
		</p>
		<p class="mt-4"><a href="/sign-in?{query.slice(1)}">Back</a></p>
	{:else}
		<form method="post" action="?/password{query}" class="grid gap-4" novalidate>
			<ErrorSummary {errors} />
			<Field name="email" label="E-mail address" {errors}>
				{#snippet children(props)}
					<input
						class="input"
						type="email"
						autocomplete="username"
						defaultValue={email}
						required
						{...props}
					/>
				{/snippet}
			</Field>
			<Field name="password" label="Password" {errors}>
				{#snippet children(props)}
					<input class="input" type="password" autocomplete="current-password" {...props} />
				{/snippet}
			</Field>
			<div class="flex flex-wrap gap-3">
				<button class="button-main">Sign in</button>
				<button class="button-quiet" formaction="?/link{query}">Mail me a link instead</button>
			</div>
		</form>
	{/if}
</div>
