<svelte:head><title>Fences · Desk</title></svelte:head>

<section class="sheet p-6 pt-7">
	<h2>Choose a fence on the left, or put up a new one</h2>
	<p class="mt-2 max-w-prose text-quiet">
		A video is closed by itself. A fence lets people cross: holders of a plan, everyone signed in, or anyone;
		and it says what everybody else gets to see.
	</p>
</section>
