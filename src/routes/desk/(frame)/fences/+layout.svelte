<script lang="ts">
	import { page } from '$app/state';
	import { closesWords, crossesWords } from '$ui/wording/fence';

	let { data, children } = $props();

	const titles = $derived(new Map(data.items.map((item) => [item.id, item.title])));
	const names = $derived(new Map(data.plans.map((plan) => [plan.id, plan.name])));
</script>

<div class="grid items-start gap-5 lg:grid-cols-[24rem_1fr]">
	<section class="sheet p-4 pt-6" aria-labelledby="fences">
		<div class="flex items-baseline justify-between">
			<h1 id="fences" class="text-xl">Fences</h1>
			<a class="button-main" href="/desk/fences/new">New fence</a>
		</div>
		<ul class="mt-3 divide-y divide-line">
			{#each data.fences as fence (fence.id)}
				<li>
					<a
						href="/desk/fences/{fence.id}"
						aria-current={page.params.id === fence.id ? 'true' : undefined}
						class="block px-2 py-2 text-ink no-underline hover:bg-sunk {page.params.id === fence.id
							? 'border-l-3 border-moss bg-moss-wash'
							: 'border-l-3 border-transparent'}"
					>
						<span class="flex justify-between gap-2">
							<span class="font-medium">{fence.name}</span>
							<span class="text-sm {fence.isOn ? 'text-moss' : 'text-gorse'}"
								>{fence.isOn ? 'on' : 'off'}</span
							>
						</span>
						<span class="block text-sm text-quiet">
							{closesWords(fence, (id) => titles.get(id))}; {crossesWords(
								fence,
								(id) => names.get(id) ?? 'a plan that is gone'
							)}
						</span>
					</a>
				</li>
			{:else}
				<li class="py-3 text-quiet">A fence closes what it catches, and says who may cross.</li>
			{/each}
		</ul>
	</section>
	{@render children()}
</div>
