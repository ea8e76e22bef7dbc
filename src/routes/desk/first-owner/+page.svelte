<script lang="ts">
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Field from '$ui/components/Field.svelte';

	let { data, form } = $props();

	const errors = $derived(form?.errors ?? {});
	const typed = $derived((form?.values ?? {}) as Record<string, string>);
</script>

<svelte:head><title>The first owner · Stile</title></svelte:head>

<main class="mx-auto max-w-xl px-4 py-10">
	<form method="post" class="sheet grid gap-4 p-6 pt-7" novalidate>
		<h1>Set up your site</h1>
		<p class="text-quiet">
			You become its first owner. Everything but the address you sign in with can be changed later.
		</p>
		<ErrorSummary {errors} />
		<input type="hidden" name="token" value={data.token} />
		<Field name="siteName" label="Name of the site" hint="Such as Fernhollow Clock School." {errors}>
			{#snippet children(props)}<input
					class="input"
					defaultValue={typed.siteName ?? ''}
					{...props}
				/>{/snippet}
		</Field>
		<Field name="name" label="Your name" {errors}>
			{#snippet children(props)}<input
					class="input"
					autocomplete="name"
					defaultValue={typed.name ?? ''}
					{...props}
				/>{/snippet}
		</Field>
		<Field name="email" label="Your e-mail address" {errors}>
			{#snippet children(props)}
				<input
					class="input"
					type="email"
					autocomplete="username"
					defaultValue={typed.email ?? ''}
					{...props}
				/>
			{/snippet}
		</Field>
		<Field
			name="password"
			label="Password"
			hint="At least 10 characters; length matters more than signs."
			{errors}
		>
			{#snippet children(props)}
				<input class="input" type="password" autocomplete="new-password" {...props} />
			{/snippet}
		</Field>
		<Field name="zone" label="Time zone" hint="Periods and days are counted in it." {errors}>
			{#snippet children(props)}
				<input class="input" list="zones" defaultValue={typed.zone ?? 'Europe/Vienna'} {...props} />
			{/snippet}
		</Field>
		<datalist id="zones"
			>{#each data.zones as zone (zone)}<option value={zone}></option>{/each}</datalist
		>
		<Field name="currency" label="Currency of your prices" {errors}>
			{#snippet children(props)}
				<select class="input" {...props}>
					{#each data.currencies as code (code)}
						<option selected={code === (typed.currency ?? 'EUR')}>{code}</option>
					{/each}
				</select>
			{/snippet}
		</Field>
		<button class="button-main justify-self-start">Begin</button>
	</form>
</main>
