<script lang="ts">
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();
	const seat = $derived(data.seat);
	const values = $derived<Record<string, string>>(
		'plan' in seat ? { giver: seat.giver, plan: seat.plan } : {}
	);
	const title = $derived(words().say('plan' in seat ? 'seat.title' : 'account.for-you', values));
	const address = $derived(data.viewer?.email ?? '');
</script>

<svelte:head><title>{title} · {data.site.name}</title></svelte:head>

<div class="sheet grid max-w-xl gap-4 p-6 pt-7">
	<h1>{title}</h1>
	{#if form && 'problem' in form && form.problem}<p role="alert" class="font-medium text-brick">
			{words().say(form.problem, values)}
		</p>{/if}
	{#if 'plan' in seat}
		<p>{words().say('seat.text', values)}</p>
		<form method="post" action="?/take">
			<button class="button-main">{words().say('seat.take')}</button>
		</form>
	{:else if seat.kind === 'not-here'}
		<p>{words().say('seat.not-here', { address })}</p>
	{:else if form && 'isMailed' in form && form.isMailed}
		<p role="status">{words().say('gift.mailed', { address })}</p>
	{:else}
		<p>{words().say('gift.unproved')}</p>
		<form method="post" action="?/link">
			<button class="button-main">{words().say('gift.mail-link')}</button>
		</form>
	{/if}
</div>
