<script lang="ts">
	/** Inside a form that changes blocked places: from where access would end or begin, and the yes to just that. */
	import { countryName } from '$ui/countries';

	let { places, action }: { places: { keptOut: string[]; letIn: string[]; yes: string }; action: string } =
		$props();

	const named = (list: string[]) =>
		list.map((place) => (/^[A-Z]{2}$/.test(place) ? countryName(place) : place)).join(', ');
</script>

<div role="alert" class="grid gap-2 rounded-sheet border-2 border-gorse bg-gorse-wash p-4">
	<p class="font-semibold">What the change of blocked places would do. Nothing is saved yet.</p>
	{#if places.keptOut.length > 0}
		<p class="font-medium text-brick">
			Members and strangers who come from {named(places.keptOut)} could open nothing of it any more.
		</p>
	{/if}
	{#if places.letIn.length > 0}
		<p>Whoever comes from {named(places.letIn)} could open again what is open to them otherwise.</p>
	{/if}
	<button class="button-main justify-self-start" formaction={action} name="agreedTo" value={places.yes}
		>Do it</button
	>
</div>
