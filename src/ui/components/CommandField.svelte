<script lang="ts">
	import { Command, Dialog } from 'bits-ui';
	import { goto } from '$app/navigation';
	import { placesFor } from '$ui/desk-places';

	/** Finds what has a place at the Desk, from anywhere in it. */
	let {
		areas,
		hasMovableClock,
		isOpen = $bindable(false)
	}: {
		/** Addresses that whoever looks may open. */
		areas: readonly string[];
		hasMovableClock: boolean;
		isOpen?: boolean;
	} = $props();

	const MOST_PLACES = 6;

	interface Found {
		id: string;
		kind: string;
		label: string;
		detail: string;
		href: string;
	}

	let text = $state('');
	let field = $state<HTMLElement | null>(null);
	const places = $derived(placesFor(text, areas, hasMovableClock).slice(0, MOST_PLACES));
	let found = $state<Found[]>([]);
	const rows = $derived([
		...places.map(({ label, href }) => ({ id: `place ${label}`, kind: 'Go to', label, detail: '', href })),
		...found
	]);
	let asked = 0;

	function onkeydown(event: KeyboardEvent) {
		if (event.key.toLowerCase() !== 'k' || !(event.ctrlKey || event.metaKey)) return;
		event.preventDefault();
		isOpen = !isOpen;
	}

	async function find() {
		const mine = ++asked;
		if (text.trim() === '') return void (found = []);
		const response = await fetch(`/desk/find?q=${encodeURIComponent(text)}`);
		// An answer that was overtaken by a later question is left.
		if (response.ok && mine === asked) found = (await response.json()) as Found[];
	}

	function choose(href: string) {
		isOpen = false;
		void goto(href);
	}
</script>

<svelte:window {onkeydown} />

<Dialog.Root bind:open={isOpen}>
	<Dialog.Portal>
		<Dialog.Overlay class="shade" />
		<Dialog.Content
			onOpenAutoFocus={(event) => {
				// What was looked for last is there, and goes with the first letter.
				event.preventDefault();
				if (field instanceof HTMLInputElement) field.select();
			}}
			class="sheet fixed top-24 left-1/2 z-40 w-xl max-w-[94vw] -translate-x-1/2 p-4 pt-6"
		>
			<Dialog.Title class="sr-only">Find anything</Dialog.Title>
			<Command.Root shouldFilter={false} label="Find anything">
				<Command.Input
					class="input"
					placeholder="Anything: a member, an item, “new plan”, or a member and an item"
					bind:value={text}
					bind:ref={field}
					oninput={find}
				/>
				<Command.List class="mt-2 max-h-96 overflow-y-auto">
					<Command.Viewport>
						{#each rows as { id, kind, label, detail, href } (id)}
							<Command.Item
								value={id}
								onSelect={() => choose(href)}
								class="flex cursor-pointer items-baseline gap-3 rounded-sheet px-3 py-2 data-selected:bg-moss-wash"
							>
								<span class="w-20 shrink-0 text-sm text-quiet">{kind}</span>
								<span class="font-medium">{label}</span>
								<span class="ml-auto truncate text-sm text-quiet">{detail}</span>
							</Command.Item>
						{/each}
						{#if text.trim() !== '' && rows.length === 0}
							<p class="px-3 py-2 text-quiet">Nothing by that name.</p>
						{/if}
					</Command.Viewport>
				</Command.List>
			</Command.Root>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
