<script lang="ts">
	import type { Entry, WhoGetsIn } from '$core/access/who';
	import { afterWords, formatDay } from '$ui/wording/time';
	import StateMark from './StateMark.svelte';

	/** Who may open something, as marks: for whoever joins a plan now. */
	let {
		who,
		plans,
		labels,
		now,
		zone
	}: {
		who: WhoGetsIn;
		plans: { id: string; name: string }[];
		labels: { id: string; name: string }[];
		now: number;
		zone: string;
	} = $props();

	const SHOWN = 3;

	interface Group {
		words: string;
		when: string;
		isLater: boolean;
	}

	function when(entry: Exclude<Entry, { kind: 'shut' }>): string {
		if (entry.kind === 'open') return '';
		return entry.isFromJoining ? afterWords(entry.at - now) : `from ${formatDay(entry.at, zone)}`;
	}

	const groups = $derived.by((): Group[] => {
		if (who.kind === 'anyone') return [{ words: 'anyone', when: '', isLater: false }];
		if (who.kind === 'signed-in') return [{ words: 'whoever is signed in', when: '', isLater: false }];
		const names = new Map([
			...plans.map(({ id, name }) => [id, name] as const),
			...labels.map(({ id, name }) => [id, `label ${name}`] as const)
		]);
		const planIds = new Set(plans.map(({ id }) => id));
		const known = who.plans.filter(({ planId }) => names.has(planId));
		const byWhen: Record<string, typeof known> = {};
		for (const one of known) (byWhen[when(one.entry)] ??= []).push(one);
		const whoever = (ids: string[]) => {
			const of = ids.filter((id) => planIds.has(id));
			const others = ids.filter((id) => !planIds.has(id));
			const isAny = of.length === plans.length && plans.length > 1;
			return [
				...(isAny ? ['any plan'] : of.map((id) => names.get(id))),
				...others.map((id) => names.get(id))
			];
		};
		return Object.entries(byWhen).map(([said, some]) => ({
			words: whoever(some.map(({ planId }) => planId)).join(', '),
			when: said,
			isLater: said !== ''
		}));
	});
</script>

{#if groups.length === 0}
	<span class="text-brick">nobody</span>
{:else}
	<span class="flex min-w-0 flex-wrap gap-x-3">
		{#each groups.slice(0, SHOWN) as { words, when: said, isLater } (words)}
			<StateMark verdict={isLater ? 'opens-later' : 'open'} label={words} note={said || null} />
		{/each}
		{#if groups.length > SHOWN}<span class="text-quiet">and {groups.length - SHOWN} more</span>{/if}
	</span>
{/if}
