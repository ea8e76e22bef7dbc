<svelte:head><title>Plans · Desk</title></svelte:head>

<section class="sheet p-6 pt-7">
	<h2>Choose a plan on the left, or write a new one</h2>
	<p class="mt-2 max-w-prose text-quiet">
		A changed price counts for new buyers. Whoever has bought already goes on paying what they agreed to.
	</p>
</section>
