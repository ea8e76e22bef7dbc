<script lang="ts">
	import { MOST_OF_POSTAL_PART, type Postal } from '$core/text/postal';
	import Field from '$ui/fields/Field.svelte';
	import { useWords } from '$ui/words';

	/** Where something is sent by post. */
	let {
		typed,
		countries,
		errors
	}: { typed: Postal; countries: { code: string; name: string }[]; errors: Record<string, string[]> } =
		$props();

	const words = useWords();

	/** `[field, part, token of autocomplete (HTML Standard §4.10.18.7), whether it is needed]` */
	const LINES = [
		['postalName', 'name', 'shipping name', true],
		['postalMore', 'more', 'shipping address-line2', false],
		['postalStreet', 'street', 'shipping address-line1', true],
		['postalCode', 'postcode', 'shipping postal-code', false],
		['postalCity', 'city', 'shipping address-level2', true],
		['postalRegion', 'region', 'shipping address-level1', false]
	] as const;
</script>

<fieldset class="grid gap-3 border-l-3 border-line px-4 py-1">
	<legend class="question float-left mb-2 w-full">{words().say('checkout.postal')}</legend>
	{#each LINES as [name, part, token, isNeeded] (name)}
		<Field {name} label={words().say(`checkout.postal-${part}`)} {errors}>
			{#snippet children(props)}
				<input
					class="input {part === 'postcode' ? 'w-40' : ''}"
					autocomplete={token}
					maxlength={MOST_OF_POSTAL_PART}
					defaultValue={typed[part]}
					required={isNeeded}
					{...props}
				/>
			{/snippet}
		</Field>
	{/each}
	<Field name="postalCountry" label={words().say('checkout.country')} {errors}>
		{#snippet children(props)}
			<select class="input" autocomplete="shipping country" required {...props}>
				<option value="">{words().say('checkout.country-choose')}</option>
				{#each countries as { code, name } (code)}
					<option value={code} selected={code === typed.country}>{name}</option>
				{/each}
			</select>
		{/snippet}
	</Field>
</fieldset>
