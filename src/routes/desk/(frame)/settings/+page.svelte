<script lang="ts">
	import { enhance } from '$app/forms';
	import { untrack } from 'svelte';
	import ChangedElsewhere from '$ui/components/ChangedElsewhere.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Field from '$ui/components/Field.svelte';
	import LimitsInput from '$ui/components/LimitsInput.svelte';
	import Rehearsal from '$ui/components/Rehearsal.svelte';
	import { limitsDraft, sentLimits, turnAwayDraft } from '$ui/fence-draft';
	import Moment from '$ui/components/Moment.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import TurnAwayInput from '$ui/components/TurnAwayInput.svelte';
	import { formatMoment } from '$ui/wording/time';

	let { data, form } = $props();

	const errors = $derived(
		((form && 'errors' in form ? form.errors : null) ?? {}) as Record<string, string[]>
	);
	const values = $derived((form && 'values' in form ? form.values : {}) as Record<string, string>);
	const site = $derived({ ...data.settings, ...values });
	const moved = $derived(
		form && 'movedTo' in form && form.movedTo
			? `It is ${formatMoment(form.movedTo, data.site.zone)} now. On the way, ${form.jobs === 1 ? '1 thing' : `${form.jobs} things`} fell due.`
			: null
	);
	let isMoving = $state(false);
	let limits = $state(untrack(() => limitsDraft(data.settings.limits)));
	let turnAway = $state(untrack(() => turnAwayDraft(data.settings.turnAway)));
</script>

<svelte:head><title>Settings · Desk</title></svelte:head>

