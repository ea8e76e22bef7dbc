<script lang="ts">
	/** What lives in a collection, laid out one after the other, or moved as a whole. */
	import type { ResourceKind, Steps, Window } from '$core/access/model';
	import type { BoardUnit } from '$core/access/release-bars';
	import { sequence, shifted } from '$core/access/sequence';
	import { HOLDERS } from '$core/library/homes';
	import RadioField from '$ui/fields/RadioField.svelte';
	import StepField from '$ui/fields/StepField.svelte';
	import Dialog from '$ui/parts/Dialog.svelte';
	import type { ReleaseList } from '$ui/release-list.svelte';

	let {
		collection,
		planId,
		list,
		onClose
	}: {
		collection: { id: string; title: string; kind: ResourceKind };
		planId: string;
		list: ReleaseList;
		onClose: () => void;
	} = $props();

	const UNITS: readonly BoardUnit[] = ['day', 'week', 'month'];
	let what = $state('items');
	let firstCount = $state('0');
	let firstUnit = $state<BoardUnit>('week');
	let stepCount = $state('1');
	let stepUnit = $state<BoardUnit>('week');
	let byCount = $state('1');
	let byUnit = $state<BoardUnit>('week');
	let problem = $state('');

	const isGroup = (kind: ResourceKind) => HOLDERS.has(kind) && kind !== 'page';

	interface Inside {
		id: string;
		kind: ResourceKind;
		own: Window | null;
	}

	async function inside(): Promise<Inside[] | null> {
		const query = new URLSearchParams({ of: collection.id, plan: planId });
		const answer = await fetch(`/desk/releases/inside?${query}`).catch(() => null);
		return answer?.ok ? ((await answer.json()) as Inside[]) : null;
	}

	/** `null`, and a sentence, where it is none. */
	function steps(count: string, unit: BoardUnit): Steps | null {
		if (/^\d{1,4}$/.test(count.trim())) return { count: Number(count), unit };
		problem = 'Type whole numbers, such as 0 or 2.';
		return null;
	}

	async function withInside(change: (rows: Inside[]) => string) {
		problem = '';
		const rows = await inside();
		problem = rows === null ? 'What is in it could not be read. Try once more.' : change(rows);
		if (problem === '') onClose();
	}

	function layOut(event: SubmitEvent) {
		event.preventDefault();
		const first = steps(firstCount, firstUnit);
		const step = first && steps(stepCount, stepUnit);
		if (!first || !step) return;
		void withInside((rows) => {
			const laid = rows.filter(({ kind }) => isGroup(kind) === (what === 'sections'));
			if (laid.length === 0) return 'There is nothing like that in it.';
			const windows = sequence({ ids: laid.map(({ id }) => id), first, step, closes: { kind: 'never' } });
			for (const row of laid) list.put(row, windows.get(row.id) ?? null);
			return '';
		});
	}

	function shift(direction: 1 | -1) {
		const by = steps(byCount, byUnit);
		if (!by) return;
		void withInside((rows) => {
			const moving = rows.flatMap((row) => {
				const window = list.of(row);
				return window ? [{ row, window }] : [];
			});
			if (moving.length === 0) return 'Nothing in it has a release of its own.';
			for (const { row, window } of moving)
				list.put(row, shifted(window, { count: direction * by.count, unit: by.unit }));
			return '';
		});
	}
</script>

<Dialog
	title="Lay out {collection.title}"
	what="Nothing is kept before you keep it: it stands on the board first."
	bind:isOpen={() => true, (isOpen) => !isOpen && onClose()}
>
	<form onsubmit={layOut} class="grid gap-4" novalidate>
		<RadioField
			label="One after the other"
			options={[
				{ value: 'items', label: 'What is in it, each for itself' },
				{ value: 'sections', label: 'Its sections, each with all that is in it' }
			]}
			bind:value={what}
		/>
		<div class="grid gap-1">
			<span class="font-medium" aria-hidden="true">The first, after they joined</span>
			<StepField label="The first after" units={UNITS} bind:count={firstCount} bind:unit={firstUnit} />
		</div>
		<div class="grid gap-1">
			<span class="font-medium" aria-hidden="true">Then one every</span>
			<StepField label="Then one every" units={UNITS} bind:count={stepCount} bind:unit={stepUnit} />
			<span class="text-sm text-quiet">0 opens all of it at once.</span>
		</div>
		<button class="button-main justify-self-start">Lay it out</button>
		<div class="grid gap-1 border-t border-line pt-4">
			<span class="font-medium" aria-hidden="true">Or move the releases in it by</span>
			<div class="flex flex-wrap items-center gap-2">
				<StepField label="Move by" units={UNITS} bind:count={byCount} bind:unit={byUnit} />
				<button type="button" class="button-quiet" onclick={() => shift(-1)}>Earlier</button>
				<button type="button" class="button-quiet" onclick={() => shift(1)}>Later</button>
			</div>
		</div>
		{#if problem}<p role="alert" class="font-medium text-brick">{problem}</p>{/if}
	</form>
</Dialog>
