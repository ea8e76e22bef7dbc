<script lang="ts">
	/** Things of the Library that are chosen by hand: courses, films, files. */
	import type { ResourceKind } from '$core/access/model';
	import { HOLDERS } from '$core/library/homes';
	import Picker from '$ui/fields/Picker.svelte';
	import Sent from '$ui/fields/Sent.svelte';
	import { KIND_WORDS } from '$ui/wording/library';
	import KindIcon from './KindIcon.svelte';

	interface Chosen {
		id: string;
		title: string;
		kind: ResourceKind;
	}

	let {
		picked = $bindable(),
		label,
		adds,
		group,
		error = null
	}: {
		picked: Chosen[];
		/** What the list is of. */
		label: string;
		/** What the field that adds to it is called. */
		adds: string;
		/** What is said of a course, a show or a shelf. */
		group: (kind: string) => string;
		error?: string | null;
	} = $props();

	const own = $props.id();
	const isGroup = (kind: ResourceKind) => HOLDERS.has(kind) && kind !== 'page';
	const sent = $derived(JSON.stringify(picked));

	function add(found: { id: string; kind: string; label: string }) {
		if (picked.some(({ id }) => id === found.id)) return;
		picked = [
			...picked,
			{ id: found.id, title: found.label, kind: found.kind.toLowerCase() as ResourceKind }
		];
	}

	function putIn([put = '[]']: string[]) {
		picked = JSON.parse(put) as Chosen[];
	}
</script>

<div class="grid gap-2" id="chosen" data-field="chosen" data-label={label}>
	<Sent name="chosen" value={sent} onPutIn={putIn} />
	<ul class="grid gap-1" aria-label={label} id="{own}-chosen">
		{#each picked as one (one.id)}
			<li class="flex items-center gap-2 rounded-sheet border border-line bg-sunk px-2 py-1">
				<KindIcon kind={one.kind} />
				<span class="min-w-0 grow">
					<span class="block truncate">{one.title}</span>
					{#if isGroup(one.kind)}<span class="block text-sm text-quiet"
							>{group(KIND_WORDS[one.kind].one.toLowerCase())}</span
						>{/if}
				</span>
				<button
					type="button"
					class="cursor-pointer underline"
					onclick={() => (picked = picked.filter(({ id }) => id !== one.id))}
					>Remove<span class="sr-only"> {one.title}</span></button
				>
			</li>
		{:else}<li class="text-sm text-quiet">Nothing is chosen here yet.</li>{/each}
	</ul>
	<Picker
		label={adds}
		kinds="item,collection"
		placeholder="Add a course, a film, a file: type its name"
		onChoose={add}
	/>
	{#if error}<p role="alert" class="font-medium text-brick">{error}</p>{/if}
</div>
