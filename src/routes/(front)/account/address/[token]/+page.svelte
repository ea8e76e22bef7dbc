<script lang="ts">
	import { page } from '$app/state';
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();
	const done = $derived(form && 'done' in form ? form.done : null);
	const isTaken = $derived(form !== null && 'code' in form && form.code === 'taken');
</script>

<svelte:head><title>{words().say('address.title')} · {data.site.name}</title></svelte:head>

<div class="sheet max-w-md p-6 pt-7">
	{#if done}
		<h1 role="status">
			{words().say(done.isBack ? 'address.put-back' : 'address.used', { address: done.email })}
		</h1>
		<p class="mt-2">{words().say(done.isBack ? 'address.put-back-text' : 'address.used-text')}</p>
		<p class="mt-5"><a class="button-main" href="/account">{words().say('account.title')}</a></p>
	{:else if isTaken}
		<h1 role="alert">{words().say('address.taken')}</h1>
		<p class="mt-2">{words().say('address.taken-text')}</p>
	{:else if data.link.kind === 'good'}
		{@const { email, isBack, endsOthers } = data.link}
		<h1>{words().say(isBack ? 'address.back' : 'address.use', { address: email })}</h1>
		<p class="mt-2">{words().say(isBack ? 'address.back-text' : 'address.use-text')}</p>
		{#if endsOthers && !isBack}<p class="mt-2">{words().say('address.ends-others')}</p>{/if}
		<form method="post" action="?/press" class="mt-5">
			<button class="button-main">{words().say(isBack ? 'address.back-press' : 'address.use-press')}</button>
		</form>
	{:else if data.link.kind === 'elsewhere'}
		<h1>{words().say('address.use', { address: data.link.email })}</h1>
		<p class="mt-2">{words().say('address.elsewhere')}</p>
		<p class="mt-5">
			<a class="button-main" href="/sign-in?next={encodeURIComponent(page.url.pathname)}"
				>{words().say('sign-in.title')}</a
			>
		</p>
	{:else}
		<h1>{words().say('address.spent')}</h1>
		<p class="mt-2">{words().say('address.spent-text')}</p>
		<p class="mt-5"><a class="button-main" href="/account/details">{words().say('account.details')}</a></p>
	{/if}
</div>
