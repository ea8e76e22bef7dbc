<script lang="ts">
	import { enhance } from '$app/forms';
	import { untrack } from 'svelte';
	import { Editing, standing } from '$ui/parts/editing.svelte';
	import EditorFoot from '$ui/parts/EditorFoot.svelte';
	import Sent from '$ui/fields/Sent.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import ChangedElsewhere from '$ui/components/ChangedElsewhere.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import ComboField from '$ui/fields/ComboField.svelte';
	import NumberField from '$ui/fields/NumberField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import LimitsInput from '$ui/components/LimitsInput.svelte';
	import Rehearsal from '$ui/components/Rehearsal.svelte';
	import { limitsDraft, sentLimits, turnAwayDraft } from '$ui/fence-draft';
	import Moment from '$ui/components/Moment.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import TurnAwayInput from '$ui/components/TurnAwayInput.svelte';
	import { formatMoment } from '$ui/wording/time';

	let { data, form } = $props();

	const editing = new Editing(() => drawUp());
	const answer = $derived(editing.of(form));
	const errors = $derived(
		((answer && 'errors' in answer ? answer.errors : null) ?? {}) as Record<string, string[]>
	);
	const values = $derived((answer && 'values' in answer ? answer.values : {}) as Record<string, string>);
	const given = standing(
		() => editing,
		() => ({ kept: data.settings, shown: { ...data.settings, ...values } })
	);
	const site = $derived(given.current.shown);
	const moved = $derived(
		form && 'movedTo' in form && form.movedTo
			? `It is ${formatMoment(form.movedTo, data.site.zone)} now. On the way, ${form.jobs === 1 ? '1 thing' : `${form.jobs} things`} fell due.`
			: null
	);
	let isMoving = $state(false);
	let limits = $state(untrack(() => limitsDraft(data.settings.limits)));
	let turnAway = $state(untrack(() => turnAwayDraft(data.settings.turnAway)));

	function drawUp(kept = data.settings) {
		limits = limitsDraft(kept.limits);
		turnAway = turnAwayDraft(kept.turnAway);
	}

	$effect(() => {
		const { kept } = given.current;
		untrack(() => drawUp(kept));
	});
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
<div class="grid grid-cols-1 items-start gap-5 @4xl:grid-cols-[1fr_24rem]">
	<form
		method="post"
		action="?/site"
		class="sheet grid grid-cols-1 gap-4 p-6 pt-7"
		novalidate
		use:enhance={editing.submit}
	>
		<h2>The site</h2>
		<Saved text={form && 'saved' in form ? form.saved : null} />
		{#if answer && 'theirs' in answer && answer.theirs}<ChangedElsewhere
				theirs={answer.theirs}
				what="these settings"
				href="/desk/settings"
			/>{/if}
		{#if !errors.days && !errors.keyName}<ErrorSummary {errors} />{/if}
		{#if answer && 'rehearsal' in answer && answer.rehearsal}<Rehearsal
				rehearsal={answer.rehearsal}
				title="What the change of the site’s settings would do"
				zone={data.site.zone}
				action="?/site"
			/>{/if}
		{#key editing.version}
			<TextField name="siteName" label="Name of the site" {errors} from={site.siteName} />
			<TextField
				name="statementName"
				label="Name on card statements"
				hint="Buyers see it before they pay and on receipts."
				{errors}
				from={site.statementName}
			/>
			<TextField name="senderEmail" label="Mails come from" {errors} type="email" from={site.senderEmail} />
			<div class="grid gap-4 sm:grid-cols-2">
				<ComboField
					name="zone"
					label="Time zone"
					{errors}
					options={data.zones.map((zone) => ({ value: zone, label: zone }))}
					from={site.zone}
				/>
				<SelectField
					name="language"
					label="Language of the front and of mails"
					options={data.languages.map(({ code, name }) => ({ value: code, label: name }))}
					from={site.language}
					{errors}
				/>
				<SelectField
					name="currency"
					label="Currency for new prices"
					options={data.currencies.map((code) => ({ value: code, label: code }))}
					from={site.currency}
					{errors}
				/>
			</div>
			<div class="grid gap-4 sm:grid-cols-2">
				<NumberField
					name="releaseHour"
					label="Hour of release"
					hint="0 to 23. Empty: the time of day at which somebody joined."
					{errors}
					min={0}
					max={23}
					from={String(site.releaseHour ?? '')}
				/>
				<NumberField
					name="lapseAfterDays"
					label="A gap is a lapse from"
					hint="Without a plan; shorter gaps do not count."
					{errors}
					min={0}
					unit="days"
					from={String(site.lapseAfterDays)}
				/>
			</div>
			<fieldset>
				<legend class="mb-1 font-medium">Limits, where a fence says “as the site”</legend>
				<div class="hidden" data-field="limits" data-label="Limits">
					<Sent name="limits" value={JSON.stringify(sentLimits(limits))} />
				</div>
				<LimitsInput bind:limits name="limits" hasSite={false} message={errors.limits?.[0]} />
			</fieldset>
			<fieldset>
				<legend class="mb-1 font-medium"
					>What those get who are turned away, where a fence has nothing of its own</legend
				>
				<div class="hidden" data-field="turnAway" data-label="What others get">
					<Sent name="turnAway" value={JSON.stringify(turnAway)} />
				</div>
				<TurnAwayInput bind:turnAway {errors} />
			</fieldset>
			<EditorFoot {editing} of="settings" revision={data.revision} />
		{/key}
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
				<NumberField
					name="days"
					label="Forward by how many days?"
					{errors}
					class="max-w-32"
					from={values.days ?? '31'}
				/>
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
				<TextField name="keyName" label="A new key for" {errors} />
				<button class="button-quiet justify-self-start">Make a key</button>
			</form>
		</section>
	</div>
</div>
