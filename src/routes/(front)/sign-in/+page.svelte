<script lang="ts">
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Field from '$ui/fields/Field.svelte';
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();

	const errors = $derived(form && 'errors' in form ? form.errors : {});
	const email = $derived(form && 'values' in form ? String(form.values?.email ?? '') : '');
	const mailedTo = $derived(form && 'mailedTo' in form ? form.mailedTo : null);
	const joinMailedTo = $derived(form && 'joinMailedTo' in form ? String(form.joinMailedTo) : null);
	/** Somebody asked for an account, with an address that is none. */
	const joins = $derived(form !== null && 'joins' in form);
	const query = $derived(data.next ? `&next=${encodeURIComponent(data.next)}` : '');
</script>

<svelte:head
	><title>{words().say(data.finds ? 'find.title' : 'sign-in.title')} · {data.site.name}</title></svelte:head
>

<div class="sheet max-w-md p-6 pt-7">
	<h1 class="mb-4">{words().say(data.finds ? 'find.title' : 'sign-in.title')}</h1>
	{#if joinMailedTo}
		<p role="status">{words().say('closed.join-mailed', { address: joinMailedTo })}</p>
	{:else if joins}
		<form method="post" action="?/join{query}" class="grid gap-4" novalidate>
			<ErrorSummary {errors} />
			<Field name="email" label={words().say('closed.join')} {errors}>
				{#snippet children(props)}
					<input class="input" type="email" autocomplete="email" defaultValue={email} {...props} />
				{/snippet}
			</Field>
			<button class="button-main justify-self-start">{words().say('closed.join-do')}</button>
		</form>
	{:else if mailedTo}
		<p role="status">
			{words().say('sign-in.mailed', { address: mailedTo })}
		</p>
		<p class="mt-4"><a href="/sign-in?{query.slice(1)}">{words().say('sign-in.back')}</a></p>
	{:else if data.finds}
		<p class="mb-4">{words().say('find.text')}</p>
		<form method="post" action="?/link&find{query}" class="grid gap-4" novalidate>
			<ErrorSummary {errors} />
			<Field name="email" label={words().say('sign-in.address')} {errors}>
				{#snippet children(props)}
					<input class="input" type="email" autocomplete="email" defaultValue={email} required {...props} />
				{/snippet}
			</Field>
			<button class="button-main justify-self-start">{words().say('find.do')}</button>
		</form>
		<p class="mt-4 text-quiet"><a href="/sign-in?{query.slice(1)}">{words().say('sign-in.title')}</a></p>
	{:else}
		<form method="post" action="?/password{query}" class="grid gap-4" novalidate>
			<ErrorSummary {errors} />
			<Field name="email" label={words().say('sign-in.address')} {errors}>
				{#snippet children(props)}
					<input
						class="input"
						type="email"
						autocomplete="username"
						defaultValue={email}
						required
						{...props}
					/>
				{/snippet}
			</Field>
			<Field name="password" label={words().say('sign-in.password')} {errors}>
				{#snippet children(props)}
					<input class="input" type="password" autocomplete="current-password" {...props} />
				{/snippet}
			</Field>
			<div class="flex flex-wrap gap-3">
				<button class="button-main">{words().say('sign-in.title')}</button>
				<button class="button-quiet" formaction="?/link{query}">{words().say('sign-in.link')}</button>
			</div>
		</form>
	{/if}
</div>
