<script lang="ts">
	/** What became of a mail: a post that stands, leans, is broken or crossed; with its word. */
	import { FATE_COLOURS, FATE_WORDS, reasonOf, type MailStanding } from '$ui/wording/mail-fates';

	let {
		fate,
		code = null,
		words = null,
		isCleared = false
	}: {
		fate: MailStanding;
		code?: string | null;
		/** What the server said. */
		words?: string | null;
		/** It says nothing against the address any more. */
		isCleared?: boolean;
	} = $props();

	const reason = $derived(fate === 'gone' && code === '5.1.1' ? null : reasonOf(code));
</script>

<span class="inline-flex items-baseline gap-2 {isCleared ? 'text-slate' : FATE_COLOURS[fate]}">
	<svg
		class="shrink-0 self-center"
		width="14"
		height="16"
		viewBox="0 0 14 16"
		fill="none"
		stroke="currentColor"
		stroke-width="2.4"
		aria-hidden="true"
	>
		{#if fate === 'sent'}<path d="M7 1v14" />
		{:else if fate === 'late'}<path d="M4 1l6 14" />
		{:else if fate === 'refused'}<path d="M7 1v5M7 10v5M3 8h8" />
		{:else if fate === 'gone'}<path d="M2 2l10 12M12 2 2 14" />
		{:else if fate === 'complaint'}<path d="M7 1v14M2 4l10 8" />
		{:else}<path d="M7 1v3M7 6.5v3M7 12v3" />{/if}
	</svg>
	<span class="min-w-0">
		<span class="font-medium">{FATE_WORDS[fate]}</span>{#if reason !== null}<span>: {reason}</span>{/if}
		{#if words}<span class="block text-sm break-words text-quiet">{words}</span>{/if}
	</span>
</span>
