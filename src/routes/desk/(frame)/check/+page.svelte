<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { VERDICTS, type Verdict } from '$core/access/decision';
	import { asking } from '$ui/address';
	import TextField from '$ui/fields/TextField.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Pager from '$ui/parts/Pager.svelte';
	import Picker from '$ui/fields/Picker.svelte';
	import StateMark from '$ui/components/StateMark.svelte';
	import WhySteps from '$ui/components/WhySteps.svelte';
	import Why from '$ui/components/Why.svelte';
	import VerdictFilter from '$ui/components/VerdictFilter.svelte';
	import TimeRail from '$ui/components/TimeRail.svelte';
	import { namesOf } from '$ui/names';
	import { VERDICT_WORDS, whyOf } from '$ui/wording/decision';
	import { formatMoment } from '$ui/wording/time';

	let { data } = $props();

	const zone = $derived(data.site.zone);
	const names = $derived(namesOf(data.known, zone));
	const answer = $derived(data.found ?? (data.checked?.ok ? data.checked : null));

	function choose(changes: Record<string, string | null>) {
		void goto(asking(page.url.searchParams, changes), { keepFocus: true, noScroll: true });
	}
	const note = (one: { verdict: Verdict; opensAt: number | null; until: number | null }) =>
		one.opensAt
			? `on ${formatMoment(one.opensAt, zone)}`
			: one.verdict === 'open' && one.until
				? `until ${formatMoment(one.until, zone)}`
				: null;
</script>

<svelte:head><title>Check access · Desk</title></svelte:head>

<section class="sheet p-5 pt-6">
	<h1 class="text-xl">Check access</h1>
	<div class="mt-3 grid items-start gap-4 md:grid-cols-3">
		<div class="grid gap-1">
			<span class="font-medium">Who</span>
			{#if data.seesMembers}<Picker
					label="Who"
					kinds="member"
					placeholder={data.member?.name ?? 'A stranger. Type a member’s name'}
					onChoose={(found) => choose({ member: found.id })}
				/>{:else}<p>A stranger</p>{/if}
			{#if data.member}<p class="text-sm">
					<a href="/desk/members/{data.member.id}">{data.member.name}</a>
					<button type="button" class="cursor-pointer underline" onclick={() => choose({ member: null })}
						>as a stranger instead</button
					>
				</p>{/if}
		</div>
		<div class="grid gap-1">
			<span class="font-medium">What</span>
			<Picker
				label="What"
				kinds="item,collection"
				placeholder={data.itemId ? names.resource(data.itemId) : 'Type an item’s title'}
				onChoose={(found) => choose({ item: found.id, address: null })}
			/>
			{#if data.itemId}<p class="text-sm">
					<a href="/desk/library/{data.itemId}">{names.resource(data.itemId)}</a>
				</p>{/if}
		</div>
		<form
			class="grid gap-1"
			onsubmit={(event) => {
				event.preventDefault();
				choose({ address: String(new FormData(event.currentTarget).get('address') ?? ''), item: null });
			}}
		>
			<TextField
				name="address"
				label="Or an address"
				from={data.address ?? ''}
				placeholder="/courses/clock/strike"
			/>
		</form>
	</div>
	{#if data.checked && !data.checked.ok}
		<p class="mt-4 font-medium">
			{data.checked.code === 'unreadable'
				? 'This is no address.'
				: 'This address can never be fenced: it is open to everybody.'}
		</p>
	{/if}
	{#if answer}
		<div class="mt-5 rounded-sheet border border-line bg-sunk p-4">
			<p class="flex flex-wrap items-center gap-3">
				<span
					>{data.member?.name ?? 'A stranger'}, {data.itemId
						? `“${names.resource(data.itemId)}”`
						: data.checked?.ok
							? data.checked.path
							: ''}, {formatMoment(data.moment.at, zone)}:</span
				>
				<StateMark
					verdict={answer.decision.verdict}
					note={note({
						verdict: answer.decision.verdict,
						until: answer.decision.until,
						opensAt: answer.decision.verdict === 'open' ? null : answer.decision.opensAt
					})}
				/>
			</p>
			<div class="mt-3">
				<WhySteps
					because={data.why?.because ?? ''}
					mends={data.why?.mends ?? []}
					why={data.why?.why ?? whyOf(answer.steps, names)}
				/>
			</div>
			{#if data.stretches.length > 1 && data.decidedId}
				<h2 class="mt-3 text-base">Over time</h2>
				<ul class="grid gap-0.5">
					{#each data.stretches as { start, end, verdict } (start)}
						<li class="flex flex-wrap gap-x-3">
							<Why {verdict} ask={{ member: data.member?.id ?? null, item: data.decidedId, at: start }} />
							<span
								>from <Moment at={start} {zone} precise />{#if end}&#32;to&#32;<Moment
										at={end}
										{zone}
										precise
									/>{/if}</span
							>
						</li>
					{/each}
				</ul>
			{/if}
		</div>
	{/if}
</section>
{#if data.itemId && !data.member && data.seesMembers}
	<section class="sheet mt-5 p-5 pt-6" aria-labelledby="members">
		<div class="flex flex-wrap items-baseline justify-between gap-3">
			<h2 id="members">All members, and “{names.resource(data.itemId)}”</h2>
			<span class="flex flex-wrap items-center gap-4 text-sm">
				{#each VERDICTS.filter((one) => data.members.counts[one]) as verdict (verdict)}<span
						>{VERDICT_WORDS[verdict]}: <strong>{data.members.counts[verdict]}</strong></span
					>{/each}
				<VerdictFilter state={data.members.state} counts={data.members.counts} />
				<a href="/desk/check/item.csv?item={data.itemId}&asof={data.moment.at}" download>As a table (CSV)</a>
			</span>
		</div>
		<ul class="mt-2 grid gap-x-8 sm:grid-cols-2">
			{#each data.members.rows as one (one.id)}
				<li class="flex flex-wrap items-center justify-between gap-3 border-b border-line py-1.5">
					<a href="?member={one.id}&item={data.itemId}&asof={data.moment.at}">{one.name}</a>
					<Why
						verdict={one.verdict}
						note={note(one)}
						ask={{ member: one.id, item: data.itemId, at: data.moment.at }}
					/>
				</li>
			{/each}
		</ul>
		<Pager of="all members" total={data.members.total} pageSize={data.members.pageSize} />
	</section>
{/if}
<TimeRail moment={data.moment} marks={data.marks} {zone} />
