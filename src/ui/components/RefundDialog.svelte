<script lang="ts">
	import { AlertDialog } from 'bits-ui';
	import { untrack } from 'svelte';
	import { enhance } from '$app/forms';
	import { formatMoney, parseAmount, plainAmount } from '$core/billing/money';
	import type { ProcessorName } from '$core/billing/pay-by';
	import RadioField from '$ui/fields/RadioField.svelte';
	import TextField from '$ui/fields/TextField.svelte';

	/** Refunding a payment, whole or in part: says in numbers what will happen, as it is typed. */
	let {
		payment,
		member,
		opens,
		isOfNow,
		isGift = false,
		errors
	}: {
		payment: {
			id: string;
			currency: string;
			leftMinor: number;
			unusedMinor: number;
			processor: ProcessorName;
		};
		member: string;
		/** How many items the plan opens. */
		opens: number;
		/** Whether it pays for access that there is now, or is to come. */
		isOfNow: boolean;
		/** Whether it pays for a gift that was not opened yet. */
		isGift?: boolean;
		/** What was wrong with the last try, where it was of this payment. */
		errors: Record<string, string[]>;
	} = $props();

	let isOpen = $state(false);
	let id = $state('');
	let amount = $state('');
	let access = $state('');
	const money = (minor: number) => formatMoney({ minor, currency: payment.currency });
	const plain = (minor: number) => plainAmount({ minor, currency: payment.currency });
	const typed = $derived(parseAmount(amount, payment.currency));
	const isTooMuch = $derived(typed.ok && typed.money.minor > payment.leftMinor);
	const suggestions = $derived([
		{ label: 'All that is left', minor: payment.leftMinor },
		...(payment.unusedMinor > 0 && payment.unusedMinor < payment.leftMinor
			? [{ label: 'What is not used yet', minor: payment.unusedMinor }]
			: [])
	]);
	const what = $derived.by(() => {
		if (!typed.ok) return 'Type how much goes back.';
		if (isTooMuch) return `At most ${money(payment.leftMinor)} of it are left.`;
		const back =
			payment.processor === 'card'
				? `${money(typed.money.minor)} go back to the card`
				: `You send ${money(typed.money.minor)} back yourself; it is written down as sent`;
		if (!isOfNow) return `${back}. It is of a time that is over: access stays as it is.`;
		if (isGift)
			return access === 'ends'
				? `${back}, and the gift does not open any more.`
				: `${back}. The gift waits as before.`;
		const items = opens === 1 ? '1 item closes' : `${opens} items close`;
		return access === 'ends'
			? `${back}, what was agreed ends, and ${items} for ${member} at once.`
			: `${back}. Access and what was agreed stay as they are.`;
	});

	function open(opened: boolean) {
		isOpen = opened;
		if (!opened) return;
		id = crypto.randomUUID();
		amount = plain(untrack(() => payment.leftMinor));
		access = isOfNow ? 'ends' : 'stays';
	}
</script>

<AlertDialog.Root bind:open={() => isOpen, open}>
	<AlertDialog.Trigger class="button-quiet">Refund</AlertDialog.Trigger>
	<AlertDialog.Portal>
		<AlertDialog.Overlay class="shade" />
		<AlertDialog.Content class="sheet dialog">
			<AlertDialog.Title class="text-lg font-semibold">Refund this payment?</AlertDialog.Title>
			<form
				method="post"
				action="?/refund"
				class="mt-4 grid gap-4"
				use:enhance={() =>
					async ({ result, update }) => {
						if (result.type === 'success') isOpen = false;
						await update({ reset: false });
					}}
			>
				<input type="hidden" name="refund" value={id} />
				<input type="hidden" name="payment" value={payment.id} />
				<div class="grid gap-2">
					<TextField
						label="How much, in {payment.currency}"
						id="amount-{payment.id}"
						name="amount"
						class="price w-32 text-right"
						inputmode="decimal"
						autocomplete="off"
						bind:value={amount}
						{errors}
					/>
					<div class="flex flex-wrap gap-2">
						{#each suggestions as { label, minor } (label)}
							<button type="button" class="button-quiet" onclick={() => (amount = plain(minor))}
								>{label}: {money(minor)}</button
							>
						{/each}
					</div>
				</div>
				{#if isOfNow}
					<RadioField
						label={isGift ? 'And the gift?' : 'And access?'}
						name="access"
						options={[
							{
								value: 'ends',
								label: isGift ? 'It does not open any more' : 'It ends now, with what was agreed'
							},
							{ value: 'stays', label: 'It stays as it is' }
						]}
						bind:value={access}
						{errors}
					/>
				{:else}<input type="hidden" name="access" value="stays" />{/if}
				<TextField
					label="Why? (for your own notes)"
					id="why-{payment.id}"
					name="why"
					maxlength={500}
					{errors}
				/>
				<AlertDialog.Description class="font-medium" aria-live="polite">{what}</AlertDialog.Description>
				<div class="flex flex-wrap justify-end gap-2">
					<AlertDialog.Cancel type="button" class="button-quiet">Leave it as it was</AlertDialog.Cancel>
					<button class="button-stop-main"
						>{typed.ok && !isTooMuch ? `Refund ${money(typed.money.minor)}` : 'Refund'}</button
					>
				</div>
			</form>
		</AlertDialog.Content>
	</AlertDialog.Portal>
</AlertDialog.Root>
