<script lang="ts">
	import { enhance } from '$app/forms';
	import { optionsOf } from '$ui/fields/labelled';
	import Fold from '$ui/parts/Fold.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import MomentField from '$ui/fields/MomentField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import DataTable from '$ui/parts/DataTable.svelte';
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
	<div class="mb-5">
		<Fold label="Add a member by hand" isOpen={form !== null}>
			<form method="post" action="?/add" class="grid gap-4 md:grid-cols-2" novalidate use:enhance>
				<div class="md:col-span-2"><ErrorSummary {errors} /></div>
				<TextField
					name="email"
					label="E-mail address"
					hint="An invitation with a way in is mailed there."
					type="email"
					from={typed.email ?? ''}
					{errors}
				/>
				<TextField name="name" label="Name" from={typed.name ?? ''} {errors} />
				<SelectField
					name="plan"
					label="Plan, from now on"
					options={[{ value: '', label: 'none' }, ...optionsOf(data.planChoices)]}
					from={typed.plan ?? ''}
					{errors}
				/>
				<MomentField name="until" label="Until (for good, if empty)" from={typed.until ?? ''} {errors} />
				<button class="button-main justify-self-start">Add and invite</button>
			</form>
		</Fold>
	</div>
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
