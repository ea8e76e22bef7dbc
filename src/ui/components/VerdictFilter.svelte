<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { VERDICTS, type Verdict } from '$core/access/decision';
	import { asking } from '$ui/address';
	import SelectField from '$ui/fields/SelectField.svelte';
	import { VERDICT_WORDS } from '$ui/wording/decision';

	/** Shows a list of decisions in one state only; the choice is kept in the address. */
	let { state, counts }: { state: Verdict | null; counts: Partial<Record<Verdict, number>> } = $props();

	function choose(chosen: string) {
		void goto(asking(page.url.searchParams, { state: chosen, page: null }), {
			keepFocus: true,
			noScroll: true
		});
	}
</script>

<SelectField
	label="Show only"
	hidesLabel
	class="w-48"
	options={[
		{ value: '', label: 'every state' },
		...VERDICTS.filter((one) => counts[one]).map((verdict) => ({
			value: verdict,
			label: `${VERDICT_WORDS[verdict]} (${counts[verdict]})`
		}))
	]}
	from={state ?? ''}
	onChoose={choose}
/>
