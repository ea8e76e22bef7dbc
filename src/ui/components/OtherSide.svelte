<script lang="ts">
	/** The front as somebody else, beside what is being edited: `o` opens and closes it. */
	import { untrack } from 'svelte';
	import { page } from '$app/state';
	import Picker from './Picker.svelte';

	let { plans, isOpen = $bindable(false) }: { plans: { id: string; name: string }[]; isOpen?: boolean } =
		$props();

	type Kind = 'stranger' | 'member' | 'holder' | 'lapsed';

	let kind = $state<Kind>('stranger');
	let planId = $state(untrack(() => plans[0]?.id ?? ''));
	let days = $state('0');
	let member = $state<{ id: string; label: string } | null>(null);
	let path = $state('/');
	let prefix = $state('');
	let problem = $state('');
	let width = $state(46);
	let asked = 0;

	/** An item that is being edited is looked at; the moment is the rail's. */
	const suggested = $derived((page.data.item as { address?: string | null } | undefined)?.address ?? null);
	const at = $derived(Number(page.url.searchParams.get('asof')) || null);
	const rules = $derived(page.url.searchParams.get('rules') === 'then' ? 'then' : 'today');

	$effect(() => {
		if (suggested) path = suggested;
	});

	$effect(() => {
		if (!isOpen) return;
		const as =
			kind === 'stranger'
				? { kind }
				: kind === 'member'
					? { kind, id: member?.id }
					: { kind, id: planId, days };
		if (kind === 'member' && !member) {
			prefix = '';
			return;
		}
		const body = JSON.stringify({ as, at, rules });
		const mine = ++asked;
		void fetch('/desk/other-side', {
			method: 'POST',
			body,
			headers: { 'content-type': 'application/json' }
		}).then(async (response) => {
			const answer = (await response.json()) as { prefix?: string; message?: string };
			if (mine !== asked) return;
			prefix = answer.prefix ?? '';
			problem = answer.message ?? '';
		});
	});

	function onkeydown(event: KeyboardEvent) {
		const target = event.target as HTMLElement;
		const isTyping = target.isContentEditable || /^(?:INPUT|TEXTAREA|SELECT)$/.test(target.tagName);
		if (event.key === 'o' && !isTyping && !event.ctrlKey && !event.metaKey && !event.altKey) isOpen = !isOpen;
		else if (event.key === 'Escape' && isOpen && !event.defaultPrevented) isOpen = false;
	}
</script>

<svelte:window {onkeydown} />

{#if isOpen}
	<aside
		class="sticky top-0 grid h-screen shrink-0 grid-rows-[auto_1fr] border-l-4 border-moss bg-sheet"
		style:width="{width}%"
		aria-label="The other side"
	>
		<div class="grid gap-2 border-b border-line p-3">
			<div class="flex items-baseline justify-between gap-3">
				<h2>The other side</h2>
				<label class="flex items-center gap-2 text-sm"
					><span>Width</span><input
						type="range"
						min="28"
						max="70"
						class="w-24 accent-moss"
						bind:value={width}
					/></label
				>
				<button type="button" class="cursor-pointer underline" onclick={() => (isOpen = false)}
					>Close (o)</button
				>
			</div>
			<div class="flex flex-wrap items-center gap-2">
				<select class="input w-auto" aria-label="Look as" bind:value={kind}>
					<option value="stranger">as a stranger</option>
					<option value="holder">as a holder of</option>
					<option value="lapsed">as one whose plan has lapsed</option>
					<option value="member">as a member</option>
				</select>
				{#if kind === 'holder' || kind === 'lapsed'}
					<select class="input w-auto" aria-label="Plan" bind:value={planId}>
						{#each plans as plan (plan.id)}<option value={plan.id}>{plan.name}</option>{/each}
					</select>
				{/if}
				{#if kind === 'holder'}
					<label class="flex items-center gap-1.5 text-sm"
						><span>joined</span><input
							class="input w-16 text-right"
							inputmode="numeric"
							aria-label="Days ago"
							bind:value={days}
						/><span>days ago</span></label
					>
				{/if}
				{#if kind === 'member'}
					<div class="w-64">
						<Picker
							label="Member"
							kinds="member"
							placeholder={member?.label ?? 'Type a name or address'}
							onChoose={(found) => (member = found)}
						/>
					</div>
				{/if}
			</div>
			<label class="flex items-center gap-2 text-sm"
				><span>Path</span><input class="input" bind:value={path} /></label
			>
			{#if problem}<p class="text-sm font-medium text-brick">{problem}</p>{/if}
		</div>
		{#if prefix}
			<iframe
				class="h-full w-full bg-ground"
				title="The front, as somebody else"
				src={prefix + (path.startsWith('/') ? path : `/${path}`)}
			></iframe>
		{:else}
			<p class="p-5 text-quiet">Choose as whom to look.</p>
		{/if}
	</aside>
{/if}
