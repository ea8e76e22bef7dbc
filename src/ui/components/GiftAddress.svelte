<script lang="ts">
	import Field from '$ui/fields/Field.svelte';
	import { useWords } from '$ui/words';

	/** Where a gift goes, as its giver mends it. */
	let {
		gift,
		answered
	}: {
		gift: { id: string; email: string; state: string };
		/** What was wrong with the last try. */
		answered: { errors?: Record<string, string[]>; values?: Record<string, string | string[]> } | null;
	} = $props();

	const words = useWords();
</script>

<details open={answered !== null}>
	<summary class="cursor-pointer text-sm">{words().say('account.gift-change')}</summary>
	<form method="post" action="?/gift" class="mt-2 flex flex-wrap items-end gap-3" novalidate>
		<input type="hidden" name="gift" value={gift.id} />
		<div class="min-w-0 grow sm:max-w-md">
			<Field
				name="giftEmail"
				id="gift-{gift.id}"
				label={words().say('checkout.gift-address')}
				errors={answered?.errors ?? {}}
			>
				{#snippet children(props)}
					<input
						class="input"
						type="email"
						autocomplete="off"
						defaultValue={String(answered?.values?.giftEmail ?? gift.email)}
						required
						{...props}
					/>
				{/snippet}
			</Field>
		</div>
		<button class="button-quiet"
			>{words().say(gift.state === 'told' ? 'account.gift-send' : 'account.gift-keep')}</button
		>
	</form>
</details>
