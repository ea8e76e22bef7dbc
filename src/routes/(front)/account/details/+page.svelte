<script lang="ts">
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Field from '$ui/fields/Field.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();

	const account = $derived(data.account);
	const part = $derived(form && 'part' in form ? form.part : null);
	const errors = $derived((form && 'errors' in form ? form.errors : null) ?? {});
	const saved = $derived(form && 'saved' in form ? form.saved : null);
	const typedTax = $derived(
		(form && 'values' in form && part === 'tax' ? form.values : {}) as { country?: string; taxId?: string }
	);
	const askedAddress = $derived(form && 'askedAddress' in form ? form.askedAddress : null);
	const typedAddress = $derived(
		form && 'values' in form && part === 'address' ? String(form.values?.email ?? '') : ''
	);
	const typedName = $derived(form && 'values' in form && part === 'name' ? form.values?.name : null);
</script>

<svelte:head>
	<title>{words().say('account.details')} · {data.site.name}</title>
</svelte:head>

<p class="mb-2"><a href="/account">{words().say('account.title')}</a></p>
<h1 class="mb-6">{words().say('account.details')}</h1>

<div class="grid max-w-xl gap-6">
	<form method="post" action="?/name" class="sheet grid gap-4 p-6 pt-7" novalidate>
		<h2>{words().say('details.name-title')}</h2>
		{#if part === 'name'}<Saved text={saved} /><ErrorSummary {errors} />{/if}
		<Field
			name="name"
			label={words().say('details.name')}
			hint={words().say('details.name-hint')}
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
		<button class="button-main justify-self-start">{words().say('details.save-name')}</button>
	</form>

	<form method="post" action="?/language" class="sheet grid gap-4 p-6 pt-7" novalidate>
		<h2>{words().say('details.language-title')}</h2>
		{#if part === 'language'}<Saved text={saved} /><ErrorSummary {errors} />{/if}
		<Field
			name="language"
			label={words().say('details.language')}
			hint={words().say('details.language-hint')}
			errors={part === 'language' ? errors : {}}
		>
			{#snippet children(props)}
				<select class="input" {...props}>
					<option value="" selected={account.language === null}
						>{words().say('details.language-sites', { language: data.siteLanguage })}</option
					>
					{#each data.languages as { code, name } (code)}
						<option value={code} lang={code} selected={code === account.language}>{name}</option>
					{/each}
				</select>
			{/snippet}
		</Field>
		<button class="button-main justify-self-start">{words().say('details.save-language')}</button>
	</form>

	<form id="address" method="post" action="?/address" class="sheet grid gap-4 p-6 pt-7" novalidate>
		<h2>{words().say('details.address-title')}</h2>
		{#if part === 'address'}
			{#if askedAddress}<p role="status" class="border-l-4 border-moss bg-moss-wash px-4 py-2">
					{words().say('details.address-asked', { address: askedAddress })}
				</p>{/if}
			<ErrorSummary {errors} />
		{/if}
		<p class="text-quiet">{words().say('details.address', { address: account.email })}</p>
		<Field
			name="email"
			label={words().say('details.new-address')}
			hint={words().say('details.new-address-hint')}
			errors={part === 'address' ? errors : {}}
		>
			{#snippet children(props)}
				<input
					class="input"
					type="email"
					autocomplete="email"
					defaultValue={typedAddress}
					required
					{...props}
				/>
			{/snippet}
		</Field>
		{#if account.asksCurrent}
			<Field
				name="currentForAddress"
				label={words().say('details.current')}
				errors={part === 'address' ? errors : {}}
			>
				{#snippet children(props)}
					<input class="input" type="password" autocomplete="current-password" required {...props} />
				{/snippet}
			</Field>
		{/if}
		<button class="button-main justify-self-start">{words().say('details.ask-address')}</button>
	</form>

	{#if data.tax}
		<form method="post" action="?/tax" class="sheet grid gap-4 p-6 pt-7" novalidate>
			<h2>{words().say('details.tax-title')}</h2>
			{#if part === 'tax'}<Saved text={saved} /><ErrorSummary {errors} />{/if}
			<p class="text-quiet">{words().say('details.tax-hint')}</p>
			<Field name="country" label={words().say('checkout.country')} errors={part === 'tax' ? errors : {}}>
				{#snippet children(props)}
					<select class="input" autocomplete="country" required {...props}>
						<option value="">{words().say('checkout.country-choose')}</option>
						{#each data.countries as { code, name } (code)}
							<option value={code} selected={code === (typedTax.country ?? data.tax?.country)}>{name}</option>
						{/each}
					</select>
				{/snippet}
			</Field>
			<Field
				name="taxId"
				label={words().say('checkout.tax-id')}
				hint={words().say('checkout.tax-id-hint')}
				errors={part === 'tax' ? errors : {}}
			>
				{#snippet children(props)}
					<input
						class="input"
						autocomplete="off"
						autocapitalize="characters"
						maxlength="40"
						defaultValue={typedTax.taxId ?? data.tax?.taxId ?? ''}
						{...props}
					/>
				{/snippet}
			</Field>
			<button class="button-main justify-self-start">{words().say('details.save-tax')}</button>
		</form>
	{/if}

	<form method="post" action="?/password" class="sheet grid gap-4 p-6 pt-7" novalidate>
		<h2>{words().say(account.hasPassword ? 'details.new-password-title' : 'details.password-title')}</h2>
		{#if part === 'password'}<Saved text={saved} /><ErrorSummary {errors} />{/if}
		{#if !account.hasPassword}
			<p>{words().say('details.no-password')}</p>
		{/if}
		<input type="hidden" autocomplete="username" name="username" value={account.email} />
		{#if account.asksCurrent}
			<Field name="current" label={words().say('details.current')} {errors}>
				{#snippet children(props)}
					<input class="input" type="password" autocomplete="current-password" {...props} />
				{/snippet}
			</Field>
		{/if}
		<Field
			name="password"
			label={words().say(account.hasPassword ? 'details.new-password' : 'details.password')}
			hint={words().say('details.password-hint')}
			{errors}
		>
			{#snippet children(props)}
				<input class="input" type="password" autocomplete="new-password" {...props} />
			{/snippet}
		</Field>
		<div class="flex flex-wrap gap-3">
			<button class="button-main">{words().say('details.save-password')}</button>
			{#if account.asksCurrent}
				<button class="button-quiet" formaction="?/link">{words().say('details.link')}</button>
			{/if}
		</div>
	</form>

	{#if data.hasReminders || !account.wantsReminders}
		<form method="post" action="?/mails" class="sheet grid gap-4 p-6 pt-7">
			<h2>{words().say('mails.title')}</h2>
			{#if part === 'mails'}<Saved text={saved} />{/if}
			<label class="flex items-start gap-2">
				<input
					type="checkbox"
					name="wantsReminders"
					value="yes"
					class="mt-1"
					defaultChecked={account.wantsReminders}
				/>
				<span>{words().say('mails.want')}</span>
			</label>
			<p class="text-sm text-quiet">{words().say('mails.others')}</p>
			<button class="button-main justify-self-start">{words().say('mails.save')}</button>
		</form>
	{/if}

	<section class="sheet grid gap-4 p-6 pt-7" aria-labelledby="second">
		<h2 id="second">{words().say('second.title')}</h2>
		<p>
			{data.codeSince === null
				? words().say('second.is-off')
				: words().say('second.is-on', { when: words().moment(data.codeSince, data.site.zone) })}
		</p>
		<a class="button-quiet justify-self-start" href="/account/second"
			>{words().say(data.codeSince === null ? 'second.see' : 'second.change')}</a
		>
	</section>

	<form method="post" action="?/elsewhere" class="sheet grid gap-4 p-6 pt-7">
		<h2>{words().say('details.devices')}</h2>
		{#if part === 'devices'}<Saved text={saved} />{/if}
		{#if account.otherDevices === 0}
			<p>{words().say('details.only-here')}</p>
		{:else}
			<p>{words().say('details.elsewhere', { count: account.otherDevices })}</p>
			<button class="button-quiet justify-self-start">{words().say('details.sign-out-elsewhere')}</button>
		{/if}
	</form>

	<section class="sheet grid gap-4 p-6 pt-7" aria-labelledby="data">
		<h2 id="data">{words().say('details.data')}</h2>
		<p>{words().say('details.data-text')}</p>
		<a class="button-quiet justify-self-start" href="/account/details/data.json" download
			>{words().say('details.data-get')}</a
		>
	</section>
</div>
