<script lang="ts">
	import { Popover } from 'bits-ui';
	import type { Verdict } from '$core/access/decision';
	import type { Sentence } from '$ui/wording/decision';
	import StateMark from './StateMark.svelte';

	/** A state mark that opens to the steps that led to it. */
	let { verdict, note = null, why }: { verdict: Verdict; note?: string | null; why: Sentence[] } = $props();
</script>

<Popover.Root>
	<Popover.Trigger
		class="cursor-pointer rounded-sheet underline decoration-dotted underline-offset-4 hover:bg-sunk"
	>
		<StateMark {verdict} {note} />
		<span class="sr-only">, why?</span>
	</Popover.Trigger>
	<Popover.Portal>
		<Popover.Content
			class="sheet z-20 w-96 max-w-[90vw] p-4 pt-5 text-sm shadow-lg"
			sideOffset={6}
			collisionPadding={12}
			aria-label="Why"
		>
			<h3 class="mb-2 font-semibold">Why</h3>
			<ol class="grid list-decimal gap-1.5 pl-5">
				{#each why as { text, href, hrefLabel }, i (i)}
					<li>
						{text}
						{#if href}<a {href}>{hrefLabel}</a>{/if}
					</li>
				{/each}
			</ol>
		</Popover.Content>
	</Popover.Portal>
</Popover.Root>
