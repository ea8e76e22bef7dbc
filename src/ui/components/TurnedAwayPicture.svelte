<script lang="ts">
	/** What a stranger would find, as a picture beside the words that make it. */
	import type { Terms } from '$core/billing/terms';
	import type { AnswerDraft } from '$ui/fence-draft';
	import Notice from './Notice.svelte';

	let {
		answer,
		title,
		plans,
		otherWays,
		zone
	}: {
		answer: AnswerDraft;
		/** Of something that is caught. */
		title: string | null;
		plans: { id: string; name: string; terms: Terms }[];
		otherWays: { code: boolean; account: boolean };
		zone: string;
	} = $props();

	const offered = $derived(plans.map((plan) => ({ plan, action: { href: '/plans' }, opensAt: null })));
</script>

<figure>
	<div class="rounded-sheet border border-line bg-ground p-3 text-sm" inert>
		{#if answer.kind === 'notice'}
			<p class="mb-3 font-read text-lg font-semibold">{title ?? 'What is closed'}</p>
			<Notice
				denial={{
					verdict: 'shut',
					standing: 'stranger',
					text: answer.text,
					opensAt: null,
					isHeldInVain: false
				}}
				title={title ?? ''}
				member={null}
				plans={offered}
				{otherWays}
				{zone}
				path="/"
			/>
		{:else if answer.kind === 'sent'}
			<p class="p-4 text-center">Goes on to <strong class="break-all">{answer.to}</strong></p>
		{:else}
			<p class="p-4 text-center">This page does not exist.</p>
		{/if}
	</div>
	<figcaption class="mt-1 text-sm text-quiet">
		What a stranger sees{title ? ` of “${title}”` : ''}.
	</figcaption>
</figure>
