<script lang="ts">
	import DataTable from '$ui/components/DataTable.svelte';
	import Moment from '$ui/components/Moment.svelte';

	let { data } = $props();

	const columns = [
		{ key: 'name', label: 'Name', sortable: true },
		{ key: 'email', label: 'E-mail', sortable: true },
		{ key: 'plans', label: 'Plans held' },
		{ key: 'joined', label: 'Came', sortable: true }
	];
</script>

<svelte:head><title>Members · Desk</title></svelte:head>

<section class="sheet p-5 pt-6">
	<h1 class="mb-3 text-xl">Members</h1>
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
