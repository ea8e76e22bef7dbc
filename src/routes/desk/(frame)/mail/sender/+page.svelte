<script lang="ts">
	import { enhance } from '$app/forms';
	import { RECORD_KINDS } from '$core/mail/sender-records';
	import CopyLine from '$ui/components/CopyLine.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import SettingsForm from '$ui/components/SettingsForm.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import { RECORD_WORDS, recordStanding, recordWords } from '$ui/wording/sender-records';

	let { data, form } = $props();

	const COLOURS = { good: 'text-moss', unknown: 'text-quiet', bad: 'text-brick' };
	const looks = $derived(
		RECORD_KINDS.map((kind) => ({ kind, look: data.look?.[kind] ?? null })).filter(
			({ kind, look }) => look !== null || kind === 'dkim'
		)
	);
	/** Another key is made where the last one signs, or where there is none. */
	const mayMake = $derived(data.domain !== null && (data.key === null || data.key.signs));
</script>

<svelte:head><title>Sender · Mail · Desk</title></svelte:head>

<SettingsForm
	title="Who mails come from"
	part="mail"
	kept={data.from.kept}
	revision={data.from.revision}
	zone={data.site.zone}
	answered={form && 'part' in form ? form : null}
>
	{#snippet fields({ shown, errors })}
		<TextField
			name="senderEmail"
			label="Mails come from"
			hint="Answers go there, too."
			{errors}
			type="email"
			from={shown.senderEmail}
		/>
	{/snippet}
</SettingsForm>
<section class="sheet mt-5 grid max-w-4xl gap-3 p-6 pt-7" aria-labelledby="sender">
	<h2 id="sender" class="text-xl">Mails that arrive</h2>
	{#if data.domain === null}
		<p class="max-w-prose">
			Mails come from <strong>{data.senderEmail}</strong>, which has no domain that anybody could ask about.
			<a href="#senderEmail">Give them another address.</a>
		</p>
	{:else}
		<p class="max-w-prose">
			Mails come from <strong>{data.senderEmail}</strong>. Whoever receives them asks the names of
			<strong>{data.domain}</strong> whether that is right, and puts what they cannot trust among the junk. What
			is to stand there is written where your names are kept: with whoever you have the domain from.
		</p>
		<div class="flex flex-wrap items-center gap-3">
			<form method="post" action="?/look" use:enhance>
				<button class={data.look ? 'button-quiet' : 'button-main'}
					>{data.look ? 'Look again' : 'Look what stands there'}</button
				>
			</form>
			{#if mayMake}<form method="post" action="?/key" use:enhance>
					<button class={data.key === null && data.look ? 'button-main' : 'button-quiet'}
						>{data.key === null ? 'Make a key to sign with' : 'Make another key'}</button
					>
				</form>{/if}
			{#if data.look}<p class="text-sm text-quiet">
					Looked at <Moment at={data.look.at} zone={data.site.zone} precise />; once a day by itself.
				</p>{/if}
		</div>
		<Saved text={form && 'saved' in form ? form.saved : null} />
		{#if form && 'problem' in form && form.problem}<p role="alert" class="font-medium text-brick">
				{form.problem}
			</p>{/if}
		<p class="text-sm text-quiet">
			{#if data.signsWith !== null}Mails are signed, with the key “{data.signsWith}”.
			{:else}Mails are not signed.{/if}
		</p>
	{/if}
</section>

{#if data.domain !== null && (data.look || data.key)}
	{#each looks as { kind, look } (kind)}
		{@const standing = look && recordStanding(look.verdict)}
		<section class="sheet mt-4 grid max-w-4xl gap-2 p-6 pt-7" aria-labelledby={kind}>
			<div class="flex flex-wrap items-baseline justify-between gap-3">
				<h2 id={kind}>{RECORD_WORDS[kind].name}</h2>
				{#if standing}<span class="font-semibold {COLOURS[standing.is]}">{standing.word}</span>{/if}
			</div>
			<p class="text-sm text-quiet">{RECORD_WORDS[kind].about}</p>
			{#if look}<p class="max-w-prose">{recordWords(kind, look.verdict)}</p>
				{#if look.wanted}
					<CopyLine label="Name ({RECORD_WORDS[kind].name})" text={look.wanted.name} />
					<CopyLine
						label="Text ({RECORD_WORDS[kind].name})"
						text={look.wanted.text}
						hint="A TXT record. It may take an hour and more until everybody sees it."
					/>
				{:else}<p class="text-sm text-quiet">At {look.name}</p>{/if}
			{:else}<p class="max-w-prose">
					There is no key yet. Make one: its mails are signed as soon as it stands in its name.
				</p>{/if}
		</section>
	{/each}
{/if}
