<script lang="ts">
	import X from '@lucide/svelte/icons/x';
	import { enhance } from '$app/forms';
	import { page } from '$app/state';
	import { formatMoney } from '$core/billing/money';
	import { optionsOf } from '$ui/fields/labelled';
	import Fold from '$ui/parts/Fold.svelte';
	import NumberField from '$ui/fields/NumberField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import CodeOff from '$ui/components/CodeOff.svelte';
	import Confirm from '$ui/parts/Confirm.svelte';
	import DeskLink from '$ui/components/DeskLink.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import MomentField from '$ui/fields/MomentField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import MailMark from '$ui/components/MailMark.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import type { RehearsalView } from '$core/access/rehearsal-view';
	import Pager from '$ui/parts/Pager.svelte';
	import Rehearsal from '$ui/components/Rehearsal.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import TimeRail from '$ui/components/TimeRail.svelte';
	import VerdictFilter from '$ui/components/VerdictFilter.svelte';
	import Why from '$ui/components/Why.svelte';
	import { namesOf } from '$ui/names';
	import { agreementWords } from '$ui/wording/agreement';
	import { CANCEL_WORDS, PAYMENT_WORDS, SOURCE_WORDS } from '$ui/wording/payment';
	import { formatMoment } from '$ui/wording/time';

	let { data, form } = $props();

	interface Ending {
		grantId: string;
		rehearsal: RehearsalView;
		pays: boolean;
	}

	const zone = $derived(data.site.zone);
	const names = $derived(namesOf(data.known, zone));
	const errors = $derived(
		((form && 'errors' in form ? form.errors : null) ?? {}) as Record<string, string[]>
	);
	const inForce = (grant: (typeof data.grants)[number]) =>
		grant.revokedAt === null && (grant.until === null || grant.until > data.moment.now);
	const labelIds = $derived(new Set(data.labelIds));
	const ofPlans = $derived(data.grants.filter(({ planId }) => !labelIds.has(planId)));
	const labels = $derived(data.grants.filter((grant) => labelIds.has(grant.planId) && inForce(grant)));
	const others = $derived(data.labelChoices.filter(({ id }) => !labels.some(({ planId }) => planId === id)));
	const labelling = $derived((form && 'labelling' in form ? form.labelling : null) ?? null);
	const firstDay = $derived(form && 'firstDay' in form ? form.firstDay : null);
	const ending = $derived((form && 'ending' in form ? (form.ending ?? null) : null) as Ending | null);
	const giving = $derived((form && 'giving' in form ? (form.giving ?? null) : null) as RehearsalView | null);
	const dayValues = $derived((form && 'values' in form ? form.values : {}) as Record<string, string>);
	/** A plan that somebody came here to give. */
	const given = $derived(
		data.planChoices.find(({ id }) => id === page.url.searchParams.get('give'))?.id ?? null
	);
	const planOptions = $derived(optionsOf(data.planChoices));
	const stay =
		() =>
		({ update }: { update: (how: { reset: boolean }) => Promise<void> }) =>
			update({ reset: false });
	const isPaying = $derived(data.agreements.some(({ state }) => state !== 'ended' && state !== 'finished'));
	const open = $derived(data.items.counts.open ?? 0);
	function note(item: (typeof data.items.rows)[number]): string | null {
		if (item.opensAt) return `on ${formatMoment(item.opensAt, zone)}`;
		return item.verdict === 'open' && item.until ? `until ${formatMoment(item.until, zone)}` : null;
	}
</script>

<svelte:head><title>{data.member.name} · Members · Desk</title></svelte:head>

<p class="mb-2"><a href="/desk/members">All members</a></p>
<div class="mb-5 flex flex-wrap items-start justify-between gap-3">
	<div>
		<h1>{data.member.name}</h1>
		<p class="text-quiet">
			{data.member.email}, came on <Moment at={data.member.createdAt} {zone} />{data.member.reads
				? `, reads in ${data.member.reads}`
				: ''}
		</p>
	</div>
	<div class="flex flex-wrap gap-2">
		{#if data.member.email && data.member.isMember}
			<Confirm
				label="Another address"
				title="Another address for {data.member.name}?"
				what="A mail goes to it. It counts once the link in that mail is pressed; until then {data.member
					.email} stays. The address before is told, and can put it back."
				action="?/address"
				confirmLabel="Write to it"
				isQuiet
			>
				<TextField name="email" label="The new address" {errors} type="email" from="" />
			</Confirm>
		{/if}
		{#if data.member.hasCode}<CodeOff name={data.member.name} action="?/codeOff" />{/if}
		<Confirm
			label="Delete this account"
			title="Delete the account of {data.member.name}?"
			what="The address and password go, {isPaying
				? 'what is paid by and by ends now without a refund, '
				: ''}and {open === 1
				? '1 item closes'
				: `${open} items close`} for this member. Receipts stay. This cannot be undone."
			action="?/delete"
			confirmLabel="Delete the account"
		/>
	</div>
