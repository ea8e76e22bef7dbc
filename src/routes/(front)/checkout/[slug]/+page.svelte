<script lang="ts">
	import { page } from '$app/state';
	import CurrencyChoice from '$ui/components/CurrencyChoice.svelte';
	import GiftFields from '$ui/components/GiftFields.svelte';
	import PostalFields from '$ui/components/PostalFields.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Field from '$ui/fields/Field.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import NotSold from '$ui/components/NotSold.svelte';
	import Price from '$ui/components/Price.svelte';
	import Words from '$ui/components/Words.svelte';
	import { MOST_SEATS } from '$core/billing/seats';
	import { asksForMoney } from '$core/billing/terms';
	import { discountText, lengthText } from '$words/price';
	import { asking } from '$ui/address';
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();

	let errors = $derived<Record<string, string[]>>(form?.errors ?? {});
	const typed = $derived({ ...data.typed, ...form?.values }) as Record<string, string>;
	let priced = $derived(form?.priced ?? data.priced);
	let chosen = $derived(typed.price || data.chosen);
	let payBy = $derived(typed.payBy || data.ways[0]?.way || 'card');
	const price = $derived(priced.prices.find(({ id }) => id === chosen) ?? priced.prices[0]);
	const terms = $derived(price?.terms);
	/** What is bought with it. */
	const besides = $derived(priced.besides.filter(({ isChosen }) => isChosen));
	const besidesMinor = $derived(besides.reduce((sum, { todayMinor }) => sum + todayMinor, 0));
	const todayMinor = $derived((price?.todayMinor ?? 0) + besidesMinor);
	const taxMinor = $derived(besides.reduce((sum, beside) => sum + beside.taxMinor, price?.taxMinor ?? 0));
	const amount = $derived(words().money(todayMinor, terms?.currency ?? ''));
	const then = $derived(terms?.then ?? { kind: 'nothing' as const });
	/** How long it opens: what is for somebody else begins when they open it. */
	const access = $derived(data.gift?.opens[chosen] ?? data.plan.access);
	const until = $derived(access.kind === 'until' ? access.at : null);
	const title = $derived(
		words().say(data.gift ? 'checkout.gift-title' : 'checkout.title', { plan: data.plan.name })
	);
	/** How it goes on after today. */
	const goes = $derived(then.kind === 'nothing' ? 'once' : then.times === null ? 'until-ended' : 'times');
	/** What is paid once is paid for good; what goes on until it is ended never is. */
	const opens = $derived(
		goes === 'once' || (goes === 'times' && data.plan.access.kind === 'for-good') ? 'for-good' : 'while-paid'
	);
	const isPaid = $derived(todayMinor > 0);
	const openFor = $derived.by(() => {
		if (data.gift) return 'checkout.gift-opens-for';
		return data.plan.begins === null ? 'checkout.open-for' : 'checkout.open-for-then';
	});
	/** Nothing is ever paid, whatever is taken off. */
	const isAlwaysFree = $derived(
		[terms, ...besides.map((beside) => beside.terms)].every((one) => one === undefined || !asksForMoney(one))
	);
	/** What is taken off, in words. */
	const discount = $derived(
		terms?.discount ? discountText(words(), terms.discount, then.kind === 'nothing') : null
	);
	/** Nothing is ever paid: then there is no way to pay, either. */
	const isFree = $derived(
		!isPaid && [terms, ...besides.map((beside) => beside.terms)].every((one) => one?.then.kind !== 'more')
	);
	const button = $derived.by(() => {
		if (isFree) return words().say('checkout.join');
		if (payBy === 'offline') return words().say(isPaid ? 'checkout.order' : 'checkout.join', { amount });
		return words().say(isPaid ? 'checkout.pay' : 'checkout.keep-card', { amount });
	});
	/** What is said below of how it goes on. */
	const further = $derived.by(() => {
		if (isFree) return words().say('checkout.terms-free');
		if (payBy === 'offline') return words().say('checkout.terms-offline');
		return words().say(`checkout.terms-${goes}`, {
			statement: data.plan.statementName ?? data.site.statementName
		});
	});
	/** What a buyer agrees to by ordering. */
	const agreedTo = $derived(
		data.site.legal.filter((one) => one.page === 'terms' || one.page === 'withdrawal')
	);
	/** The code that counts for the price that is chosen. */
	const counting = $derived(
		priced.code !== '' && (price?.refusal === null || besides.some(({ off }) => off === 'by-code'))
			? priced.code
			: ''
	);
	const taxIdProblem = $derived(errors.taxId?.[0] ?? priced.taxProblem ?? '');
	const seatsProblem = $derived(errors.seats?.[0] ?? priced.seatsProblem ?? '');
	const codeProblem = $derived(errors.code?.[0] ?? priced.problem ?? '');
	let isSent = $state(false);
	let node = $state<HTMLFormElement | null>(null);
	let asked = 0;

	/** What it comes to with what is typed by now. Where no answer comes, it is shown before anything is paid. */
	async function priceAnew() {
		const typed = new FormData(node ?? undefined);
		const wish = new FormData();
		for (const name of ['code', 'country', 'taxId', 'price', 'gift', 'seats'])
			wish.set(name, typed.get(name) ?? '');
		for (const id of typed.getAll('besides')) wish.append('besides', id);
		const mine = ++asked;
		const body = { method: 'POST', body: wish };
		const response = await fetch(`/checkout/${data.plan.slug}/priced${page.url.search}`, body).catch(
			() => null
		);
		if (!response?.ok || mine !== asked) return;
		priced = (await response.json()) as typeof priced;
		errors = Object.fromEntries(
			Object.entries(errors).filter(
				([name]) => !['code', 'country', 'taxId', 'seats', 'besides'].includes(name)
			)
		);
	}

	const taxed = $derived(price?.taxed ?? { kind: 'none' as const });
	/** What the tax of it is, in a sentence; empty where no tax is asked for at all. */
	const taxText = $derived.by(() => {
		if (!priced.asksWhere || !terms) return '';
		if (taxed.kind === 'none')
			return priced.country
				? words().say('checkout.tax-none', { country: words().country(priced.country) })
				: '';
		const { kind, rate, isIncluded } = taxed;
		const money = (minor: number) => words().money(minor, terms.currency);
		const [name, country] = [taxed.name || words().say('price.tax'), words().country(taxed.country)];
		if (kind === 'reversed') return words().say('checkout.tax-reversed', { name, country });
		const values = { name, country, rate: words().percent(rate), amount: money(taxMinor) };
		if (!isPaid) return words().say('checkout.tax-each', values);
		return isIncluded
			? words().say('checkout.tax-in', values)
			: words().say('checkout.tax-on', { ...values, net: money(todayMinor - taxMinor) });
	});
	/** For whoever signs in and comes back: with what they chose and typed as a code. */
	const here = $derived(
		`${page.url.pathname}${asking(page.url.searchParams, { code: counting, price: chosen })}`
	);
