<script lang="ts">
	import type { AnswerDraft } from '$ui/fence-draft';
	import SelectField from '$ui/fields/SelectField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import RichTextEditor from './RichTextEditor.svelte';

	/** One way of turning away: a notice, being sent elsewhere, or as if there were no such page. */
	let {
		answer = $bindable(),
		name,
		message = null
	}: { answer: AnswerDraft; name: string; message?: string | null | undefined } = $props();
</script>

<div class="grid grid-cols-1 gap-2" id={name}>
	<SelectField
		label="How"
		hidesLabel
		class="max-w-96"
		options={[
			{ value: 'notice', label: 'A notice, with the plans that open it' },
			{ value: 'sent', label: 'Sent elsewhere' },
			{ value: 'absent', label: 'As if there were no such page' }
		]}
		bind:value={() => answer.kind, (to) => (answer.kind = to as typeof answer.kind)}
	/>
	{#if answer.kind === 'notice'}
		<RichTextEditor bind:text={answer.text} label="Notice" message={message ?? null} />
	{:else if answer.kind === 'sent'}
		<TextField label="To this path" hidesLabel class="max-w-96" bind:value={answer.to} />
		<p class="text-sm text-quiet">
			/sign-in, /plans, a plan’s page or checkout, or any other path of this site. They come back afterwards.
		</p>
		{#if message}<p class="text-sm font-medium text-brick">{message}</p>{/if}
	{/if}
</div>
