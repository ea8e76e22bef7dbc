<script lang="ts">
	import { page } from '$app/state';
	import { formatMoney } from '$core/billing/money';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Field from '$ui/components/Field.svelte';
	import { PERIOD_WORDS } from '$ui/wording/time';

	let { data, form } = $props();

	const errors = $derived(form?.errors ?? {});
	const typed = $derived({ ...data.typed, ...form?.values }) as Record<string, string>;
	const amount = $derived(formatMoney({ minor: data.plan.amountMinor, currency: data.plan.currency }));
	let isSent = $state(false);
</script>

<svelte:head><title>Buy {data.plan.name} · {data.site.name}</title></svelte:head>

<h1 class="mb-6">Buy {data.plan.name}</h1>
{#if !data.plan.isOnSale}
	<p class="sheet max-w-xl p-6 pt-7">This plan is not on sale at the moment.</p>
{:else}
	<div class="grid items-start gap-6 md:grid-cols-[3fr_2fr]">
		<form
			method="post"
			action="/checkout/{data.plan.slug}{page.url.search}"
			class="sheet grid gap-4 p-6 pt-7"
			novalidate
			onsubmit={() => (isSent = true)}
		>
			{#if data.hasEnded && !form}
				<div role="alert" class="rounded-sheet border-l-4 border-gorse bg-gorse-wash px-4 py-3">
					<p class="font-medium">The payment page has ended. Nothing was charged and nothing was bought.</p>
					<p>What you typed is kept. Go on to pay on a new page.</p>
				</div>
			{:else if data.wasDeclined && !form}
				<div role="alert" class="rounded-sheet border-l-4 border-brick bg-brick-wash px-4 py-3">
					<p class="font-medium">Your card was declined. Nothing was charged and nothing was bought.</p>
					<p>What you typed is kept. Go on to pay with another card.</p>
				</div>
			{/if}
			<ErrorSummary {errors} />
			<input type="hidden" name="next" value={data.next} />
			{#if data.viewer}
				<p>You buy as <strong>{data.viewer.name}</strong>, {data.viewer.email}.</p>
				<p id="pay" class="text-sm font-medium text-brick">{errors.pay?.[0] ?? ''}</p>
			{:else}
				<p class="text-quiet">
					Have you an account already? <a href="/sign-in?next={encodeURIComponent(page.url.pathname)}"
						>Sign in</a
					>
				</p>
				<Field name="email" label="E-mail address" hint="The receipt and the way in are sent there." {errors}>
					{#snippet children(props)}
						<input
							class="input"
							type="email"
							autocomplete="email"
							defaultValue={typed.email ?? ''}
							required
							{...props}
						/>
					{/snippet}
				</Field>
				<Field name="name" label="Your name" hint="It stands on the receipt." {errors}>
					{#snippet children(props)}
						<input class="input" autocomplete="name" defaultValue={typed.name ?? ''} required {...props} />
					{/snippet}
				</Field>
				<Field
					name="password"
					label="Password, if you want one"
					hint="At least 10 characters. Without one you sign in by a mailed link."
					{errors}
				>
					{#snippet children(props)}
						<input class="input" type="password" autocomplete="new-password" {...props} />
					{/snippet}
				</Field>
			{/if}
			<button class="button-main justify-self-start" aria-disabled={isSent}>
				{isSent ? 'Going to the payment page' : `Go on to pay ${amount}`}
			</button>
		</form>
		<aside class="sheet p-6 pt-7" aria-label="What you buy">
			<h2>{data.plan.name}</h2>
			<p class="mt-1"><strong>{amount}</strong> {PERIOD_WORDS[data.plan.unit]}</p>
			<ul class="reading mt-3 grid gap-1 text-base">
				{#each data.plan.lines as line (line)}<li class="border-l-2 border-moss pl-3">{line}</li>{/each}
			</ul>
			<p class="mt-4 text-sm text-quiet">
				Renews {PERIOD_WORDS[data.plan.unit] === 'a year' ? 'every year' : 'every month'} until you cancel; what
				is paid stays open. On your card statement: {data.site.statementName}.
			</p>
		</aside>
	</div>
{/if}
