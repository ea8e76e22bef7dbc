<script lang="ts">
	let { data } = $props();
</script>

<svelte:head><title>{data.batch.name} · Codes · Desk</title></svelte:head>

<p class="mb-2"><a href="/desk/codes">All codes</a></p>
<section class="sheet max-w-3xl p-6 pt-7">
	<div class="flex flex-wrap items-baseline justify-between gap-3">
		<h1>{data.batch.name}</h1>
		<a class="button-quiet" href="/desk/codes/{data.batch.id}/codes.csv" download>As a table (CSV)</a>
	</div>
	<p class="mt-1 text-quiet">
		A link that carries a code: <span class="break-all">{data.origin}/code?code={data.codes[0]?.code}</span>.
		Opening it uses nothing up; pressing the button on its page does.
	</p>
	<table class="mt-4 w-full">
		<thead
			><tr class="border-b border-line text-left text-sm text-quiet"
				><th class="py-1.5 font-medium">Code</th><th class="py-1.5 text-right font-medium">Redeemed</th></tr
			></thead
		>
		<tbody>
			{#each data.codes as { code, uses } (code)}<tr class="border-b border-line"
					><td class="py-1.5 font-mono">{code}</td><td class="py-1.5 text-right">{uses}</td></tr
				>{/each}
		</tbody>
	</table>
	{#if data.total > data.codes.length}<p class="mt-2 text-sm text-quiet">
			{data.codes.length} of {data.total} are shown; the table has all.
		</p>{/if}
</section>
