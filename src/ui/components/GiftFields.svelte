<script lang="ts">
	import Field from '$ui/fields/Field.svelte';
	import { useWords } from '$ui/words';

	/** For whom something is bought, what is said to them, and when. */
	let {
		typed,
		today,
		lastDay,
		errors
	}: {
		typed: { email: string; words: string; day: string };
		/** Days such as 2026-12-24, by the publisher's zone. */
		today: string;
		lastDay: string;
		errors: Record<string, string[]>;
	} = $props();

	const words = useWords();
</script>

<fieldset class="grid gap-4 border-l-3 border-moss bg-moss-wash px-4 py-3">
	<legend class="question float-left mb-3 w-full">{words().say('checkout.gift-who')}</legend>
	<Field
		name="giftEmail"
		label={words().say('checkout.gift-address')}
		hint={words().say('checkout.gift-address-hint')}
		{errors}
	>
		{#snippet children(props)}
			<input class="input" type="email" autocomplete="off" defaultValue={typed.email} required {...props} />
		{/snippet}
	</Field>
	<Field
		name="giftWords"
		label={words().say('checkout.gift-words')}
		hint={words().say('checkout.gift-words-hint')}
		{errors}
	>
		{#snippet children(props)}
			<textarea class="input" rows="3" maxlength="500" value={typed.words} {...props}></textarea>
		{/snippet}
	</Field>
	<Field
		name="giftDay"
		label={words().say('checkout.gift-day')}
		hint={words().say('checkout.gift-day-hint')}
		{errors}
	>
		{#snippet children(props)}
			<input
				class="input w-48"
				type="date"
				min={today}
				max={lastDay}
				defaultValue={typed.day}
				required
				{...props}
			/>
		{/snippet}
	</Field>
</fieldset>
