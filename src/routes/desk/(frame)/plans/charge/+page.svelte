<script lang="ts">
	import { untrack } from 'svelte';
	import { enhance } from '$app/forms';
	import type { RehearsalView } from '$core/access/rehearsal-view';
	import ChosenThings from '$ui/components/ChosenThings.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Rehearsal from '$ui/components/Rehearsal.svelte';
	import { optionsOf } from '$ui/fields/labelled';
	import MomentField from '$ui/fields/MomentField.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import TextField from '$ui/fields/TextField.svelte';

	let { data, form } = $props();

	interface Answer {
		errors?: Record<string, string[]>;
		rehearsal?: RehearsalView;
		besides?: { count: number; invited: number };
		stillOpen?: { id: string; title: string; fences: { id: string; name: string }[] }[];
		done?: { keptId: string | null; batchId: string | null; planId: string; count: number };
	}
	const answer = $derived((form ?? {}) as Answer);
	const errors = $derived(answer.errors ?? {});

	let picked = $state(untrack(() => data.begunWith));
	let planId = $state('');
	let keepers = $state('opened');
	let before = $state('');
	let addresses = $state('');
	let code = $state('');
	let keptName = $state('Here before it was sold');
	let until = $state('');

	/** What can be bought, and opens more than one thing. */
	const choices = $derived(
		data.plans.filter(({ isAlone, isOnSale }) => !isAlone && isOnSale).map(({ id, name }) => ({ id, name }))
	);
	const called = $derived(choices.find(({ id }) => id === planId)?.name ?? '');

	const OPTIONS = [
		{
			value: 'opened',
			label: 'Who has watched, heard or downloaded something of it',
			detail: 'Pages that were only read are not written down.'
		},
		{ value: 'everybody', label: 'Everybody who has an account' },
		{ value: 'joined-before', label: 'Who got their account before a day' },
		{
			value: 'addresses',
			label: 'These addresses',
			detail: 'Whoever has no account gets one, and a mail that leads in.'
		},
		{
			value: 'code',
			label: 'Whoever has a code',
			detail: 'There were no accounts: you hand the code out, and it opens on the device that types it.'
		},
		{ value: 'nobody', label: 'Nobody' }
	];

	const some = (count: number, one: string, many: string) =>
		count === 1 ? `One ${one}` : `${count} ${many}`;
	const besides = $derived.by(() => {
		const told = answer.besides;
		if (!told) return [];
		const { count, invited } = told;
		return [
			...(keepers === 'code'
				? [`Whoever types ${code.toUpperCase()} keeps it open, with an account or without.`]
				: []),
			...(keepers === 'nobody' || keepers === 'code'
				? []
				: [`${some(count, 'member keeps', 'members keep')} what was open to them.`]),
			...(invited > 0
				? [`${some(invited, 'address gets', 'addresses get')} an account, and a mail that leads in.`]
				: [])
		];
	});
</script>

<svelte:head><title>From free to paid · Plans · Desk</title></svelte:head>

