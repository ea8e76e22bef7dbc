<svelte:head><title>Library · Desk</title></svelte:head>

<section class="sheet p-6 pt-7">
	<h2>Choose something on the left</h2>
	<p class="mt-2 max-w-prose text-quiet">
		Or bring in a video: drop the file there. It is prepared as an encrypted stream, stays a draft until you
		publish it, and is closed until a fence lets somebody cross. Courses, shows, shelves, pages and everything
		else begin with “New”.
	</p>
</section>