</div>
{#if data.mailHeld}
	<p class="mb-3 border-l-4 border-brick bg-brick-wash px-4 py-2">
		{data.mailHeld === 'gone'
			? `Nobody has the address ${data.member.email}, its server says`
			: `Three mails to ${data.member.email} were not taken lately`}: Stile writes there no more, but for ways
		in that are asked for. <a href="/desk/mail/returned">Write there again</a>
	</p>
{/if}
{#each data.waiting as { orderId, number, plan, amountMinor, currency }, n (n)}
	<p class="mb-3 border-l-4 border-gorse bg-gorse-wash px-4 py-2">
		{formatMoney({ minor: amountMinor, currency })}
		{plan ? `for ${plan}` : 'of the next payment'}, paid without a card, has not come in yet: order
		<DeskLink href="/desk/sales/{orderId}">{number}</DeskLink>{plan ? '. Nothing of it is open.' : '.'}
	</p>
{/each}
<Saved text={form && 'saved' in form ? form.saved : null} />
<ErrorSummary {errors} />
{#if labelling}
	<form method="post" action="?/label" class="mt-3" use:enhance>
		<input type="hidden" name="label" value={labelling.labelId} />
		<Rehearsal
			rehearsal={labelling.rehearsal}
			title="What the change of {data.member.name}’s labels would do"
			besides={labelling.besides}
			{zone}
			action="?/label"
			did={labelling.did}
		/>
	</form>
{/if}

<div class="mt-3 grid items-start gap-5 @6xl:grid-cols-2">
	<section class="sheet p-5 pt-6" aria-labelledby="decisions">
		<div class="flex flex-wrap items-baseline justify-between gap-3">
			<h2 id="decisions">What this member can open</h2>
			<VerdictFilter state={data.items.state} counts={data.items.counts} />
		</div>
		<p class="text-sm text-quiet">
			As of the rail below. Open a mark to see why. <a
				href="/desk/check/member.csv?member={data.member.id}&asof={data.moment.at}"
				download>As a table (CSV)</a
			>
		</p>
		<ul class="mt-2 divide-y divide-line">
			{#each data.items.rows as item (item.id)}
				<li class="flex flex-wrap items-center justify-between gap-3 py-2">
					<DeskLink href="/desk/library/{item.id}">{names.resource(item.id)}</DeskLink>
					<Why
						verdict={item.verdict}
						note={note(item)}
						state={item.state}
						ask={{ member: data.member.id, item: item.id, at: data.moment.at }}
					/>
				</li>
			{:else}
				<li class="py-2 text-quiet">Nothing in this state.</li>
			{/each}
		</ul>
		<Pager of="what this member can open" total={data.items.total} pageSize={data.items.pageSize} />
	</section>

	<div class="grid gap-5">
		<section class="sheet p-5 pt-6" aria-labelledby="next">
			<h2 id="next">What changes next</h2>
			<ul class="mt-2 divide-y divide-line">
				{#each data.next as { resourceId, at, to }, n (n)}
					<li class="flex flex-wrap items-center justify-between gap-3 py-1.5">
						<span><Moment {at} {zone} precise />: {names.resource(resourceId)}</span>
						<Why verdict={to} ask={{ member: data.member.id, item: resourceId, at }} />
					</li>
				{:else}<li class="py-1.5 text-quiet">Nothing, by itself.</li>{/each}
			</ul>
		</section>
		<section class="sheet p-5 pt-6" aria-labelledby="labels">
			<h2 id="labels">Labels</h2>
			<ul class="mt-2 flex flex-wrap gap-2">
				{#each labels as { id, planId, from } (id)}
					{@const name = data.known.labels[planId] ?? 'A label that is gone'}
					<li>
						<form
							method="post"
							action="?/label"
							use:enhance
							class="flex items-center gap-2 rounded-sheet border border-line bg-sunk py-1 pr-1 pl-3"
						>
							<input type="hidden" name="label" value={planId} />
							<span class="font-medium" title="Since {formatMoment(from, zone)}">{name}</span>
							<button
								class="cursor-pointer rounded-sheet p-1.5 text-quiet hover:bg-moss-wash hover:text-ink"
								name="do"
								value="off"
								aria-label="Take {name} off"><X size={14} /></button
							>
						</form>
					</li>
				{:else}<li class="text-quiet">None.</li>{/each}
			</ul>
			<form method="post" action="?/label" use:enhance class="mt-3 flex flex-wrap items-end gap-2" novalidate>
				{#if others.length > 0}
					<SelectField
						name="label"
						label="Label"
						class="w-44"
						options={[{ value: '', label: 'choose one' }, ...optionsOf(others)]}
						from=""
					/>
				{/if}
				<TextField
					name="newLabel"
					label={others.length > 0 ? 'or a new one' : 'A new label'}
					maxlength={60}
					from=""
					{errors}
				/>
				<button class="button-quiet" name="do" value="on">Label</button>
			</form>
			<p class="mt-1 text-sm text-quiet">
				Only staff see and give them; a fence can let in whoever has one. <a href="/desk/members/labels"
					>All labels</a
				>
			</p>
		</section>
		<section class="sheet p-5 pt-6" aria-labelledby="grants" id="give">
			<h2 id="grants">Grants</h2>
			<ul class="mt-2 divide-y divide-line">
				{#each ofPlans as grant (grant.id)}
					<li class="flex flex-wrap items-baseline justify-between gap-3 py-2">
						<span>
							<DeskLink href="/desk/plans/{grant.planId}" class="font-medium"
								>{names.plan(grant.planId)}</DeskLink
							>, {SOURCE_WORDS[grant.source]}, from <Moment at={grant.from} {zone} />{#if grant.revokedAt},
								ended <Moment at={grant.revokedAt} {zone} />{:else if grant.until}, to <Moment
									at={grant.until}
									{zone}
								/>{:else}, for good{/if}{grant.renews ? ', renews' : ''}
						</span>
						{#if inForce(grant)}
							{@const isEnding = ending?.grantId === grant.id}
							<form method="post" action="?/end" class={isEnding ? 'w-full' : ''} use:enhance={stay}>
								<input type="hidden" name="grant" value={grant.id} />
								{#if isEnding && ending}
									<TextField
										label="Why? (for your own notes)"
										id="why-{grant.id}"
										name="why"
										maxlength={500}
										from=""
									/>
									<div class="mt-3">
										<Rehearsal
											rehearsal={ending.rehearsal}
											title="What ending {names.plan(grant.planId)} for {data.member.name} would do"
											besides={[
												...(ending.pays
													? ['What is paid for it by and by ends, and nothing more is charged.']
													: []),
												'Nothing is paid back.'
											]}
											{zone}
											action="?/end"
										/>
									</div>
								{:else}<button class="button-stop">End it</button>{/if}
							</form>
						{/if}
					</li>
				{:else}<li class="py-2 text-quiet">None.</li>{/each}
			</ul>
			<p class="mt-1 text-sm text-quiet">A renewing grant outlives the paid period by a week, for retries.</p>
			<div class="mt-3">
				<Fold
					label="Give a plan"
					isOpen={given !== null ||
						giving !== null ||
						errors.plan !== undefined ||
						errors.until !== undefined ||
						errors.from !== undefined}
				>
					<form use:enhance={stay} method="post" action="?/give" class="grid gap-3 sm:grid-cols-2" novalidate>
						<SelectField name="plan" label="Plan" options={planOptions} from={given ?? ''} {errors} />
						<TextField name="why" label="Why? (for your own notes)" {errors} />
						<MomentField name="from" label="From (now, if empty)" {errors} />
						<MomentField name="until" label="Until (for good, if empty)" {errors} />
						{#if giving}<div class="sm:col-span-2">
								<Rehearsal
									rehearsal={giving}
									title="What giving {data.member.name} a plan would do"
									{zone}
									action="?/give"
								/>
							</div>{/if}
						<button class="button-main justify-self-start">Give it</button>
					</form>
				</Fold>
			</div>
		</section>
		{#if data.files.length > 0 || data.links.length > 0}
			<section class="sheet p-5 pt-6" aria-labelledby="files">
				<h2 id="files">Files saved</h2>
				<ul class="mt-2 divide-y divide-line">
					{#each data.files as file (file.id)}
						<li class="flex flex-wrap items-center justify-between gap-3 py-2">
							<span
								><a href="/desk/library/{file.id}">{names.resource(file.id)}</a>, {file.used} of {file.limit} used</span
							>
							<form method="post" action="?/moreUses" use:enhance class="flex items-center gap-2">
								<input type="hidden" name="item" value={file.id} />
								<NumberField
									label="How many more of {names.resource(file.id)}"
									hidesLabel
									id="count-{file.id}"
									name="count"
									min={1}
									class="w-16"
								/>
								<button class="button-quiet">Give them</button>
							</form>
						</li>
					{/each}
				</ul>
				{#if errors.count}<p role="alert" class="font-medium text-brick">{errors.count[0]}</p>{/if}
				{#each data.links as link, n (n)}
					<p class="mt-2 text-sm text-gorse">
						A link to {names.resource(link.itemId)} was opened from {link.networks} networks.
					</p>
				{/each}
			</section>
		{/if}
		<section class="sheet p-5 pt-6" aria-labelledby="tenure">
			<h2 id="tenure">Tenure</h2>
			<p class="text-sm text-quiet">Releases count from the day of first joining.</p>
			<ul class="mt-2 grid gap-1">
				{#each data.tenures.filter(({ planId }) => !labelIds.has(planId)) as tenure (tenure.id)}<li>
						{names.plan(tenure.planId)}: <Moment at={tenure.firstJoinedAt} {zone} precise />
					</li>
				{:else}<li class="text-quiet">Has never held a plan.</li>{/each}
			</ul>
			<div class="mt-3">
				<Fold label="Set another first day" isOpen={errors.day !== undefined || firstDay !== null}>
					<form
						use:enhance={stay}
						method="post"
						action="?/firstDay"
						class="grid gap-3 sm:grid-cols-2"
						novalidate
					>
						<SelectField
							name="plan"
							id="plan-of-day"
							label="Plan"
							options={planOptions}
							from={dayValues.plan ?? planOptions[0]?.value ?? ''}
						/>
						<MomentField name="day" label="First joined" {errors} from={dayValues.day} />
						<p class="text-sm text-quiet sm:col-span-2">
							This member’s releases count from that day, be it earlier or later than the first grant. What
							that opens and shuts is shown before it is kept.
						</p>
						{#if firstDay}
							<div class="sm:col-span-2">
								<Rehearsal
									rehearsal={firstDay}
									title="What another first day of {data.member.name} would do"
									{zone}
									action="?/firstDay"
								/>
							</div>
						{/if}
						<button class="button-quiet justify-self-start">Set it</button>
					</form>
				</Fold>
			</div>
		</section>
		{#if data.agreements.length > 0}
			<section class="sheet p-5 pt-6" aria-labelledby="plans">
				<h2 id="plans">Plans</h2>
				<ul class="mt-2 divide-y divide-line">
					{#each data.agreements as agreement (agreement.id)}
						<li class="py-2">
							<a href="/desk/plans/{agreement.planId}" class="font-medium">{names.plan(agreement.planId)}</a>
							<span class="text-quiet">{agreementWords(agreement, zone)}</span>
							{#if agreement.endedAt}<Moment
									at={agreement.endedAt}
									{zone}
								/>{:else if agreement.state !== 'finished'}
								<DeskLink href="/desk/sales/{agreement.orderId}">cancel, pause, refund</DeskLink>
							{/if}
							{#if agreement.cancelWhy}
								<p class="text-sm">
									Said: {CANCEL_WORDS[agreement.cancelWhy as keyof typeof CANCEL_WORDS]}{agreement.cancelWords
										? `: “${agreement.cancelWords}”`
										: ''}
								</p>
							{/if}
						</li>
					{/each}
				</ul>
			</section>
		{/if}
		<section class="sheet p-5 pt-6" aria-labelledby="payments">
			<h2 id="payments">Payments</h2>
			<table class="mt-2 w-full">
				<tbody>
					{#each data.payments as payment (payment.id)}
						<tr class="border-t border-line">
							<td class="py-1.5 pr-4"><Moment at={payment.at} {zone} /></td>
							<td class="py-1.5 pr-4 text-right whitespace-nowrap"
								>{formatMoney({ minor: payment.amountMinor, currency: payment.currency })}</td
							>
							<td class="py-1.5 pr-4"
								><DeskLink href="/desk/sales/{payment.orderId}">{PAYMENT_WORDS[payment.standing]}</DeskLink
								></td
							>
							<td class="py-1.5"
								>{#each payment.documents as number (number)}<a
										class="block py-1"
										href="/account/documents/{number}">{number}</a
									>{/each}</td
							>
						</tr>
					{:else}
						<tr><td class="py-2 text-quiet">None yet.</td></tr>
					{/each}
				</tbody>
			</table>
		</section>
		<section class="sheet p-5 pt-6" aria-labelledby="mails">
			<h2 id="mails">Mails</h2>
			<ul class="mt-2 divide-y divide-line">
				{#each data.mails as mail (mail.id)}
					<li class="flex flex-wrap justify-between gap-x-4 py-1.5">
						<span
							>{mail.subject}
							{#if mail.to}<span class="block text-sm text-quiet">to {mail.to}</span>{/if}
							{#if mail.fate !== 'sent'}<span class="block"
									><MailMark fate={mail.fate} code={mail.code} isCleared={mail.isCleared} /></span
								>{/if}</span
						>
						<span class="text-sm text-quiet"><Moment at={mail.at} {zone} /></span>
					</li>
				{:else}
					<li class="py-2 text-quiet">None yet.</li>
				{/each}
			</ul>
		</section>
	</div>
</div>
<TimeRail moment={data.moment} marks={data.marks} {zone} />