<section class="sheet max-w-3xl p-6 pt-7" aria-labelledby="charge">
	<h2 id="charge">From free to paid</h2>
	{#if answer.done}
		<p role="status" class="mt-3 border-l-3 border-moss bg-moss-wash px-3 py-2">
			It is done. What was open to everybody opens with the plan now{answer.done.batchId
				? ', and for whoever types the code'
				: answer.done.keptId
					? `, and ${some(answer.done.count, 'member keeps', 'members keep')} it as before`
					: ''}.
		</p>
		<p class="mt-4 flex flex-wrap gap-2">
			<a class="button-main" href="/desk/plans/{answer.done.planId}">The plan that opens it</a>
			{#if answer.done.keptId}
				<a class="button-quiet" href="/desk/plans/{answer.done.keptId}">What the others keep</a>
				<a class="button-quiet" href="/desk/members?plan={answer.done.keptId}">Who keeps it</a>
			{/if}
			{#if answer.done.batchId}<a class="button-quiet" href="/desk/codes/{answer.done.batchId}">The code</a
				>{/if}
		</p>
	{:else}
		<p class="mt-1 max-w-prose text-quiet">
			Puts a plan before what everybody could open until now, and leaves it open to those who use it already.
			First it says what would happen, in numbers; nothing is done before you say yes.
		</p>
		<form
			method="post"
			class="mt-5 grid gap-7"
			novalidate
			use:enhance={() =>
				({ update }) =>
					update({ reset: false })}
		>
			<ErrorSummary {errors} />
			<fieldset class="grid gap-3">
				<legend class="question">1 · What do you begin to charge for?</legend>
				<ChosenThings
					bind:picked
					label="What you begin to charge for"
					adds="Add something that is free now"
					group={(kind) => `All that is in the ${kind}, and not the page of the ${kind} itself`}
					error={errors.chosen?.[0] ?? null}
				/>
				{#if answer.stillOpen}
					<div role="alert" class="border-l-3 border-gorse bg-sunk px-3 py-2">
						<p class="font-medium">It would still be open to everybody, by fences that say so:</p>
						<ul class="mt-1 grid gap-1">
							{#each answer.stillOpen.slice(0, 10) as one (one.id)}
								<li>
									<a href="/desk/library/{one.id}">{one.title}</a>:
									{#each one.fences as fence, n (fence.id)}{n > 0 ? ', ' : ''}<a
											href="/desk/fences/{fence.id}">{fence.name}</a
										>{:else}a rule of the site{/each}
								</li>
							{/each}
						</ul>
						<p class="mt-1 text-sm">
							{answer.stillOpen.length > 10 ? `And ${answer.stillOpen.length - 10} more. ` : ''}Take “anyone”
							or “signed in” out of them first, or do not charge for this.
						</p>
					</div>
				{/if}
			</fieldset>
			<fieldset class="grid gap-3">
				<legend class="question">2 · What opens it from now on?</legend>
				<SelectField label="The plan" name="plan" options={optionsOf(choices)} {errors} bind:value={planId} />
				<p class="text-sm text-quiet">
					None of these? <a href="/desk/plans/new">Write a new plan</a> first, and come back.
				</p>
			</fieldset>
			<fieldset class="grid gap-3">
				<legend class="question">3 · Who keeps it for nothing?</legend>
				<RadioField
					label="Who keeps it"
					hidesLabel
					name="keepers"
					options={OPTIONS}
					{errors}
					bind:value={keepers}
				>
					{#snippet under(value)}
						{#if value === keepers && value === 'joined-before'}<MomentField
								label="Before"
								name="before"
								{errors}
								bind:value={before}
							/>{/if}
						{#if value === keepers && value === 'addresses'}<TextField
								label="Their addresses"
								name="addresses"
								hint="Between spaces, commas or line ends."
								rows={4}
								{errors}
								bind:value={addresses}
							/>{/if}
						{#if value === keepers && value === 'code'}<TextField
								label="The code"
								name="code"
								hint="Such as BENCHFRIENDS. It can be ended at any time under Codes."
								{errors}
								bind:value={code}
							/>{/if}
					{/snippet}
				</RadioField>
				<div class="grid gap-4 sm:grid-cols-2 {keepers === 'nobody' ? 'hidden' : ''}">
					<TextField
						label={keepers === 'code' ? 'What the code is called' : 'What they have is called'}
						name="keptName"
						hint={keepers === 'code'
							? 'By it you find it under Codes.'
							: 'A plan that is sold to nobody. They read it in their account.'}
						{errors}
						bind:value={keptName}
					/>
					<MomentField
						label="They keep it until (for good, if empty)"
						name="until"
						{errors}
						bind:value={until}
					/>
				</div>
			</fieldset>
			{#if answer.rehearsal}
				<Rehearsal
					rehearsal={answer.rehearsal}
					title={called ? `What charging for it with ${called} would do` : 'What charging for it would do'}
					zone={data.site.zone}
					action="?"
					{besides}
				/>
			{:else}
				<button class="button-main justify-self-start">Show what it would do</button>
			{/if}
		</form>
	{/if}
</section>
