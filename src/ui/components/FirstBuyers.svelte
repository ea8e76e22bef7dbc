<script lang="ts">
	import NumberField from '$ui/fields/NumberField.svelte';

	/** For how many buyers a price is. */
	let {
		from,
		isOnly,
		errors
	}: {
		from: string;
		/** Whether the plan has no other price. */
		isOnly: boolean;
		errors: Record<string, string[]>;
	} = $props();
</script>

<NumberField
	name="firstBuyers"
	label="For the first buyers alone (for all, if empty)"
	hint={isOnly
		? 'When so many have bought, it cannot be bought any more. An order that is being paid holds a place for an hour; a refund frees none.'
		: 'When so many have bought at it, it is not offered any more, and the others are. An order that is being paid holds a place for an hour; a refund frees none.'}
	min={1}
	class="w-32"
	{from}
	{errors}
/>
