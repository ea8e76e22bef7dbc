<script lang="ts">
	import { OWN_COLOUR, readColour } from '$core/looks/colour';
	import LooksInput from '$ui/components/LooksInput.svelte';
	import SettingsForm from '$ui/components/SettingsForm.svelte';

	let { data, form } = $props();
</script>

<svelte:head><title>Looks · Settings · Desk</title></svelte:head>

<SettingsForm
	title="Looks"
	part="looks"
	kept={data.kept}
	revision={data.revision}
	zone={data.site.zone}
	answered={form}
>
	{#snippet fields({ shown, errors })}
		{@const sent = shown as typeof shown & { hasColour?: string; colour?: string }}
		<LooksInput
			hasColour={'colour' in shown ? sent.hasColour === 'yes' : shown.looks.colour !== null}
			colour={'colour' in shown ? String(sent.colour) : (readColour(shown.looks.colour ?? '') ?? OWN_COLOUR)}
			{errors}
		/>
	{/snippet}
</SettingsForm>
