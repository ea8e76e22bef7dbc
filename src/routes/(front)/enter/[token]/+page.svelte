<script lang="ts">
	let { data, form } = $props();
</script>

<svelte:head><title>Sign in · {data.site.name}</title></svelte:head>

<div class="sheet max-w-md p-6 pt-7">
	{#if form?.mailed}
		<h1>A new link is on its way</h1>
		<p class="mt-2" role="status">Look in the mail of {data.email}.</p>
	{:else if data.kind === 'good'}
		<h1>Sign in as {data.email}?</h1>
		<p class="mt-2">This device will stay signed in for 30 days.</p>
		<form method="post" action="?/press" class="mt-5 grid gap-5">
			{#if data.asks}
				<fieldset class="grid gap-2 rounded-sheet border border-line p-4">
					<legend class="px-1 font-semibold">Another device was here before</legend>
					<p>
						Somebody bought with this address elsewhere, and may have typed a name and a password or be signed
						in there. If that was not you, end it.
					</p>
					<label class="flex gap-2">
						<input type="radio" name="others" value="end" checked />
						<span>End it: only this device is signed in, and that password and name are gone</span>
					</label>
					<label class="flex gap-2">
						<input type="radio" name="others" value="keep" />
						<span>It was me: keep it</span>
					</label>
				</fieldset>
			{/if}
			<button class="button-main justify-self-start">Sign in and open</button>
		</form>
	{:else}
		<h1>This link has been used or is too old</h1>
		<p class="mt-2">Each link signs in one device, within 14 days. We can mail a new one to {data.email}.</p>
		<form method="post" action="?/again" class="mt-5">
			<button class="button-main">Mail me a new link</button>
		</form>
	{/if}
</div>
