<script lang="ts">
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();
</script>

<svelte:head><title>{words().say('sign-in.title')} · {data.site.name}</title></svelte:head>

<div class="sheet max-w-md p-6 pt-7">
	{#if form?.mailed}
		<h1>{words().say('enter.mailed')}</h1>
		<p class="mt-2" role="status">{words().say('enter.look', { address: data.email })}</p>
	{:else if data.kind === 'good'}
		<h1>{words().say('enter.as', { address: data.email })}</h1>
		{#if data.order}
			<p class="mt-2">
				{words().say(data.order.isFree ? 'enter.joins' : 'enter.orders', {
					...{ plan: data.order.plan, number: data.order.number }
				})}
			</p>
		{/if}
		{#if data.keeps !== null}<p class="mt-2">{words().say('enter.keeps', { plan: data.keeps })}</p>{/if}
		<p class="mt-2">{words().say('enter.stays')}</p>
		<form method="post" action="?/press" class="mt-5 grid gap-5">
			{#if data.asks}
				<fieldset class="grid gap-2 rounded-sheet border border-line p-4">
					<legend class="px-1 font-semibold">{words().say('enter.other-device')}</legend>
					<p>
						{words().say('enter.other-device-text')}
					</p>
					<label class="flex gap-2">
						<input type="radio" name="others" value="end" checked />
						<span>{words().say('enter.end')}</span>
					</label>
					<label class="flex gap-2">
						<input type="radio" name="others" value="keep" />
						<span>{words().say('enter.keep')}</span>
					</label>
				</fieldset>
			{/if}
			<button class="button-main justify-self-start">{words().say('enter.press')}</button>
		</form>
	{:else}
		<h1>{words().say('enter.spent')}</h1>
		<p class="mt-2">{words().say('enter.spent-text', { address: data.email })}</p>
		<form method="post" action="?/again" class="mt-5">
			<button class="button-main">{words().say('enter.again')}</button>
		</form>
	{/if}
</div>
