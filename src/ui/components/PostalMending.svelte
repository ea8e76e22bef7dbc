<script lang="ts">
	import { enhance } from '$app/forms';
	import type { Postal } from '$core/text/postal';
	import Fold from '../parts/Fold.svelte';
	import PostalFields from './PostalFields.svelte';

	/** Where an order is sent, mended at the Desk. */
	let {
		postal,
		revision,
		countries,
		answered
	}: {
		postal: Postal;
		revision: string;
		countries: { code: string; name: string }[];
		/** What was wrong with the last try. */
		answered: { errors?: Record<string, string[]>; values?: Record<string, string | string[]> } | null;
	} = $props();

	const typed = $derived(answered?.values ?? {});
	const line = (field: string, kept: string) => String(typed[field] ?? kept);
	let isOpen = $derived(answered !== null);
</script>

<Fold label="Mend it" bind:isOpen>
	<form method="post" action="?/postal" class="grid gap-3" use:enhance novalidate>
		<input type="hidden" name="revision" value={line('revision', revision)} />
		<PostalFields
			typed={{
				name: line('postalName', postal.name),
				more: line('postalMore', postal.more),
				street: line('postalStreet', postal.street),
				postcode: line('postalCode', postal.postcode),
				city: line('postalCity', postal.city),
				region: line('postalRegion', postal.region),
				country: line('postalCountry', postal.country)
			}}
			{countries}
			errors={answered?.errors ?? {}}
		/>
		<button class="button-quiet justify-self-start">Keep it</button>
	</form>
</Fold>
