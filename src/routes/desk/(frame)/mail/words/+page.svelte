<script lang="ts">
	import { enhance } from '$app/forms';
	import { page } from '$app/state';
	import { asking } from '$ui/address';
	import ChangedElsewhere from '$ui/components/ChangedElsewhere.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import ChipField from '$ui/fields/ChipField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import { oneStop } from '$ui/one-stop';
	import Confirm from '$ui/parts/Confirm.svelte';
	import { editingOf, standing } from '$ui/parts/editing.svelte';
	import EditorFoot from '$ui/parts/EditorFoot.svelte';
	import Tabs from '$ui/parts/Tabs.svelte';
	import { mailNameWords } from '$ui/wording/mail-names';

	let { data, form } = $props();

	const chosen = $derived(data.chosen);
	/** Which text is edited: of which mail, in which language. */
	const of = $derived(`${data.chosen.key} ${data.language}`);
	const editing = $derived(editingOf(of));
	/** Which of the two forms of the page was answered. */
	const isTried = $derived(form !== null && 'part' in form && form.part === 'try');
	const answer = $derived(editing.of(isTried ? null : form));
	const errors = $derived((answer && 'errors' in answer ? answer.errors : null) ?? {});
	const values = $derived(
		(answer && 'values' in answer ? answer.values : null) as Record<string, string> | null
	);
	const said = (field: 'subject' | 'text' | 'button') =>
		values?.occasion === chosen.key && values.language === data.language
			? (values[field] ?? '')
			: (chosen[field] ?? '');
	const words = standing(
		() => editing,
		() => ({ subject: said('subject'), text: said('text'), button: said('button') })
	);
	const theirs = $derived(answer && 'theirs' in answer ? answer.theirs : null);
	const asked = $derived(page.url.searchParams);
	const here = $derived(`?mail=${chosen.key}&language=${data.language}`);

	/** As it is typed by now. */
	let typed = $state({ subject: '', text: '', button: '' });
	let number = $state('');
	let side = $state('html');
	const draft = $derived({ occasion: chosen.key, language: data.language, ...typed, number });
	/** What the page came with is drawn already. */
	const isAsKept = $derived(
		number === '' && (['subject', 'text', 'button'] as const).every((field) => typed[field] === chosen[field])
	);
	/** Of which text the last drawing is. */
	let drawing = $state.raw<{ of: string; sample: typeof data.sample } | null>(null);
	const sample = $derived(!isAsKept && drawing?.of === of ? drawing.sample : data.sample);

	const DRAWN_AFTER_MS = 250;
	$effect(() => {
		const [body, now] = [JSON.stringify(draft), of];
		if (isAsKept) return;
		let isOld = false;
		const timer = setTimeout(async () => {
			const asked = { method: 'POST', headers: { 'content-type': 'application/json' }, body };
			const answered = await fetch('/desk/mail/words/sample', asked).catch(() => null);
			const drawn = answered?.ok ? ((await answered.json()) as typeof data.sample | null) : null;
			// What was typed meanwhile is drawn by another; what cannot be read stays as it was drawn last.
			if (drawn && !isOld) drawing = { of: now, sample: drawn };
		}, DRAWN_AFTER_MS);
		return () => {
			isOld = true;
			clearTimeout(timer);
		};
	});
</script>

<svelte:head><title>{chosen.title} · Mail · Desk</title></svelte:head>

