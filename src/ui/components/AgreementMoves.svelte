<script lang="ts">
	import type { Terms } from '$core/billing/terms';
	import SelectField from '$ui/fields/SelectField.svelte';
	import Confirm from '$ui/parts/Confirm.svelte';
	import { formatMoment } from '$ui/wording/time';
	import { useWords } from '$ui/words';
	import { priceText } from '$words/price';

	/** Moves a member to another plan of the ladder, or to another price; what asks for money now waits for the next payment. */
	let {
		agreement,
		member,
		zone
	}: {
		agreement: {
			id: string;
			moves: {
				priceId: string;
				/** What is said of it here. */
				seen: string;
				plan: string;
				price: string;
				terms: Terms;
				/** With the next payment; `null`: at once. */
				at: number | null;
				/** When the lower price is asked for first, where one goes down at once; `null`: one does not. */
				priceFrom: number | null;
				asksNow: boolean;
			}[];
		};
		member: string;
		zone: string;
	} = $props();

	const words = useWords();

	let chosen = $state('');
	const to = $derived(agreement.moves.find(({ priceId }) => priceId === chosen) ?? agreement.moves[0]);
	const called = (one: (typeof agreement.moves)[number]) =>
		one.price === '' ? one.plan : `${one.plan}, ${one.price}`;
	const what = $derived.by(() => {
		if (!to) return '';
		const pays = priceText(words(), to.terms);
		if (to.priceFrom !== null)
			return `At once, for what is paid; nothing of it goes back. From the next payment on, ${formatMoment(to.priceFrom, zone)}: ${pays}.`;
		if (to.at === null) return `At once, and ${member} pays nothing for it now. From then on: ${pays}.`;
		const from = `From the next payment on, ${formatMoment(to.at, zone)}: ${pays}. Until then all stays as it is.`;
		return to.asksNow
			? `${from} To have it at once, ${member} moves in their own account, and pays the difference there.`
			: from;
	});
</script>

<Confirm
	label="Move it"
	title="Move {member} to another plan or price?"
	{what}
	action="?/move"
	confirmLabel="Move it"
	isQuiet
>
	<input type="hidden" name="agreement" value={agreement.id} />
	<input type="hidden" name="seen" value={to?.seen ?? ''} />
	<SelectField
		label="To"
		name="price"
		options={agreement.moves.map((one) => ({ value: one.priceId, label: called(one) }))}
		bind:value={() => to?.priceId ?? '', (value) => (chosen = value)}
	/>
</Confirm>