</script>

<svelte:head><title>{title} · {data.site.name}</title></svelte:head>

{#snippet today()}<strong class="price">{amount}</strong>{/snippet}
{#snippet tax()}{#if taxText}<p class="text-quiet" role="status">{taxText}</p>{/if}{/snippet}
{#snippet following()}<strong class="price"
		>{words().money(price?.next?.amountMinor ?? 0, terms?.currency ?? '')}</strong
	>{/snippet}
{#snippet nextDay()}<Moment at={price?.next?.at ?? 0} zone={data.site.zone} />{/snippet}
{#snippet full()}<strong class="price"
		>{words().money(price?.full?.amountMinor ?? 0, terms?.currency ?? '')}</strong
	>{/snippet}
{#snippet fullDay()}<Moment at={price?.full?.at ?? 0} zone={data.site.zone} />{/snippet}
{#snippet openUntil()}<Moment at={until ?? 0} zone={data.site.zone} />{/snippet}
{#snippet beginsDay()}<Moment at={data.plan.begins ?? 0} zone={data.site.zone} />{/snippet}
{#snippet buyer()}<strong>{data.viewer?.name}</strong>{/snippet}
{#snippet signIn()}<a href="/sign-in?next={encodeURIComponent(here)}">{words().say('site.sign-in')}</a
	>{/snippet}

<h1 class="mb-6">{title}</h1>
{#if data.plan.sold.kind !== 'now'}
	<div class="sheet grid max-w-xl gap-3 p-6 pt-7">
		<p><NotSold sold={data.plan.sold} zone={data.site.zone} /></p>
		<p><a href="/plans/{data.plan.slug}">{words().say('wait.buy', { plan: data.plan.name })}</a></p>
	</div>
{:else}
	<CurrencyChoice {...data.money} />
	<div class="grid items-start gap-6 md:grid-cols-[3fr_2fr]">
		<form
			method="post"
			id="buy"
			bind:this={node}
			action="/checkout/{data.plan.slug}{page.url.search}"
			class="sheet grid gap-4 p-6 pt-7"
			novalidate
			onsubmit={({ submitter }) => (isSent = submitter?.id !== 'use-code')}
		>
			{#if data.back && !form}
				<div
					role="alert"
					class="rounded-sheet border-l-4 px-4 py-3 {data.back === 'ended'
						? 'border-gorse bg-gorse-wash'
						: 'border-brick bg-brick-wash'}"
				>
					<p class="font-medium">{words().say(`checkout.back-${data.back}`)}</p>
					<p>{words().say(`checkout.back-${data.back}-text`)}</p>
				</div>
			{/if}
			<ErrorSummary {errors} />
			{#if form && Object.keys(errors).length === 0}
				<p role="status" class="rounded-sheet border-l-4 border-gorse bg-gorse-wash px-4 py-3 font-medium">
					{words().say('checkout.tax-changed')}
				</p>
			{/if}
			{#if data.included || errors.again}
				<div class="grid gap-2 border-l-4 border-gorse bg-gorse-wash px-4 py-3">
					<p>
						{words().say(data.included?.by ? 'checkout.included-by' : 'checkout.included', {
							plan: data.plan.name,
							held: data.included?.by ?? ''
						})}
					</p>
					<label class="flex items-start gap-2">
						<input
							type="checkbox"
							id="again"
							name="again"
							value="yes"
							class="mt-1"
							aria-invalid={errors.again ? 'true' : undefined}
							aria-describedby={errors.again ? 'again-error' : undefined}
						/>
						<span>{words().say('checkout.again', { plan: data.plan.name })}</span>
					</label>
					{#if errors.again}<p id="again-error" class="text-sm font-medium text-brick">
							{words().maybe(errors.again[0] ?? '')}
						</p>{/if}
				</div>
			{/if}
			{#if data.gift}<input type="hidden" name="gift" value="yes" />{/if}
			<input type="hidden" name="next" value={data.next} />
			<input type="hidden" name="shownCode" value={counting} />
			<input type="hidden" name="shownSeats" value={priced.seats} />
			<input type="hidden" name="shownWhere" value={`${priced.country} ${priced.taxId}`.trim()} />
			<input type="hidden" name="shownBesides" value={besides.map(({ id }) => id).join(' ')} />
			{#each priced.prices as { id, todayMinor: ownMinor } (id)}
				<input type="hidden" name="today-{id}" value={ownMinor + besidesMinor} />
			{/each}
			{#if priced.prices.length > 1}
				<fieldset class="grid gap-2">
					<legend class="question mb-2">{words().say('checkout.which-price')}</legend>
					{#each priced.prices as one (one.id)}
						<label
							class="flex gap-3 border-l-3 px-3 py-2 {chosen === one.id
								? 'border-moss bg-moss-wash'
								: 'border-line'}"
						>
							<input type="radio" name="price" value={one.id} bind:group={chosen} />
							<span>
								{#if one.name}<span class="block font-medium">{one.name}</span>{/if}
								<Price terms={one.terms} />
								{#if one.first}<span class="block text-sm text-quiet"
										>{words().say('plan.first', one.first)}</span
									>{/if}
							</span>
						</label>
					{/each}
					<p id="price" class="text-sm font-medium text-brick">{words().maybe(errors.price?.[0] ?? '')}</p>
				</fieldset>
			{:else}<input type="hidden" name="price" value={data.chosen} />
				{#if errors.price}<p id="price" class="text-sm font-medium text-brick">
						{words().maybe(errors.price[0] ?? '')}
					</p>{/if}{/if}
			{#if priced.besides.length > 0}
				<details open={besides.length > 0 || errors.besides !== undefined}>
					<summary class="cursor-pointer">{words().say('checkout.besides')}</summary>
					<fieldset class="mt-2 grid gap-2">
						<legend class="sr-only">{words().say('checkout.besides')}</legend>
						{#each priced.besides as beside (beside.id)}
							<label
								class="flex gap-3 border-l-3 px-3 py-2 {beside.isChosen
									? 'border-moss bg-moss-wash'
									: 'border-line'}"
							>
								<input
									type="checkbox"
									name="besides"
									value={beside.id}
									checked={beside.isChosen}
									onchange={priceAnew}
								/>
								<span>
									<span class="block font-medium">{beside.name}</span>
									<Price terms={beside.terms} />
								</span>
							</label>
						{/each}
						<p id="besides" class="text-sm font-medium text-brick">
							{words().maybe(errors.besides?.[0] ?? '')}
						</p>
					</fieldset>
				</details>
			{/if}
			{#if data.plan.sellsSeats}
				<Field
					name="seats"
					label={words().say('checkout.seats')}
					hint={words().say('checkout.seats-hint')}
					errors={{ seats: seatsProblem ? [seatsProblem] : [] }}
				>
					{#snippet children(props)}
						<input
							class="input w-28"
							type="number"
							inputmode="numeric"
							min="1"
							max={MOST_SEATS}
							defaultValue={typed.seats || priced.seats}
							onchange={priceAnew}
							{...props}
						/>
					{/snippet}
				</Field>
			{/if}
			{#if data.gift}
				<GiftFields
					typed={{
						email: typed.giftEmail ?? data.gift.typed.email,
						words: typed.giftWords ?? data.gift.typed.words,
						day: typed.giftDay ?? data.gift.typed.day
					}}
					today={data.gift.today}
					lastDay={data.gift.lastDay}
					{errors}
				/>
				<h2 class="question">{words().say('checkout.gift-you')}</h2>
			{/if}
			{#if data.viewer}
				<p><Words of="checkout.as" values={{ address: data.viewer.email }} things={{ name: buyer }} /></p>
				<p id="pay" class="text-sm font-medium text-brick">{words().maybe(errors.pay?.[0] ?? '')}</p>
			{:else}
				<p class="text-quiet">
					<Words of="checkout.account-already" things={{ signIn }} />
				</p>
				<Field
					name="email"
					label={words().say(data.gift ? 'checkout.gift-own-address' : 'checkout.address')}
					hint={words().say(data.gift ? 'checkout.gift-own-address-hint' : 'checkout.address-hint')}
					{errors}
				>
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
				<Field
					name="name"
					label={words().say('checkout.name')}
					hint={words().say(data.gift ? 'checkout.gift-name-hint' : 'checkout.name-hint')}
					{errors}
				>
					{#snippet children(props)}
						<input class="input" autocomplete="name" defaultValue={typed.name ?? ''} required {...props} />
					{/snippet}
				</Field>
				{#if payBy === 'card' || isFree}<Field
						name="password"
						label={words().say('checkout.password')}
						hint={words().say('checkout.password-hint')}
						{errors}
					>
						{#snippet children(props)}
							<input class="input" type="password" autocomplete="new-password" {...props} />
						{/snippet}
					</Field>{/if}
			{/if}
			{#if priced.asksWhere && !isAlwaysFree}
				<Field
					name="country"
					label={words().say('checkout.country')}
					hint={words().say('checkout.country-hint')}
					{errors}
				>
					{#snippet children(props)}
						<select class="input" autocomplete="country" required onchange={priceAnew} {...props}>
							<option value="">{words().say('checkout.country-choose')}</option>
							{#each data.countries as { code, name } (code)}
								<option value={code} selected={code === (typed.country ?? priced.country)}>{name}</option>
							{/each}
						</select>
					{/snippet}
				</Field>
				<details open={priced.taxId !== '' || errors.taxId !== undefined}>
					<summary class="cursor-pointer">{words().say('checkout.for-business')}</summary>
					<div class="mt-2">
						<Field
							name="taxId"
							label={words().say('checkout.tax-id')}
							hint={words().say('checkout.tax-id-hint')}
							errors={{ taxId: taxIdProblem ? [taxIdProblem] : [] }}
						>
							{#snippet children(props)}
								<input
									class="input"
									autocomplete="off"
									autocapitalize="characters"
									maxlength="40"
									defaultValue={typed.taxId ?? priced.taxId}
									onchange={priceAnew}
									{...props}
								/>
							{/snippet}
						</Field>
					</div>
				</details>
			{/if}
			{#if data.postal}
				<PostalFields
					typed={{
						name: typed.postalName ?? data.postal.name,
						more: typed.postalMore ?? data.postal.more,
						street: typed.postalStreet ?? data.postal.street,
						postcode: typed.postalCode ?? data.postal.postcode,
						city: typed.postalCity ?? data.postal.city,
						region: typed.postalRegion ?? data.postal.region,
						country: typed.postalCountry ?? (data.postal.country || priced.country)
					}}
					countries={data.countries}
					{errors}
				/>
			{/if}
			{#if data.ways.length > 1 && !isFree}
				<fieldset class="grid gap-2">
					<legend class="question mb-2">{words().say('checkout.which-way')}</legend>
					{#each data.ways as { way, name } (way)}
						<label class="flex gap-3">
							<input type="radio" name="payBy" value={way} bind:group={payBy} />
							<span>{name || words().say(`checkout.way-${way}`)}</span>
						</label>
					{/each}
					<p id="payBy" class="text-sm font-medium text-brick">{words().maybe(errors.payBy?.[0] ?? '')}</p>
				</fieldset>
			{/if}
			<button class="button-main justify-self-start" aria-disabled={isSent}>
				{isSent ? words().say('checkout.going') : button}
			</button>
		</form>
		<aside class="sheet p-6 pt-7" aria-label={words().say('checkout.what')}>
			<h2>{data.plan.name}</h2>
			{#if terms}<p class="mt-1"><Price {terms} /></p>{/if}
			{#if priced.seats > 1}<p class="text-sm text-quiet">
					{words().say('checkout.seats-all', { count: priced.seats })}
				</p>{/if}
			{#if price?.first}<p class="text-sm text-quiet">{words().say('plan.first', price.first)}</p>{/if}
			{#if data.plan.begins !== null}
				<p class="mt-2 border-l-3 border-gorse bg-gorse-wash px-3 py-2">
					<Words of="checkout.begins" things={{ day: beginsDay }} />
				</p>
			{/if}
			{#if besides.length === 0}
				{#if isPaid}<p class="mt-3"><Words of="checkout.today" things={{ amount: today }} /></p>{/if}
				{@render tax()}
			{/if}
			{#if price?.next}
				<p><Words of="checkout.next" things={{ amount: following, day: nextDay }} /></p>
			{/if}
			{#if price?.full}
				<p><Words of="checkout.full-again" things={{ amount: full, day: fullDay }} /></p>
			{/if}
			<p class="mt-1 text-quiet">
				{#if access.kind === 'length'}
					{words().say(openFor, {
						length: lengthText(words(), access.length)
					})}
				{:else if until !== null}
					<Words of="checkout.open-until" things={{ day: openUntil }} />
				{:else if data.gift}
					{words().say('checkout.gift-opens-good')}
				{:else}
					{words().say(`checkout.open-${opens}`)}
				{/if}
			</p>
			<ul class="reading mt-3 grid gap-1 text-base">
				{#each data.plan.lines as line (line)}<li class="border-l-2 border-moss pl-3">{line}</li>{/each}
			</ul>
			<p class="mt-4 text-sm text-quiet">
				{further}
			</p>
			{#if besides.length > 0}
				{#each besides as beside (beside.id)}
					{#snippet dueAmount()}<strong class="price"
							>{words().money(beside.next?.amountMinor ?? 0, beside.terms.currency)}</strong
						>{/snippet}
					{#snippet dueDay()}<Moment at={beside.next?.at ?? 0} zone={data.site.zone} />{/snippet}
					<h2 class="mt-4 border-t border-line pt-3">{beside.name}</h2>
					<p class="mt-1"><Price terms={beside.terms} /></p>
					{#if beside.next}<p>
							<Words of="checkout.next" things={{ amount: dueAmount, day: dueDay }} />
						</p>{/if}
				{/each}
				<p class="mt-4 border-t-2 border-ink pt-3">
					<Words of="checkout.together" things={{ amount: today }} />
				</p>
				{@render tax()}
			{/if}
			{#if data.gift}
				<p class="mt-4"><a href="/checkout/{data.plan.slug}">{words().say('checkout.gift-not')}</a></p>
			{:else if data.canBeGiven}
				<p class="mt-4"><a href="/checkout/{data.plan.slug}?gift">{words().say('checkout.gift-to')}</a></p>
			{/if}
			{#if !isAlwaysFree}
				<details class="mt-4 border-t border-line pt-3" open={priced.code !== ''}>
					<summary class="cursor-pointer">{words().say('checkout.have-code')}</summary>
					<div class="mt-2 grid gap-2">
						<Field
							name="code"
							label={words().say('checkout.code')}
							errors={{ code: codeProblem ? [codeProblem] : [] }}
						>
							{#snippet children(props)}
								<span class="flex gap-2">
									<input
										class="input"
										form="buy"
										autocomplete="off"
										autocapitalize="characters"
										maxlength="60"
										defaultValue={priced.code}
										{...props}
									/>
									<button
										id="use-code"
										form="buy"
										class="button-quiet shrink-0"
										onclick={(event) => {
											event.preventDefault();
											void priceAnew();
										}}>{words().say('checkout.use-code')}</button
									>
								</span>
							{/snippet}
						</Field>
						{#if counting && discount}
							<p class="border-l-3 border-moss bg-moss-wash px-3 py-2" role="status">
								{price?.off === 'by-holding'
									? words().say('checkout.held-more', { code: counting })
									: words().say('checkout.code-less', { code: counting, less: discount })}
							</p>
						{/if}
					</div>
				</details>
			{/if}
			{#if price?.off === 'by-holding' && discount}
				<p class="mt-3 border-l-3 border-moss bg-moss-wash px-3 py-2">
					{words().say('checkout.held-less', { less: discount })}
				</p>
			{/if}
			{#if agreedTo.length > 0}
				{#snippet pages()}{#each agreedTo as { page: of, href }, n (of)}{n > 0 ? ', ' : ''}<a
							{href}
							target="_blank">{words().say(`legal.${of}`)}</a
						>{/each}{/snippet}
				<p class="mt-2 text-sm text-quiet"><Words of="checkout.counts" things={{ pages }} /></p>
			{/if}
		</aside>
	</div>
{/if}
