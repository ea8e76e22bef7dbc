<script lang="ts">
	/** One row of an outline: its title, which is written in place, and what one looks for beside it. */
	import ChevronRight from '@lucide/svelte/icons/chevron-right';
	import CircleAlert from '@lucide/svelte/icons/circle-alert';
	import GripVertical from '@lucide/svelte/icons/grip-vertical';
	import { dragHandle } from 'svelte-dnd-action';
	import type { Entry } from '$ui/outline.svelte';
	import { windowWords } from '$ui/wording/fence';
	import { ITEM_WORDS, KIND_WORDS } from '$ui/wording/library';
	import { formatLength, formatMoment } from '$ui/wording/time';
	import KindIcon from './KindIcon.svelte';
	import type { OutlineDoing } from './outline-doing';
	import WhoGetsIn from './WhoGetsIn.svelte';

	let { entry, inside, depth, doing }: { entry: Entry; inside: number; depth: number; doing: OutlineDoing } =
		$props();

	/** What is typed and not kept yet. */
	let typed = $state<string | null>(null);
	/** After Esc the next Tab leaves the outline. */
	let isLeaving = $state(false);
	let isOver = $state(false);

	const title = $derived(typed ?? entry.title);
	const isHolder = $derived(doing.holds(entry.kind));
	const isFolded = $derived(doing.isFolded(entry.id));
	const isStop = $derived(doing.currentKey === entry.key);
	const sent = $derived(doing.sentOf(entry.id));
	const name = $derived(entry.title || `a new ${KIND_WORDS[entry.kind].one}`);
	const problem = $derived(entry.problem || sent?.problem || '');

	const stateWords = $derived.by(() => {
		if (sent && !sent.problem) return `Sent ${sent.percent} %`;
		if (entry.isNew) return 'Not kept yet';
		if (entry.progress !== null && entry.assetState === 'preparing') return `Prepared ${entry.progress} %`;
		if (entry.assetState === 'waiting') return 'Waits';
		if (entry.assetState === 'failed') return 'Not prepared';
		return entry.state === 'scheduled' && entry.publishAt !== null
			? `On ${formatMoment(entry.publishAt, doing.zone)}`
			: ITEM_WORDS[entry.state];
	});
	const release = $derived.by(() => {
		const [first] = entry.releases;
		if (!first) return '';
		const plan = doing.plans.find(({ id }) => id === first.planId)?.name ?? 'a plan';
		const more = entry.releases.length > 1 ? ` and ${entry.releases.length - 1} more` : '';
		return `${plan}: ${windowWords(first.window, doing.zone)}${more}`;
	});

	function keep() {
		const to = title.trim();
		if (entry.isNew ? to !== '' : to !== '' && to !== entry.title) doing.keep(entry, to);
		typed = null;
	}

	function onkeydown(event: KeyboardEvent) {
		const wasLeaving = isLeaving;
		isLeaving = false;
		if (event.key === 'Enter') doing.next(entry, title.trim());
		else if (event.altKey && event.key === 'ArrowUp') doing.move(entry, title.trim(), 'up');
		else if (event.altKey && event.key === 'ArrowDown') doing.move(entry, title.trim(), 'down');
		else if (event.key === 'ArrowUp') doing.step(entry, -1);
		else if (event.key === 'ArrowDown') doing.step(entry, 1);
		else if (event.key === 'Tab' && !wasLeaving) {
			if (!doing.move(entry, title.trim(), event.shiftKey ? 'outward' : 'inward')) return;
		} else if (event.key === 'Backspace' && title === '' && entry.isNew) doing.drop(entry);
		else if (event.key === 'Escape') {
			typed = null;
			isLeaving = true;
		} else return;
		// By the arrows one leaves the field, which keeps what was typed.
		const isLeft = event.key.startsWith('Arrow') && !event.altKey;
		if (event.key !== 'Escape' && !isLeft) typed = null;
		event.preventDefault();
	}

	const hasFiles = (event: DragEvent) => event.dataTransfer?.types.includes('Files') ?? false;
	function over(event: DragEvent) {
		if (!hasFiles(event)) return;
		event.preventDefault();
		event.stopPropagation();
		isOver = true;
	}
	function drop(event: DragEvent) {
		if (!hasFiles(event) || !event.dataTransfer) return;
		event.preventDefault();
		event.stopPropagation();
		isOver = false;
		doing.receive(entry, event.dataTransfer);
	}

	/** The library makes each handle a stop of the keyboard: here a list has one. */
	function handle(node: HTMLElement) {
		$effect(() => {
			node.tabIndex = isStop ? 0 : -1;
		});
	}
</script>