<div class="mb-4 flex flex-wrap items-baseline justify-between gap-3">
	<h1>Settings</h1>
	<span class="flex flex-wrap gap-4">
		<a href="/desk/settings/media">Player and protection</a>
		<a href="/desk/settings/mails">Mails</a>
		{#if data.areas.includes('/desk/settings/staff')}<a href="/desk/settings/staff">Staff and roles</a>{/if}
	</span>
</div>
<div class="grid items-start gap-5 @4xl:grid-cols-[1fr_24rem]">
	<form
		method="post"
		action="?/site"
		class="sheet grid gap-4 p-6 pt-7"
		novalidate
		use:enhance={() =>
			({ update }) =>
				update({ reset: false })}
	>
		<h2>The site</h2>
		<Saved text={form && 'saved' in form ? form.saved : null} />
		<input type="hidden" name="revision" value={data.revision} />
		{#if form && 'theirs' in form && form.theirs}<ChangedElsewhere
				theirs={form.theirs}
				what="these settings"
				href="/desk/settings"
			/>{/if}
		{#if !errors.days && !errors.keyName}<ErrorSummary {errors} />{/if}
		{#if form && 'rehearsal' in form && form.rehearsal}<Rehearsal
				rehearsal={form.rehearsal}
				zone={data.site.zone}
				action="?/site"
			/>{/if}
		<Field name="siteName" label="Name of the site" {errors}>
			{#snippet children(props)}<input class="input" defaultValue={site.siteName} {...props} />{/snippet}
		</Field>
		<Field
			name="statementName"
			label="Name on card statements"
			hint="Buyers see it before they pay and on receipts."
			{errors}
		>
			{#snippet children(props)}<input class="input" defaultValue={site.statementName} {...props} />{/snippet}
		</Field>
		<Field name="senderEmail" label="Mails come from" {errors}>
			{#snippet children(props)}<input
					class="input"
					type="email"
					defaultValue={site.senderEmail}
					{...props}
				/>{/snippet}
		</Field>
		<div class="grid gap-4 sm:grid-cols-2">
			<Field name="zone" label="Time zone" {errors}>
				{#snippet children(props)}<input
						class="input"
						list="zones"
						defaultValue={site.zone}
						{...props}
					/>{/snippet}
			</Field>
			<Field name="language" label="Language of the front and of mails" {errors}>
				{#snippet children(props)}
					<select class="input" {...props}>
						{#each data.languages as { code, name } (code)}<option
								value={code}
								selected={code === (values.language ?? data.settings.language)}>{name}</option
							>{/each}
					</select>
				{/snippet}
			</Field>
			<Field name="currency" label="Currency for new prices" {errors}>
				{#snippet children(props)}
					<select class="input" {...props}>
						{#each data.currencies as code (code)}<option selected={code === site.currency}>{code}</option
							>{/each}
					</select>
				{/snippet}
			</Field>
		</div>
		<datalist id="zones"
			>{#each data.zones as zone (zone)}<option value={zone}></option>{/each}</datalist
		>
		<div class="grid gap-4 sm:grid-cols-2">
			<Field
				name="releaseHour"
				label="Hour of release"
				hint="0 to 23. Empty: the time of day at which somebody joined."
				{errors}
			>
				{#snippet children(props)}<input
						class="input"
						inputmode="numeric"
						defaultValue={values.releaseHour ?? data.settings.releaseHour ?? ''}
						{...props}
					/>{/snippet}
			</Field>
			<Field
				name="lapseAfterDays"
				label="A gap is a lapse from"
				hint="Days without a plan; shorter gaps do not count."
				{errors}
			>
				{#snippet children(props)}<input
						class="input"
						inputmode="numeric"
						defaultValue={values.lapseAfterDays ?? data.settings.lapseAfterDays}
						{...props}
					/>{/snippet}
			</Field>
		</div>
		<fieldset>
			<legend class="mb-1 font-medium">Limits, where a fence says “as the site”</legend>
			<input type="hidden" name="limits" value={JSON.stringify(sentLimits(limits))} />
			<LimitsInput bind:limits name="limits" hasSite={false} message={errors.limits?.[0]} />
		</fieldset>
		<fieldset>
			<legend class="mb-1 font-medium"
				>What those get who are turned away, where a fence has nothing of its own</legend
			>
			<input type="hidden" name="turnAway" value={JSON.stringify(turnAway)} />
			<TurnAwayInput bind:turnAway {errors} />
		</fieldset>
		<button class="button-main justify-self-start">Save</button>
	</form>

	<div class="grid gap-5">
		{#if data.hasMovableClock}
			<form
				id="clock"
				method="post"
				action="?/clock"
				class="sheet grid gap-4 p-6 pt-7"
				novalidate
				use:enhance={() => {
					isMoving = true;
					return async ({ update }) => {
						await update({ reset: false });
						isMoving = false;
					};
				}}
			>
				<h2>Demo clock</h2>
				<p>It is <strong><Moment at={data.now} zone={data.site.zone} precise /></strong>.</p>
				<p class="text-sm text-quiet">
					Move it forward, and everything that falls due on the way happens in its order: renewals, retries,
					lapses, mails. It never goes back. Only the demo has this clock.
				</p>
				<Saved text={moved} />
				<Field name="days" label="Forward by how many days?" {errors}>
					{#snippet children(props)}
						<input class="input max-w-32" inputmode="numeric" defaultValue={values.days ?? '31'} {...props} />
					{/snippet}
				</Field>
				<button class="button-main justify-self-start" disabled={isMoving}
					>{isMoving ? 'Moving' : 'Move the clock'}</button
				>
			</form>
		{/if}
		<section id="keys" class="sheet grid gap-3 p-6 pt-7" aria-labelledby="api">
			<h2 id="api">API keys</h2>
			<p class="text-sm text-quiet">
				For programs that ask whether a member may open something: POST /api/v1/decisions.
			</p>
			{#if form && 'key' in form && form.key}
				<div role="status" class="rounded-sheet border-l-4 border-moss bg-moss-wash px-4 py-2">
					<p class="font-medium">Copy this key now. It is not shown again.</p>
					<p class="font-mono break-all">{form.key}</p>
				</div>
			{/if}
			<ul class="divide-y divide-line">
				{#each data.keys as key (key.id)}
					<li class="flex flex-wrap items-center justify-between gap-3 py-1.5">
						<span>{key.name}, <Moment at={key.createdAt} zone={data.site.zone} /></span>
						{#if key.revokedAt}<span class="text-sm text-slate">revoked</span>
						{:else}<form method="post" action="?/revoke" use:enhance>
								<input type="hidden" name="id" value={key.id} /><button class="button-stop">Revoke</button>
							</form>{/if}
					</li>
				{/each}
			</ul>
			<form method="post" action="?/key" class="grid gap-2" use:enhance novalidate>
				<Field name="keyName" label="A new key for" {errors}>
					{#snippet children(props)}<input class="input" {...props} />{/snippet}
				</Field>
				<button class="button-quiet justify-self-start">Make a key</button>
			</form>
		</section>
	</div>
</div>
