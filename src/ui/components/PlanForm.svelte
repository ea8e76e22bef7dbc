<script lang="ts">
	import { enhance } from '$app/forms';
	import { page } from '$app/state';
	import type { ComponentProps } from 'svelte';
	import type { AfterLapse } from '$core/access/model';
	import type { ProcessorName } from '$core/billing/pay-by';
	import type { LessFor } from '$core/billing/discount';
	import { saleOf, type PlanAccess } from '$core/billing/plan-access';
	import type { Terms } from '$core/billing/terms';
	import { writeLocal } from '$core/time/calendar';
	import AccessInput from './AccessInput.svelte';
	import ChangedElsewhere from './ChangedElsewhere.svelte';
	import { Editing, standing } from '$ui/parts/editing.svelte';
	import Fold from '$ui/parts/Fold.svelte';
	import EditorFoot from '$ui/parts/EditorFoot.svelte';
	import CheckField from '$ui/fields/CheckField.svelte';
	import ChecksField from '$ui/fields/ChecksField.svelte';
	import { optionsOf } from '$ui/fields/labelled';
	import MomentField from '$ui/fields/MomentField.svelte';
	import OffInput from './OffInput.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import NumberField from '$ui/fields/NumberField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import FirstBuyers from './FirstBuyers.svelte';
	import ErrorSummary from './ErrorSummary.svelte';
	import PriceInput from './PriceInput.svelte';
	import Rehearsal from './Rehearsal.svelte';
	import Saved from './Saved.svelte';
	import SoldTo from './SoldTo.svelte';

	interface Plan {
		name: string;
		lines: string[];
		priceName: string;
		terms: Terms;
		payBy: readonly ProcessorName[] | null;
		isOpenAtOnce: boolean;
		sellsAsGift: boolean;
		sellsSeats: boolean;
		asksPostal: boolean;
		access: PlanAccess;
		note: string;
		lessFor: LessFor | null;
		isPublic: boolean;
		isOnSale: boolean;
		/** What its buyers may open; `null`: it is sold to everybody. */
		soldTo: { id: string; title: string; isOpenToAll?: boolean } | null;
		afterLapse: AfterLapse;
		ladderId: string | null;
		rung: number;
		isDownAtOnce: boolean;
		buyAt: string | null;
		statementName: string | null;
		mailingList: string | null;
		sellsFrom: number | null;
		sellsUntil: number | null;
		firstDay: number | null;
		hasWaitingList: boolean;
		firstBuyers: number | null;
		givenFrom: number | null;
	}

	/** Writes a plan, or rewrites one. */
	let {
		plan,
		hasPrices = false,
		offlineName,
		currencies,
		currency,
		ladders,
		others,
		zone,
		rehearsal,
		revision = null,
		theirs = null,
		errors = {},
		values = {},
		saved = null
	}: {
		plan: Plan | null;
		/** Whether it has several. */
		hasPrices?: boolean;
		/** What paying without a card is called. */
		offlineName: string;
		currencies: string[];
		currency: string;
		ladders: { id: string; name: string }[];
		/** The other plans. */
		others: { id: string; name: string }[];
		zone: string;
		rehearsal: ComponentProps<typeof Rehearsal>['rehearsal'] | null;
		/** What is kept; `null` of a new one. */
		revision?: string | null;
		/** What somebody else has saved meanwhile. */
		theirs?: { revision: string; words: string } | null;
		errors?: Record<string, string[]>;
		values?: Record<string, string | string[]>;
		saved?: string | null;
	} = $props();

	const editing = new Editing();
	const offline = $derived(offlineName || 'By transfer');
	const sent = $derived(editing.isPutBack ? {} : values);
	const said = $derived(editing.isPutBack ? {} : errors);
	const isBack = $derived(Object.keys(sent).length > 0);
	const given = standing(
		() => editing,
		() => ({
			name: sent.name ?? plan?.name ?? '',
			lines: sent.lines ?? plan?.lines.join('\n') ?? '',
			afterLapse: sent.afterLapse ?? plan?.afterLapse ?? 'on',
			ladder: sent.ladder ?? ladders.find(({ id }) => id === plan?.ladderId)?.name ?? '',
			priceName: sent.priceName ?? plan?.priceName ?? '',
			payBy: sent.payBy ?? plan?.payBy?.join(' ') ?? '',
			isOpenAtOnce: isBack ? sent.isOpenAtOnce === 'yes' : (plan?.isOpenAtOnce ?? true),
			rung: sent.rung ?? String(plan?.rung ?? 1),
			note: sent.note ?? plan?.note ?? '',
			lessFor: isBack ? [sent.lessFor ?? []].flat() : [...(plan?.lessFor?.planIds ?? [])],
			isLess: isBack ? sent.isLess === 'yes' : plan?.lessFor != null,
			isElsewhere: isBack ? sent.isElsewhere === 'yes' : plan?.buyAt != null,
			buyAt: sent.buyAt ?? plan?.buyAt ?? '',
			statementName: sent.statementName ?? plan?.statementName ?? '',
			mailingList: sent.mailingList ?? plan?.mailingList ?? '',
			sellsFrom: sent.sellsFrom ?? (plan?.sellsFrom == null ? '' : writeLocal(plan.sellsFrom, zone)),
			sellsUntil: sent.sellsUntil ?? (plan?.sellsUntil == null ? '' : writeLocal(plan.sellsUntil, zone)),
			firstDay: sent.firstDay ?? (plan?.firstDay == null ? '' : writeLocal(plan.firstDay, zone)),
			hasWaitingList: isBack ? sent.hasWaitingList === 'yes' : (plan?.hasWaitingList ?? false),
			firstBuyers: sent.firstBuyers ?? String(plan?.firstBuyers ?? ''),
			isGiven: isBack ? sent.isGiven === 'yes' : plan?.givenFrom != null,
			givenFrom: sent.givenFrom ?? (plan?.givenFrom == null ? '' : writeLocal(plan.givenFrom, zone)),
			isDownAtOnce: isBack ? sent.isDownAtOnce === 'yes' : (plan?.isDownAtOnce ?? false),
			asksPostal: isBack ? sent.asksPostal === 'yes' : (plan?.asksPostal ?? false),
			sellsSeats: isBack ? sent.sellsSeats === 'yes' : (plan?.sellsSeats ?? false),
			sellsAsGift: isBack ? sent.sellsAsGift === 'yes' : (plan?.sellsAsGift ?? false),
			isForSome: isBack ? sent.isForSome === 'yes' : plan?.soldTo != null,
			soldTo: isBack ? chosenBefore(sent) : (plan?.soldTo ?? null),
			sale: sent.sale ?? (plan ? saleOf(plan) : 'listed')
		})
	);
	const typed = $derived(given.current);
	const chosenBefore = ({ soldTo, soldToTitle }: typeof sent) =>
		soldTo ? { id: String(soldTo), title: String(soldToTitle) } : null;
	let isForSome = $derived(typed.isForSome);
	let soldTo = $derived(typed.soldTo);
	let isLess = $derived(typed.isLess);
	let isElsewhere = $derived(typed.isElsewhere);
	let isGiven = $derived(typed.isGiven);