<div
	class="row {doing.isWide ? 'is-wide' : ''} {isOver ? 'is-over' : ''} {doing.openId === entry.id
		? 'bg-moss-wash shadow-[inset_3px_0_var(--moss)]'
		: ''}"
	style:padding-left="{depth * 1.25}rem"
	role="group"
	aria-label={name}
	ondragover={over}
	ondragleave={() => (isOver = false)}
	ondrop={drop}
>
	<span class="handle" use:dragHandle {@attach handle} aria-label="Move {name}: Enter, then the arrow keys"
		><GripVertical size={16} /></span
	>
	{#if isHolder}
		<button
			type="button"
			tabindex="-1"
			class="-ml-1 cursor-pointer rounded-sheet p-1 text-quiet hover:bg-moss-wash hover:text-ink"
			aria-label="{isFolded ? 'Unfold' : 'Fold'} {name}"
			aria-expanded={!isFolded}
			onclick={() => doing.fold(entry.id)}
			><ChevronRight size={16} class={isFolded ? '' : 'rotate-90'} /></button
		>
	{:else}<span class="flex w-5 shrink-0 justify-center text-quiet"><KindIcon kind={entry.kind} /></span>{/if}
	<span class="flex min-w-0 grow items-center gap-2">
		<input
			class="title {isHolder ? 'font-semibold' : ''} {entry.id === doing.openId ? 'font-medium' : ''}"
			data-row={entry.key}
			value={title}
			maxlength={200}
			placeholder={isHolder ? 'Title of the section' : `Title of the ${KIND_WORDS[entry.kind].one}`}
			aria-label="Title, {KIND_WORDS[entry.kind].one}"
			aria-invalid={problem ? 'true' : undefined}
			tabindex={isStop ? 0 : -1}
			autocomplete="off"
			oninput={(event) => (typed = event.currentTarget.value)}
			onfocus={() => doing.onFocus(entry)}
			onblur={keep}
			{onkeydown}
		/>
		{#if isHolder && inside > 0}<span class="shrink-0 text-sm text-quiet"
				>{inside}<span class="sr-only"> in it</span></span
			>{/if}
	</span>
	{#if doing.isWide}
		<span class="cell hidden w-24 @2xl:block {entry.assetState === 'failed' ? 'text-brick' : 'text-quiet'}"
			>{stateWords}</span
		>
		<span class="cell hidden w-14 text-right text-quiet @2xl:block"
			>{entry.seconds ? formatLength(entry.seconds) : ''}</span
		>
		<span class="cell hidden w-44 text-quiet @5xl:block" title={release}>{release}</span>
		<span class="cell hidden w-50 @2xl:block"
			>{#if entry.who}<WhoGetsIn
					who={entry.who}
					plans={doing.plans}
					labels={doing.labels}
					now={doing.now}
					zone={doing.zone}
				/>{:else}<span class="text-quiet @5xl:hidden">{release}</span>{/if}</span
		>
	{/if}
	{#if entry.state === 'draft' || sent}<span
			class="cell shrink-0 text-gorse {doing.isWide ? '@2xl:hidden' : ''}">{stateWords}</span
		>{/if}
	{#if entry.isNew}<span class="w-14 shrink-0"></span>
	{:else}<a
			class="tool w-14 shrink-0 text-sm"
			href={doing.hrefOf(entry.id)}
			tabindex={isStop ? 0 : -1}
			aria-label="Open {name}"
			title="Open it beside the outline">Open</a
		>{/if}
</div>
{#if problem}
	<p
		class="flex items-center gap-1.5 py-1 text-sm font-medium text-brick"
		style:padding-left="{depth * 1.25 + 3.4}rem"
	>
		<CircleAlert size={15} />{problem}
		{#if entry.isNew && entry.problem}<button
				type="button"
				class="cursor-pointer underline"
				onclick={() => doing.keep(entry, entry.title)}>Try again</button
			>{/if}
	</p>
{/if}

<style>
	.row {
		display: flex;
		align-items: center;
		gap: 0.4rem;
		min-height: 2.5rem;
		border-bottom: 1px solid var(--line);
	}
	.row:hover,
	.is-over {
		background: var(--sunk);
	}
	.is-over {
		outline: 2px dashed var(--moss);
		outline-offset: -2px;
	}
	.handle {
		display: inline-flex;
		padding: 0.25rem 0;
		color: var(--quiet);
		border-radius: 4px;
	}
	.title {
		width: 100%;
		min-width: 0;
		border-radius: 4px;
		background: transparent;
		padding: 0.25rem 0.4rem;
		text-overflow: ellipsis;
	}
	.title:hover {
		box-shadow: inset 0 0 0 1px var(--line);
	}
	.title:focus {
		background: var(--sheet);
		box-shadow: inset 0 0 0 1px var(--moss);
	}
	.cell {
		overflow: hidden;
		flex-shrink: 0;
		font-size: 0.875rem;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
</style>
