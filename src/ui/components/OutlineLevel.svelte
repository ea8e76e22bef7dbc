<script lang="ts">
	/** What lives in one home of an outline: rows that are dragged from home to home, each with what lives in it. */
	import {
		dragHandleZone,
		SHADOW_ITEM_MARKER_PROPERTY_NAME,
		TRIGGERS,
		type DndEvent
	} from 'svelte-dnd-action';
	import type { Snippet } from 'svelte';
	import { canLiveIn } from '$core/library/homes';
	import type { ResourceKind } from '$core/access/model';
	import type { Node } from '$ui/outline.svelte';
	import OutlineItem from './OutlineItem.svelte';
	import type { OutlineDoing } from './outline-doing';

	type Home = { id: string; kind: ResourceKind; title: string };

	let {
		nodes,
		home,
		depth = 0,
		doing,
		level
	}: {
		nodes: readonly Node[];
		home: Home;
		depth?: number;
		doing: OutlineDoing;
		/** Draws what lives in one of them. */
		level: Snippet<[readonly Node[], Home, number]>;
	} = $props();

	type Dragged = Node & { id: string; [SHADOW_ITEM_MARKER_PROPERTY_NAME]?: boolean };

	const FLIP_MS = 120;
	const given = $derived(nodes.map((node): Dragged => ({ ...node, id: node.entry.key })));
	/** As they stand while something is dragged over them. */
	let shown = $derived(given);

	function consider({ detail }: CustomEvent<DndEvent<Dragged>>) {
		shown = detail.items;
		if (detail.info.trigger === TRIGGERS.DRAG_STARTED) doing.onDrag(true);
	}

	function finalize({ detail }: CustomEvent<DndEvent<Dragged>>) {
		shown = detail.items;
		const n = shown.findIndex(({ id }) => id === detail.info.id);
		const dropped = shown[n];
		// The home that it was dragged out of is told as well.
		if (detail.info.trigger === TRIGGERS.DROPPED_INTO_ANOTHER || !dropped) return;
		doing.onDrag(false);
		if (canLiveIn(dropped.entry.kind, home.kind))
			doing.put(dropped.entry, { homeId: home.id, after: shown[n - 1]?.entry.id ?? null });
		else doing.refuse(dropped.entry, home);
	}
</script>

<ol
	class="min-h-1.5"
	aria-label={home.title}
	use:dragHandleZone={{
		items: shown,
		flipDurationMs: doing.isStill ? 0 : FLIP_MS,
		type: doing.group,
		dropTargetStyle: {},
		zoneTabIndex: -1,
		zoneItemTabIndex: -1
	}}
	onconsider={consider}
	onfinalize={finalize}
>
	{#each shown as node (node.id)}
		<li class="bg-sheet" aria-label={node.entry.title || 'Without a title yet'}>
			<OutlineItem entry={node.entry} inside={node.inside.length} {depth} {doing} />
			{#if doing.holds(node.entry.kind)}
				<div class={doing.isFolded(node.entry.id) ? 'hidden' : ''}>
					{@render level(
						node.inside,
						{ id: node.entry.id, kind: node.entry.kind, title: node.entry.title },
						depth + 1
					)}
				</div>
			{/if}
		</li>
	{/each}
</ol>
