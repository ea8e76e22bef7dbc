<script lang="ts">
	import type { RehearsalView } from '$core/access/rehearsal-view';
	import { MEMBER_COLUMNS } from '$core/members/table';
	import Saved from '$ui/components/Saved.svelte';
	import TableForm from '$ui/components/TableForm.svelte';
	import CheckField from '$ui/fields/CheckField.svelte';

	let { data, form } = $props();

	const errors = $derived(
		((form && 'errors' in form ? form.errors : null) ?? {}) as Record<string, string[]>
	);
	const trial = $derived((form && 'trial' in form ? form.trial : null) ?? null);
	const rehearsal = $derived(
		form && 'rehearsal' in form ? ((form.rehearsal ?? null) as RehearsalView | null) : null
	);
	const unproved = $derived(Number((form && 'unproved' in form ? form.unproved : 0) ?? 0));
	const some = (count: number, one: string, many: string) => (count === 1 ? one : `${count} ${many}`);
</script>

<svelte:head><title>Import · Members · Desk</title></svelte:head>

<p class="mb-2"><a href="/desk/members">All members</a></p>
<section class="sheet grid gap-3 p-5 pt-6" aria-labelledby="import">
	<h1 id="import" class="text-xl">Bring members in by a table</h1>
	<p class="max-w-prose text-quiet">
		The first row names the columns. A row is for the member who has its address, or adds a new one; who is
		there keeps their name, and what is left out changes nothing. Releases of a plan count from the day they
		joined. <a href="/desk/members/import/template.csv" download>A table to begin with (CSV)</a>
	</p>
	<Saved text={form && 'saved' in form ? form.saved : null} />
	<TableForm
		action="?/table"
		mendAt="/desk/members/import/mend.csv"
		hint="Plans by their names, dates such as 2027-01-31, labels with semicolons between them."
		columns={(form && 'columns' in form ? form.columns : null) ?? null}
		names={MEMBER_COLUMNS}
		writes={trial && trial.wrong === 0 && trial.adds + trial.changes > 0
			? `Bring in ${some(trial.adds + trial.changes, 'this member', 'members')}`
			: null}
		wrong={trial?.wrong ?? 0}
		problems={trial?.groups ?? []}
		{errors}
		{rehearsal}
		rehearsalTitle="What bringing in this table would do"
		besides={unproved === 0
			? []
			: [
					`${some(unproved, 'One of them has', 'of them have')} not shown yet that the mailbox is theirs: whoever paid on the address is signed out, and the way in is mailed there.`
				]}
		zone={data.site.zone}
	>
		{#snippet more()}
			<CheckField
				name="invites"
				label="Mail the way in to whoever is new"
				from={(form && 'invites' in form ? form.invites : false) ?? false}
			/>
		{/snippet}
	</TableForm>
	{#if trial}
		<div class="rounded-sheet border border-line bg-sunk p-3" role="status">
			<p class="font-medium">
				{trial.adds} new, {trial.changes} get something{trial.leaves > 0
					? `, ${trial.leaves} have it all already`
					: ''}.
				{trial.wrong === 0
					? 'Nothing stands in the way.'
					: `${trial.wrong === 1 ? 'One row needs' : `${trial.wrong} rows need`} another look; nothing is written until ${trial.wrong === 1 ? 'it is' : 'they are'} right.`}
			</p>
			{#each trial.plans as { name, count } (name)}<p class="text-sm">
					{name}: {some(count, 'one member', 'members')}
				</p>{/each}
			{#each trial.labels as { name, count, isNew } (name)}<p class="text-sm">
					Label {name}{isNew ? ' (new)' : ''}: {some(count, 'one member', 'members')}
				</p>{/each}
			<ul class="mt-2 max-h-72 overflow-y-auto text-sm">
				{#each trial.rows as { line, email, does } (line)}<li class="py-0.5">
						Line {line}
						{does === 'leaves' ? 'changes nothing for' : does}
						<strong class="break-all">{email}</strong>
					</li>{/each}
				{#if trial.total > trial.rows.length}<li class="py-0.5 text-quiet">
						And {trial.total - trial.rows.length} more.
					</li>{/if}
			</ul>
		</div>
	{/if}
</section>
