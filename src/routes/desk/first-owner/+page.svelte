<script lang="ts">
	import { enhance } from '$app/forms';
	import SelectField from '$ui/fields/SelectField.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import ComboField from '$ui/fields/ComboField.svelte';
	import TextField from '$ui/fields/TextField.svelte';

	let { data, form } = $props();

	const errors = $derived(form?.errors ?? {});
	/** Of whoever sets it up, as far as their browser says: one that tells nobody where it is says UTC. */
	let zone = $state('Europe/Vienna');
	$effect(() => {
		const { timeZone } = Intl.DateTimeFormat().resolvedOptions();
		if (timeZone !== 'UTC' && data.zones.includes(timeZone)) zone = timeZone;
	});
	const typed = $derived((form?.values ?? {}) as Record<string, string>);
</script>

<svelte:head><title>The first owner · Stile</title></svelte:head>

<main class="mx-auto max-w-xl px-4 py-10">
	<form method="post" class="sheet grid gap-4 p-6 pt-7" novalidate use:enhance>
		<h1>Set up your site</h1>
		<p class="text-quiet">
			You become its first owner. Everything but the address you sign in with can be changed later.
		</p>
		<ErrorSummary {errors} />
		<input type="hidden" name="token" value={data.token} />
		<TextField
			name="siteName"
			label="Name of the site"
			hint="Such as Fernhollow Clock School."
			{errors}
			from={typed.siteName ?? ''}
		/>
		<TextField name="name" label="Your name" {errors} autocomplete="name" from={typed.name ?? ''} />
		<TextField
			name="email"
			label="Your e-mail address"
			{errors}
			type="email"
			autocomplete="username"
			from={typed.email ?? ''}
		/>
		<TextField
			name="password"
			label="Password"
			hint="At least 10 characters; length matters more than signs."
			{errors}
			type="password"
			autocomplete="new-password"
		/>
		<ComboField
			name="zone"
			label="Time zone"
			hint="Periods and days are counted in it."
			{errors}
			options={data.zones.map((zone) => ({ value: zone, label: zone }))}
			from={typed.zone ?? zone}
		/>
		<SelectField
			name="currency"
			label="Currency of your prices"
			options={data.currencies.map((code) => ({ value: code, label: code }))}
			from={typed.currency ?? 'EUR'}
			{errors}
		/>
		<button class="button-main justify-self-start">Begin</button>
	</form>
</main>
