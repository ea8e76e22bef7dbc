<script lang="ts">
	import { enhance } from '$app/forms';
	import TextField from '$ui/fields/TextField.svelte';
	import Confirm from '$ui/parts/Confirm.svelte';
	import Fold from '$ui/parts/Fold.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Saved from '$ui/components/Saved.svelte';

	let { data, form } = $props();

	const errors = $derived(
		((form && 'errors' in form ? form.errors : null) ?? {}) as Record<string, string[]>
	);
	const wrongId = $derived(form && 'labelId' in form ? form.labelId : null);
	const typed = $derived((form && 'values' in form ? form.values : {}) as Record<string, string>);
	const isNewWrong = $derived(wrongId === null && errors.name !== undefined);
</script>

<svelte:head><title>Labels · Members · Desk</title></svelte:head>

<p class="mb-2"><a href="/desk/members">All members</a></p>
<div class="grid items-start gap-5 @4xl:grid-cols-[1fr_22rem]">
	<section class="sheet p-5 pt-6" aria-labelledby="labels">
		<h1 id="labels" class="text-xl">Labels</h1>
		<p class="max-w-prose text-quiet">
			What you say of members and nobody can buy: the bench crew, whoever was at the fair. A fence can let in
			whoever has one; members never see them.
		</p>
		<Saved text={form && 'saved' in form ? form.saved : null} />
		{#if wrongId === null && !isNewWrong}<ErrorSummary {errors} />{/if}
		<ul class="mt-3 divide-y divide-line">
			{#each data.labels as label (label.id)}
				<li class="grid gap-2 py-2">
					<div class="flex flex-wrap items-baseline justify-between gap-3">
						<span>
							<span class="font-medium">{label.name}</span>
							<a class="ml-2 text-sm" href="/desk/members?label={label.id}"
								>{label.members === 1 ? '1 member' : `${label.members} members`}</a
							>
						</span>
						<Confirm
							label="Remove"
							title="Remove the label “{label.name}”?"
							what="{label.members === 1
								? '1 member has'
								: `${label.members} members have`} it, and lose it. No fence may name it."
							action="?/remove"
							confirmLabel="Remove it"
						>
							<input type="hidden" name="id" value={label.id} />
						</Confirm>
					</div>
					<Fold label="Rename" isOpen={wrongId === label.id}>
						<form
							method="post"
							action="?/rename"
							class="flex flex-wrap items-end gap-2"
							novalidate
							use:enhance
						>
							<input type="hidden" name="id" value={label.id} />
							<TextField
								name="name"
								id="name-{label.id}"
								label="Name"
								maxlength={60}
								from={wrongId === label.id ? (typed.name ?? label.name) : label.name}
								errors={wrongId === label.id ? errors : {}}
							/>
							<button class="button-quiet">Rename it</button>
						</form>
					</Fold>
				</li>
			{:else}<li class="py-2 text-quiet">
					None yet. Make one here, or choose members in their list and label them.
				</li>{/each}
		</ul>
	</section>
	<form method="post" action="?/make" class="sheet grid gap-4 p-5 pt-6" novalidate use:enhance>
		<h2>A new label</h2>
		<TextField
			name="name"
			label="Name"
			hint="Only staff see it."
			maxlength={60}
			from={isNewWrong ? (typed.name ?? '') : ''}
			errors={isNewWrong ? errors : {}}
		/>
		<button class="button-main justify-self-start">Make it</button>
	</form>
</div>
