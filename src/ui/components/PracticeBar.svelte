<script lang="ts">
	import { enhance } from '$app/forms';
	import { wholePage } from '$ui/whole-page';
</script>

<!-- On each page of the Desk, while somebody practises. -->
<div
	class="flex flex-wrap items-center gap-x-5 gap-y-1 border-b border-ink bg-ink px-5 text-sheet [&_a]:text-sheet py-1.5 font-medium"
	role="note"
	aria-label="Practice"
>
	<p class="mr-auto">Practice book: made-up people, test cards, no money. The site itself stays as it is.</p>
	<a href="/desk/practice">Mails, time and cards</a>
	<a href="/" data-sveltekit-reload>To the front</a>
	<form method="post" action="/desk/practice?/leave" use:enhance={wholePage}>
		<button class="cursor-pointer underline">Leave practice</button>
	</form>
</div>
