<script lang="ts">
	import Moment from '$ui/components/Moment.svelte';
	import Words from '$ui/components/Words.svelte';
	import { useWords } from '$ui/words';
	import { lengthText } from '$words/price';

	let { data, form } = $props();

	const words = useWords();

	const gift = $derived(data.gift);
	const title = $derived(
		'plan' in gift
			? words().say('gift.title', { giver: gift.giver, plan: gift.plan })
			: words().say('account.for-you')
	);
	const access = $derived('plan' in gift ? gift.access : null);
	const values = $derived<Record<string, string>>(
		'plan' in gift ? { giver: gift.giver, plan: gift.plan } : {}
	);
</script>

<svelte:head><title>{title} · {data.site.name}</title></svelte:head>

{#if 'plan' in gift}
	<h1 class="mb-6">{title}</h1>
	<div class="grid items-start gap-6 sm:grid-cols-2">
		<section class="sheet p-6 pt-7">
			{#if gift.words}<p class="reading border-l-3 border-moss pl-4 whitespace-pre-line">{gift.words}</p>{/if}
			{#if gift.kind === 'given-back'}
				<p class="mt-4 font-medium">{words().say('gift.given-back', values)}</p>
			{:else}
				<p class="mt-4">
					{#if access?.kind === 'length'}
						{words().say('gift.opens-for', { length: lengthText(words(), access.length) })}
					{:else if access?.kind === 'until'}
						{@const { at } = access}
						{#snippet day()}<Moment {at} zone={data.site.zone} />{/snippet}
						<Words of="gift.opens-until" things={{ day }} />
					{:else}{words().say('gift.opens-good')}{/if}
				</p>
				{#if form && 'problem' in form && form.problem}<p
						role="alert"
						class="mt-4 border-l-4 border-gorse bg-gorse-wash px-4 py-2 font-medium"
					>
						{words().say(form.problem, values)}
					</p>{/if}
				<form method="post" action="?/open" class="mt-5">
					<button class="button-main">{words().say('gift.open')}</button>
				</form>
			{/if}
		</section>
		{#if gift.items.length > 0}
			<section>
				<h2 class="mb-2">{words().say('gift.inside')}</h2>
				<ul class="divide-y divide-line">
					{#each gift.items as item (item.id)}<li class="py-2">
							<a href={item.address}>{item.title}</a>
						</li>{/each}
				</ul>
			</section>
		{/if}
	</div>
{:else}
	{@const address = data.viewer?.email ?? ''}
	<div class="sheet max-w-xl p-6 pt-7">
		<h1>{title}</h1>
		{#if gift.kind === 'not-here'}<p class="mt-3">{words().say('gift.not-here', { address })}</p>
		{:else if form && 'isMailed' in form && form.isMailed}
			<p class="mt-3" role="status">{words().say('gift.mailed', { address })}</p>
		{:else}
			<p class="mt-3">{words().say('gift.unproved')}</p>
			{#if form && 'problem' in form && form.problem}<p role="alert" class="mt-3 font-medium text-brick">
					{words().say(form.problem)}
				</p>{/if}
			<form method="post" action="?/link" class="mt-5">
				<button class="button-main">{words().say('gift.mail-link')}</button>
			</form>
		{/if}
	</div>
{/if}
