<script lang="ts">
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Field from '$ui/components/Field.svelte';
	import Saved from '$ui/components/Saved.svelte';

	let { data, form } = $props();

	const account = $derived(data.account);
	const part = $derived(form && 'part' in form ? form.part : null);
	const errors = $derived((form && 'errors' in form ? form.errors : null) ?? {});
	const saved = $derived(form && 'saved' in form ? form.saved : null);
	const typedName = $derived(form && 'values' in form && part === 'name' ? form.values?.name : null);
	const others = $derived(
		account.otherDevices === 1 ? 'one other device' : `${account.otherDevices} other devices`
	);
</script>

<svelte:head>
	<title
		>{Object.keys(errors).length > 0 ? 'Not saved: ' : ''}Name, password and devices · {data.site.name}</title
	>
</svelte:head>

<p class="mb-2"><a href="/account">Your account</a></p>
<h1 class="mb-6">Name, password and devices</h1>

<div class="grid max-w-xl gap-6">
	<form method="post" action="?/name" class="sheet grid gap-4 p-6 pt-7" novalidate>
		<h2>Your name</h2>
		{#if part === 'name'}<Saved text={saved} /><ErrorSummary {errors} />{/if}
		<Field
			name="name"
			label="Name"
			hint="It stands on receipts from now on."
			errors={part === 'name' ? errors : {}}
		>
			{#snippet children(props)}
				<input
					class="input"
					autocomplete="name"
					defaultValue={String(typedName ?? account.name)}
					required
					{...props}
				/>
			{/snippet}
		</Field>
		<p class="text-quiet">Your e-mail address is {account.email}.</p>
		<button class="button-main justify-self-start">Save the name</button>
	</form>

	<form method="post" action="?/password" class="sheet grid gap-4 p-6 pt-7" novalidate>
		<h2>{account.hasPassword ? 'A new password' : 'A password'}</h2>
		{#if part === 'password'}<Saved text={saved} /><ErrorSummary {errors} />{/if}
		{#if !account.hasPassword}
			<p>You have none: you sign in by a mailed link. With a password, both ways are open.</p>
		{/if}
		<input type="hidden" autocomplete="username" name="username" value={account.email} />
		{#if account.asksCurrent}
			<Field name="current" label="The password that you have now" {errors}>
				{#snippet children(props)}
					<input class="input" type="password" autocomplete="current-password" {...props} />
				{/snippet}
			</Field>
		{/if}
		<Field
			name="password"
			label={account.hasPassword ? 'The new password' : 'Password'}
			hint="At least 10 characters. Every other device is signed out."
			{errors}
		>
			{#snippet children(props)}
				<input class="input" type="password" autocomplete="new-password" {...props} />
			{/snippet}
		</Field>
		<div class="flex flex-wrap gap-3">
			<button class="button-main">Save the password</button>
			{#if account.asksCurrent}
				<button class="button-quiet" formaction="?/link">I do not know it: mail me a link</button>
			{/if}
		</div>
	</form>

	<form method="post" action="?/elsewhere" class="sheet grid gap-4 p-6 pt-7">
		<h2>Where you are signed in</h2>
		{#if part === 'devices'}<Saved text={saved} />{/if}
		{#if account.otherDevices === 0}
			<p>On this device, and nowhere else.</p>
		{:else}
			<p>On this device and {others}.</p>
			<button class="button-quiet justify-self-start">Sign out everywhere else</button>
		{/if}
	</form>
</div>
