<script lang="ts">
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import Field from '$ui/fields/Field.svelte';
	import OneTimeCodeField from '$ui/fields/OneTimeCodeField.svelte';
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();

	const errors = $derived((form && 'errors' in form ? form.errors : null) ?? {});
	const saved = $derived(form && 'saved' in form ? form.saved : null);
	const codes = $derived((form && 'codes' in form ? form.codes : null) ?? null);
	const offer = $derived((form && 'offer' in form ? form.offer : null) ?? data.offer);
	const file = $derived(codes && `data:text/plain;charset=utf-8,${encodeURIComponent(codes.join('\n'))}`);
	const query = $derived(data.next ? `&next=${encodeURIComponent(data.next)}` : '');
</script>

<svelte:head><title>{words().say('second.title')} · {data.site.name}</title></svelte:head>

<p class="mb-2"><a href="/account/details">{words().say('account.details')}</a></p>
<h1 class="mb-6">{words().say('second.title')}</h1>

<div class="grid max-w-xl gap-6">
	{#if data.isStaffAsked}
		<p class="border-l-4 border-gorse bg-gorse-wash px-4 py-2">{words().say('second.staff')}</p>
	{/if}
	<Saved text={saved} />
	{#if codes}
		<section class="sheet grid gap-4 p-6 pt-7" aria-labelledby="codes">
			<h2 id="codes">{words().say('second.codes-title')}</h2>
			<p>{words().say('second.codes')}</p>
			<ul class="grid grid-cols-1 gap-x-6 gap-y-1 tracking-wide tabular-nums sm:grid-cols-2">
				{#each codes as code (code)}<li>{code}</li>{/each}
			</ul>
			<div class="flex flex-wrap gap-3">
				{#if data.next}<a class="button-main" href={data.next}>{words().say('second.go-on')}</a>{/if}
				<a class="button-quiet" href={file} download="codes.txt">{words().say('second.codes-save')}</a>
			</div>
		</section>
	{/if}
	{#if data.factor.since !== null}
		<form method="post" action="?/codes{query}" class="sheet grid gap-4 p-6 pt-7" novalidate>
			<p>
				{words().say('second.is-on', { when: words().moment(data.factor.since, data.zone) })}
				{words().say('second.codes-left', { count: data.factor.recoveryCodes })}
			</p>
			<ErrorSummary {errors} />
			<OneTimeCodeField label={words().say('second.spend')} {errors} />
			<div class="flex flex-wrap gap-3">
				<button class="button-quiet">{words().say('second.renew')}</button>
				<button class="button-stop" formaction="?/off{query}">{words().say('second.turn-off')}</button>
			</div>
		</form>
	{:else if data.factor.isUnproved}
		<form method="post" action="?/link{query}" class="sheet grid gap-4 p-6 pt-7">
			<p>{words().say('second.what')}</p>
			<p>{words().say('second.unproved', { address: data.email })}</p>
			<ErrorSummary {errors} />
			<button class="button-main justify-self-start">{words().say('find.do')}</button>
		</form>
	{:else if offer}
		<form method="post" action="?/on{query}" class="sheet grid gap-4 p-6 pt-7" novalidate>
			<p>{words().say('second.what')}</p>
			<ErrorSummary {errors} />
			<p>{words().say('second.scan')} <span class="text-quiet">{words().say('second.app')}</span></p>
			<div class="flex flex-wrap items-start gap-x-6 gap-y-3">
				<img
					src={offer.picture}
					alt={words().say('second.picture')}
					width="232"
					height="232"
					class="rounded-sheet border border-line bg-white"
				/>
				<div class="grid max-w-56 gap-3">
					<p>
						<span class="block text-sm text-quiet">{words().say('second.by-hand')}</span>
						<code class="tracking-wide">{offer.secret.replace(/(.{4})(?=.)/g, '$1 ')}</code>
					</p>
					<p class="text-sm"><a href={offer.address}>{words().say('second.open-app')}</a></p>
				</div>
			</div>
			<input type="hidden" name="offer" value={offer.signed} />
			<OneTimeCodeField
				label={words().say('second.code')}
				hint={words().say('second.code-hint')}
				{errors}
				isOfApp
			/>
			{#if data.factor.asksCurrent}
				<Field name="current" label={words().say('details.current')} {errors}>
					{#snippet children(props)}
						<input class="input" type="password" autocomplete="current-password" {...props} />
					{/snippet}
				</Field>
			{/if}
			<button class="button-main justify-self-start">{words().say('second.turn-on')}</button>
		</form>
	{/if}
</div>
