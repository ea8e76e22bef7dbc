<script lang="ts">
	import { enhance } from '$app/forms';
	import TextField from '../fields/TextField.svelte';
	import Confirm from '../parts/Confirm.svelte';

	/** Says of money that is paid without a card that it came in, or that it did not: then what it was for ends. */
	let {
		payment,
		amount,
		currency,
		what,
		member,
		isFirst
	}: {
		/** Its id. */
		payment: string;
		amount: string;
		currency: string;
		/** What it pays for. */
		what: string;
		member: string;
		/** The first of an order; else one that is due. */
		isFirst: boolean;
	} = $props();

	const no = $derived(isFirst ? 'Refuse' : 'It did not come');
	const ends = $derived(
		isFirst
			? `The order of ${what} for ${amount} ends. Nothing was open, and nothing opens. ${member} is told by mail and may order again.`
			: `${what} ends for ${member}, who is told by mail and may buy it again.`
	);
</script>

<div class="flex shrink-0 flex-wrap gap-2">
	<form method="post" action="?/answer" use:enhance>
		<input type="hidden" name="payment" value={payment} />
		<input type="hidden" name="answer" value="captured" />
		<button class="button-main" aria-label="It came in: {amount} of {member}">It came in</button>
	</form>
	{#if isFirst}
		<Confirm
			label="A part of it"
			spoken="A part came in: of {amount} of {member}"
			title="How much of {amount} has come in?"
			what="It is written down with a receipt, and the rest is waited for. Nothing opens before all of it is there; {member} is told by mail what is left."
			action="?/answer"
			confirmLabel="So much came in"
			isQuiet
		>
			<input type="hidden" name="payment" value={payment} />
			<input type="hidden" name="answer" value="captured" />
			<input type="hidden" name="currency" value={currency} />
			<TextField id="part-{payment}" name="amount" label="Amount, in {currency}" from="" />
		</Confirm>
	{/if}
	<Confirm
		label={no}
		spoken="{no}: {amount} of {member}"
		title={isFirst ? 'Refuse the order?' : `Has ${amount} not come in?`}
		what={ends}
		action="?/answer"
		confirmLabel={isFirst ? 'Refuse it' : 'End it'}
		isQuiet
	>
		<input type="hidden" name="payment" value={payment} />
		<input type="hidden" name="answer" value="declined" />
		{#if isFirst}<TextField
				id="why-{payment}"
				name="why"
				label="Why"
				hint="It stands in the mail. Empty: the mail says that the order was not taken."
				rows={3}
				from=""
			/>{/if}
	</Confirm>
</div>