<div class="grid items-start gap-5 @3xl:grid-cols-[15rem_minmax(0,1fr)]">
	<nav class="sheet p-4 pt-6" aria-label="Kinds of mail">
		<p class="mb-3 flex flex-wrap gap-x-4 border-b border-line px-2 pb-3">
			{#each data.languages as { code, name, isSites } (code)}
				<a
					href={asking(asked, { language: isSites ? null : code })}
					aria-current={code === data.language ? 'true' : undefined}
					class={code === data.language ? 'font-semibold text-ink' : 'text-quiet'}
					>{name}{#if isSites}<span class="sr-only">, the language of the site</span>{/if}</a
				>
			{/each}
		</p>
		<ul class="grid gap-0.5" {@attach oneStop}>
			{#each data.mails as { key, title, isOwn } (key)}
				<li>
					<a
						href={asking(asked, { mail: key })}
						class="block rounded-sheet px-2 py-1.5 no-underline {key === chosen.key
							? 'bg-moss-wash font-medium text-ink'
							: 'text-ink hover:underline'}"
						aria-current={key === chosen.key ? 'page' : undefined}
						>{title}{#if isOwn}<span class="block text-sm text-quiet">in your words</span>{/if}</a
					>
				</li>
			{/each}
		</ul>
	</nav>
	<div class="grid grid-cols-1 items-start gap-5 @6xl:grid-cols-2">
		{#key `${of} ${editing.version}`}
			<div class="grid gap-5">
				<form
					method="post"
					action="?/save&{here.slice(1)}"
					aria-label={chosen.title}
					class="sheet grid gap-4 p-6 pt-7"
					novalidate
					use:enhance={editing.submit}
				>
					<h1 class="text-xl">{chosen.title}</h1>
					<Saved text={form && 'saved' in form ? form.saved : null} />
					<ErrorSummary {errors} />
					{#if theirs}<ChangedElsewhere {theirs} what="this mail" href="/desk/mail/words{here}" />{/if}
					<input type="hidden" name="occasion" value={chosen.key} />
					<input type="hidden" name="language" value={data.language} />
					<ChipField
						name="subject"
						label="Subject"
						{errors}
						names={chosen.names}
						labelOf={mailNameWords}
						from={words.current.subject}
						bind:value={typed.subject}
					/>
					<ChipField
						name="text"
						label="What it says"
						hint="The button comes after the first paragraph; an empty line begins another."
						{errors}
						names={chosen.names}
						labelOf={mailNameWords}
						isLong
						from={words.current.text}
						bind:value={typed.text}
					/>
					<ChipField
						name="button"
						label="On the button"
						hint={chosen.isToStaff ? 'It leads to Today.' : undefined}
						{errors}
						names={chosen.names}
						labelOf={mailNameWords}
						from={words.current.button}
						bind:value={typed.button}
					/>
					<EditorFoot {editing} of="mail {of}" by="mail" revision={chosen.revision} />
				</form>
				{#if chosen.isOwn}
					<div>
						<Confirm
							label="Put back what Stile came with"
							title="Put back the words that Stile came with?"
							what="Your own words for “{chosen.title}” go."
							action="?/reset&{here.slice(1)}"
							confirmLabel="Put them back"
						>
							<input type="hidden" name="occasion" value={chosen.key} />
							<input type="hidden" name="language" value={data.language} />
						</Confirm>
					</div>
				{/if}
			</div>
		{/key}
		<section class="sheet grid gap-3 p-6 pt-7" aria-labelledby="sample">
			<h2 id="sample">As it arrives</h2>
			<form method="post" action="?/try&{here.slice(1)}" use:enhance class="flex flex-wrap items-end gap-3">
				{#each Object.entries(draft) as [name, value] (name)}
					{#if name !== 'number'}<input type="hidden" {name} {value} />{/if}
				{/each}
				{#if data.orders.length > 0}
					<SelectField
						name="number"
						label="With"
						options={[
							{ value: '', label: 'made-up values' },
							...data.orders.map((one) => ({ value: one.number, label: `${one.number}, ${one.name}` }))
						]}
						bind:value={number}
					/>
				{/if}
				<button class="button-quiet">Send it to me</button>
			</form>
			{#if number !== '' && sample.number !== number}<p class="text-sm text-gorse">
					This mail is about no order, or is not sent for {number}: these values are made up.
				</p>{/if}
			{#if isTried && form && 'tried' in form}<p role="status" class="font-medium text-moss">
					Sent to {form.tried}, as it is typed here.
				</p>{/if}
			{#if isTried && form && 'problem' in form}<p role="alert" class="font-medium text-brick">
					{form.problem}
				</p>{/if}
			<p><span class="text-quiet">Subject:</span> {sample.subject}</p>
			<Tabs
				label="How it is shown"
				tabs={[
					{ value: 'html', label: 'With form' },
					{ value: 'text', label: 'As plain text' }
				]}
				bind:value={side}
			>
				{#snippet children(value)}
					{#if value === 'html'}
						<iframe
							class="h-128 w-full rounded-sheet border border-line bg-white"
							title="The mail as it arrives"
							sandbox=""
							srcdoc={sample.html}
						></iframe>
					{:else}
						<pre
							class="h-128 overflow-auto rounded-sheet border border-line p-4 text-sm whitespace-pre-wrap">{sample.text}</pre>
					{/if}
				{/snippet}
			</Tabs>
		</section>
	</div>
</div>
