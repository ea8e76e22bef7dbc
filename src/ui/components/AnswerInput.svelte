<script lang="ts">
	import type { AnswerDraft } from '$ui/fence-draft';
	import RichTextEditor from './RichTextEditor.svelte';

	/** One way of turning away: a notice, being sent elsewhere, or as if there were no such page. */
	let {
		answer = $bindable(),
		name,
		message = null
	}: { answer: AnswerDraft; name: string; message?: string | null | undefined } = $props();
</script>

<div class="grid gap-2" id={name}>
	<select class="input w-auto justify-self-start" aria-label="How" bind:value={answer.kind}>
		<option value="notice">A notice, with the plans that open it</option>
		<option value="sent">Sent elsewhere</option>
		<option value="absent">As if there were no such page</option>
	</select>
	{#if answer.kind === 'notice'}
		<RichTextEditor bind:text={answer.text} label="Notice" message={message ?? null} />
	{:else if answer.kind === 'sent'}
		<input class="input max-w-96" aria-label="To this path" bind:value={answer.to} />
		<p class="text-sm text-quiet">
			/sign-in, /plans, a plan’s page or checkout, or any other path of this site. They come back afterwards.
		</p>
		{#if message}<p class="text-sm font-medium text-brick">{message}</p>{/if}
	{/if}
</div>
