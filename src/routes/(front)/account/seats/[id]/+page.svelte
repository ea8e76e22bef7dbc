<script lang="ts">
	import { MOST_SEATS } from '$core/billing/seats';
	import Moment from '$ui/components/Moment.svelte';
	import Words from '$ui/components/Words.svelte';
	import Field from '$ui/fields/Field.svelte';
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();
	const { plan, count, free, given } = $derived(data.seats);
	const title = $derived(words().say('seats.title', { plan }));
	const problem = $derived(
		form && 'problem' in form && form.problem
			? words().say(form.problem, { address: 'address' in form ? (form.address ?? '') : '' })
			: ''
	);
	const isOfAddresses = $derived(form !== null && 'typed' in form);
</script>

<svelte:head><title>{title} · {data.site.name}</title></svelte:head>

<h1>{title}</h1>
<p class="mt-1 mb-5 text-quiet">{words().say('seats.count', { count, free })}</p>
{#if problem && !isOfAddresses}<p role="alert" class="mb-4 font-medium text-brick">{problem}</p>{/if}
{#if data.hasNoMore && !form}<p role="alert" class="mb-4 font-medium text-brick">
		{words().say('seats.no-more')}
	</p>{/if}
{#if form && 'said' in form && form.said}
	<p role="status" class="mb-4 border-l-4 border-moss bg-moss-wash px-4 py-2">{words().say(form.said)}</p>
{:else if form && 'given' in form && form.given !== undefined}
	<p role="status" class="mb-4 border-l-4 border-moss bg-moss-wash px-4 py-2">
		{#if form.given > 0}{words().say('seats.said-given', { count: form.given })}{/if}
		{#if form.left}{words().say('seats.said-left', { count: form.left })}{/if}
	</p>
{/if}
<div class="grid items-start gap-6 md:grid-cols-[3fr_2fr]">
	<section class="sheet px-5 py-3" aria-label={title}>
		<ul>
			<li class="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line py-2 last:border-b-0">
				<span class="mr-auto"
					><span class="font-medium">{data.viewer?.name}</span>
					<span class="block text-sm break-all text-quiet">{data.viewer?.email}</span></span
				>
			</li>
			{#each given as seat (seat.id)}
				{@const who = seat.name || seat.email}
				{#snippet day()}<Moment at={seat.joinedAt ?? seat.invitedAt} zone={data.site.zone} />{/snippet}
				<li class="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-line py-2 last:border-b-0">
					<span class="mr-auto"
						><span class="font-medium break-all">{who}</span>
						{#if seat.name && seat.name !== seat.email}<span class="block text-sm break-all text-quiet"
								>{seat.email}</span
							>{/if}
						<span class="block text-sm text-quiet"
							><Words of={seat.joinedAt === null ? 'seats.asked' : 'seats.came'} things={{ day }} /></span
						></span
					>
					{#if seat.joinedAt === null}
						<form method="post" action="?/again">
							<input type="hidden" name="seat" value={seat.id} />
							<button class="button-quiet" aria-label={words().say('seats.again-to', { who })}
								>{words().say('seats.again')}</button
							>
						</form>
					{/if}
					<form method="post" action="?/back">
						<input type="hidden" name="seat" value={seat.id} />
						<button class="button-quiet" aria-label={words().say('seats.back-of', { who })}
							>{words().say('seats.back')}</button
						>
					</form>
				</li>
			{/each}
		</ul>
	</section>
	<div class="grid gap-6">
		{#if free > 0 && !data.seats.hasEnded}
			<section class="sheet p-6 pt-7" aria-labelledby="give">
				<h2 id="give">{words().say('seats.give')}</h2>
				<form method="post" action="?/give" class="mt-3 grid gap-3" novalidate>
					<Field
						name="addresses"
						label={words().say('seats.addresses')}
						hint={words().say('seats.addresses-hint')}
						errors={{ addresses: problem && isOfAddresses ? [problem] : [] }}
					>
						{#snippet children(props)}
							<textarea
								class="input"
								rows="4"
								spellcheck="false"
								value={form && 'typed' in form ? (form.typed ?? '') : ''}
								{...props}></textarea>
						{/snippet}
					</Field>
					<button class="button-main justify-self-start">{words().say('seats.give-them')}</button>
				</form>
			</section>
		{/if}
		{#if data.seats.morePriceId !== null && count < MOST_SEATS}
			<section class="sheet p-6 pt-7" aria-labelledby="more">
				<h2 id="more">{words().say('seats.more')}</h2>
				<form action="/account/move/{data.seats.id}/{data.seats.morePriceId}" class="mt-3 grid gap-3">
					<Field name="seats" label={words().say('seats.more-count')}>
						{#snippet children(props)}
							<input
								class="input w-28"
								type="number"
								inputmode="numeric"
								min={count + 1}
								max={MOST_SEATS}
								defaultValue={count + 1}
								required
								{...props}
							/>
						{/snippet}
					</Field>
					<button class="button-quiet justify-self-start">{words().say('seats.more-see')}</button>
				</form>
			</section>
		{/if}
	</div>
</div>
<p class="mt-6"><a href="/account">{words().say('site.account')}</a></p>