</script>

<form
	method="post"
	action="?/save"
	class="sheet grid grid-cols-1 gap-4 p-6 pt-7"
	novalidate
	use:enhance={editing.submit}
>
	<h2>{plan ? plan.name : 'A new plan'}</h2>
	<Saved text={saved} />
	<ErrorSummary errors={said} />
	{#if theirs && !editing.isPutBack}<ChangedElsewhere
			{theirs}
			what="this plan"
			href={page.url.pathname}
		/>{/if}
	{#if rehearsal && !editing.isPutBack}<Rehearsal
			{rehearsal}
			title="What the change of “{plan?.name}” would do"
			{zone}
			action="?/save"
		/>{/if}
	{#key editing.version}
		<TextField name="name" label="Name" from={String(typed.name)} errors={said} />
		<TextField
			name="lines"
			label="What you get"
			hint="A line each."
			rows={4}
			from={String(typed.lines)}
			errors={said}
		/>
		{#if hasPrices}<TextField
				name="priceName"
				label="What buyers choose this price by"
				hint="It has several prices: this is the first of them."
				from={String(typed.priceName)}
				errors={said}
			/>{/if}
		<PriceInput terms={plan?.terms ?? null} {sent} {currency} {currencies} errors={said} />
		<Fold
			label="How it is paid, and how one joins for nothing"
			isOpen={typed.payBy !== '' || !typed.isOpenAtOnce}
		>
			<div class="grid gap-4">
				<SelectField
					name="payBy"
					label="How it is paid"
					hint="What the site does not offer, no plan does."
					options={[
						{ value: '', label: 'As everything on the site' },
						{ value: 'card', label: 'By card alone' },
						{ value: 'offline', label: `${offline} alone` },
						{ value: 'card offline', label: `By card, or ${offline.toLowerCase()}` },
						{ value: 'offline card', label: `${offline}, or by card` }
					]}
					from={String(typed.payBy)}
					errors={said}
				/>
				<CheckField
					name="isOpenAtOnce"
					label="Where nothing is paid at first, a new address is let in at once"
					hint="On the device that typed it. Otherwise by the link that is mailed to it alone. Addresses that have an account always get the link."
					from={typed.isOpenAtOnce}
				/>
			</div>
		</Fold>
		<AccessInput access={plan?.access ?? null} {sent} {zone} errors={said} />
		<RadioField
			name="sale"
			label="Who can buy it?"
			options={[
				{ value: 'listed', label: 'Everybody', detail: 'It is listed on the plan page and in notices.' },
				{ value: 'by-link', label: 'Whoever has its link', detail: 'No page leads there.' },
				{ value: 'closed', label: 'Nobody new', detail: 'Those who have it keep it.' }
			]}
			from={String(typed.sale)}
			errors={said}
		/>
		<SoldTo bind:isForSome bind:chosen={soldTo} errors={said} />
		<CheckField
			name="sellsAsGift"
			label="It can be bought as a gift"
			hint="For somebody else’s address, who is told on a day that the buyer chooses. Of what is paid again and again a gift is one span of it; instalments cannot be given."
			from={typed.sellsAsGift}
		/>
		<CheckField
			name="sellsSeats"
			label="It can be bought for several people"
			hint="Its price is for each. Whoever buys it has the first seat, gives the others to addresses in their account, takes them back and sees who came."
			from={typed.sellsSeats}
		/>
		<CheckField
			name="asksPostal"
			label="Something of it is sent by post"
			hint="Whoever buys it is asked where to. The address stands at the order, and a program that is told what is bought is told it, too."
			from={typed.asksPostal}
		/>
		<TextField
			name="note"
			label="What buyers read when they have it"
			hint="On the page that thanks them, and in the mail. Empty: nothing more."
			rows={3}
			from={String(typed.note)}
			errors={said}
		/>
		{#if others.length > 0}
			<Fold label="Less for those who hold another plan" isOpen={typed.isLess}>
				<div class="grid gap-4">
					<CheckField
						name="isLess"
						label="Whoever holds one of these pays less"
						hint="Without a code, when they buy. Of this and a code the one that takes off more counts."
						bind:checked={isLess}
					/>
					{#if isLess}
						<ChecksField
							name="lessFor"
							label="Holders of"
							options={optionsOf(others)}
							from={typed.lessFor}
							errors={said}
						/>
						<OffInput
							discount={plan?.lessFor?.discount ?? null}
							{sent}
							{currency}
							{currencies}
							errors={said}
						/>
					{/if}
				</div>
			</Fold>
		{/if}
		<Fold
			label="An intake: sold for a time, to the first so many, begun on one day, with a waiting list"
			isOpen={typed.sellsFrom !== '' ||
				typed.sellsUntil !== '' ||
				typed.firstDay !== '' ||
				typed.firstBuyers !== '' ||
				typed.hasWaitingList}
		>
			<div class="grid gap-4">
				<MomentField
					name="sellsFrom"
					label="Selling opens (at once, if empty)"
					from={String(typed.sellsFrom)}
					errors={said}
				/>
				<MomentField
					name="sellsUntil"
					label="Selling closes (never, if empty)"
					from={String(typed.sellsUntil)}
					errors={said}
				/>
				<p class="text-sm text-quiet">
					Before it opens its page says when it does. Whoever is on the way to pay when it closes may still
					pay. Those who have it keep it.
				</p>
				<FirstBuyers from={String(typed.firstBuyers)} isOnly={!hasPrices} errors={said} />
				<MomentField
					name="firstDay"
					label="All begin together on (each when they buy, if empty)"
					from={String(typed.firstDay)}
					errors={said}
				/>
				<p class="text-sm text-quiet">
					Whoever buys before that pays at once and is let in then: releases, lengths and the next payments
					count from it. Whoever has bought already keeps the day that they bought with.
				</p>
				<CheckField
					name="hasWaitingList"
					label="A waiting list while it cannot be bought"
					hint="Before selling opens, after it closes, or when nothing is left: people leave their address, show by a mailed link that it is theirs, and are told once, when it can be bought."
					from={typed.hasWaitingList}
				/>
			</div>
		</Fold>
		<Fold label="Given to every new account" isOpen={typed.isGiven}>
			<div class="grid gap-4">
				<CheckField
					name="isGiven"
					label="Whoever gets an account gets this plan with it"
					hint="By signing up, buying anything, being added by hand or by a checkout elsewhere. Those who have an account already get nothing. A table of members gives what stands in it."
					bind:checked={isGiven}
				/>
				{#if isGiven}<MomentField
						name="givenFrom"
						label="From (at once, if empty)"
						from={String(typed.givenFrom)}
						errors={said}
					/>{/if}
			</div>
		</Fold>
		<Fold
			label="Bought elsewhere, another name on card statements, a mailing list of its own"
			isOpen={typed.isElsewhere || typed.statementName !== '' || typed.mailingList !== ''}
		>
			<div class="grid gap-4">
				<CheckField
					name="isElsewhere"
					label="It is bought at another checkout"
					hint="Every button that sells it leads there. That checkout tells us to grant and to withdraw: see Settings, Programs."
					bind:checked={isElsewhere}
				/>
				{#if isElsewhere}<TextField
						name="buyAt"
						label="The address of the page there"
						hint="Such as https://shop.example/buy/workshop"
						from={String(typed.buyAt)}
						errors={said}
					/>{/if}
				<TextField
					name="statementName"
					label="Its name on card statements"
					hint="5 to 22 letters. Empty: as everything on the site."
					maxlength={22}
					from={String(typed.statementName)}
					errors={said}
				/>
				<TextField
					name="mailingList"
					label="The mailing list of whoever holds it"
					hint="Passed on to programs that are told who joins and leaves, so that they need not know plans. Empty: none."
					maxlength={120}
					from={String(typed.mailingList)}
					errors={said}
				/>
			</div>
		</Fold>
		<div class="grid gap-4 sm:grid-cols-[1fr_6rem]">
			<TextField
				name="ladder"
				label="Ladder"
				hint={ladders.length === 0
					? 'Plans of which a member holds one at a time. Empty: on none.'
					: `Plans of which a member holds one at a time, such as ${ladders.map(({ name }) => name).join(', ')}. Empty: on none.`}
				from={String(typed.ladder)}
				errors={said}
			/>
			<NumberField
				name="rung"
				label="Rung"
				hint="1: lowest"
				min={1}
				class="w-full"
				from={String(typed.rung)}
				errors={said}
			/>
		</div>
		<CheckField
			name="isDownAtOnce"
			label="Going down from it is at once"
			hint="To a lower rung of its ladder: what was paid pays for that one until it is used, and nothing goes back. Otherwise it stays open to the end of what is paid."
			from={typed.isDownAtOnce}
		/>
		<SelectField
			name="afterLapse"
			label="When somebody comes back after a lapse, releases"
			options={[
				{ value: 'on', label: 'go on as if they had never been away' },
				{ value: 'stand-still', label: 'stood still meanwhile, and go on from there' },
				{ value: 'anew', label: 'begin anew' }
			]}
			from={String(typed.afterLapse)}
			errors={said}
		/>
		<EditorFoot
			{editing}
			of="plan {plan ? page.url.pathname : 'new'}"
			{revision}
			keep={plan ? 'Keep it' : 'Create the plan'}
		/>
	{/key}
</form>
