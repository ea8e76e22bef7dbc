<script lang="ts">
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Field from '$ui/components/Field.svelte';
	import DataTable from '$ui/components/DataTable.svelte';
	import Moment from '$ui/components/Moment.svelte';

	let { data, form } = $props();

	const errors = $derived((form?.errors ?? {}) as Record<string, string[]>);
	const typed = $derived((form?.values ?? {}) as Record<string, string>);

	const columns = [
		{ key: 'name', label: 'Name', sortable: true },
		{ key: 'email', label: 'E-mail', sortable: true },
		{ key: 'plans', label: 'Plans held' },
		{ key: 'joined', label: 'Came', sortable: true }
	];
</script>

<svelte:head><title>Members · Desk</title></svelte:head>

<section class="sheet p-5 pt-6">
	<div class="mb-3 flex flex-wrap items-baseline justify-between gap-3">
		<h1 class="text-xl">Members</h1>
		<a href="/desk/check">Check access</a>
	</div>
	<details class="mb-4 rounded-sheet border border-line" open={form !== null}>
		<summary class="cursor-pointer px-4 py-2 font-medium">Add a member by hand</summary>
		<form method="post" action="?/add" class="grid gap-4 border-t border-line p-4 md:grid-cols-2" novalidate>
			<div class="md:col-span-2"><ErrorSummary {errors} /></div>
			<Field name="email" label="E-mail address" hint="An invitation with a way in is mailed there." {errors}>
				{#snippet children(props)}<input
						class="input"
						type="email"
						value={typed.email ?? ''}
						{...props}
					/>{/snippet}
			</Field>
			<Field name="name" label="Name" {errors}>
				{#snippet children(props)}<input class="input" value={typed.name ?? ''} {...props} />{/snippet}
			</Field>
			<Field name="plan" label="Plan, from now on" {errors}>
				{#snippet children(props)}
					<select class="input" {...props}>
						<option value="">none</option>
						{#each data.planChoices as plan (plan.id)}<option
								value={plan.id}
								selected={typed.plan === plan.id}>{plan.name}</option
							>{/each}
					</select>
				{/snippet}
			</Field>
			<Field name="until" label="Until (for good, if empty)" {errors}>
				{#snippet children(props)}<input
						class="input"
						type="datetime-local"
						value={typed.until ?? ''}
						{...props}
					/>{/snippet}
			</Field>
			<button class="button-main justify-self-start">Add and invite</button>
		</form>
	</details>
	<DataTable caption="Members" {columns} rows={data.rows} total={data.total} pageSize={data.pageSize}>
		{#snippet row(member)}
			<td class="py-2 pr-4 font-medium"><a href="/desk/members/{member.id}">{member.name}</a></td>
			<td class="py-2 pr-4">{member.email}</td>
			<td class="py-2 pr-4">
				{#if member.plans}{member.plans}{:else}<span class="text-slate">{member.had ? 'lapsed' : 'none'}</span
					>{/if}
			</td>
			<td class="py-2"><Moment at={member.createdAt} zone={data.site.zone} /></td>
		{/snippet}
		{#snippet empty()}
			<p class="py-6 text-quiet">
				Nobody by that name. Members stand here once they have been to the checkout.
			</p>
		{/snippet}
	</DataTable>
</section>
