<script lang="ts">
	import { enhance } from '$app/forms';
	import ChangedElsewhere from '$ui/components/ChangedElsewhere.svelte';
	import SettingsForm from '$ui/components/SettingsForm.svelte';
	import { editingOf, standing } from '$ui/parts/editing.svelte';
	import EditorFoot from '$ui/parts/EditorFoot.svelte';
	import { oneStop } from '$ui/one-stop';
	import Confirm from '$ui/parts/Confirm.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import Saved from '$ui/components/Saved.svelte';

	let { data, form } = $props();

	const chosen = $derived(data.chosen);
	const key = $derived(data.chosen.key);
	const editing = $derived(editingOf(key));
	/** Which of the two forms of the page was answered. */
	const isOfSender = $derived(form !== null && 'part' in form && form.part === 'mail');
	const answer = $derived(editing.of(isOfSender ? null : form));
	const errors = $derived((answer && 'errors' in answer ? answer.errors : null) ?? {});
	const values = $derived(
		(answer && 'values' in answer ? answer.values : null) as Record<string, string> | null
	);
	const said = (field: 'subject' | 'text' | 'button') =>
		values?.occasion === chosen.key ? (values[field] ?? '') : (chosen[field] ?? '');
	const words = standing(
		() => editing,
		() => ({ subject: said('subject'), text: said('text'), button: said('button') })
	);
	const theirs = $derived(answer && 'theirs' in answer ? answer.theirs : null);
</script>

<svelte:head><title>Mails · Settings · Desk</title></svelte:head>

<SettingsForm
	title="Mails"
	part="mail"
	kept={data.sender.kept}
	revision={data.sender.revision}
	zone={data.site.zone}
	action="?/sender&mail={chosen.key}"
	answered={isOfSender ? form : null}
>
	{#snippet fields({ shown, errors })}
		<TextField
			name="senderEmail"
			label="Mails come from"
			hint="Answers go there, too."
			{errors}
			type="email"
			from={shown.senderEmail}
		/>
	{/snippet}
</SettingsForm>
<div id="words" class="mt-5 grid items-start gap-5 @3xl:grid-cols-[15rem_minmax(0,1fr)]">
	<nav class="sheet p-4 pt-6" aria-label="Kinds of mail">
		<ul class="grid gap-0.5" {@attach oneStop}>
			{#each data.mails as { key, title, isOwn } (key)}
				<li>
					<a
						href="?mail={key}"
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
	<div class="grid gap-5">
		{#key `${chosen.key} ${editing.version}`}
			<form
				method="post"
				action="?/save&mail={chosen.key}"
				aria-label={chosen.title}
				class="sheet grid gap-4 p-6 pt-7"
				novalidate
				use:enhance={editing.submit}
			>
				<h2>{chosen.title}</h2>
				<Saved text={form && 'saved' in form ? form.saved : null} />
				<ErrorSummary {errors} />
				{#if theirs}<ChangedElsewhere
						{theirs}
						what="this mail"
						href="/desk/settings/mails?mail={chosen.key}"
					/>{/if}
				<input type="hidden" name="occasion" value={chosen.key} />
				<p class="text-sm text-quiet">
					It may speak of {#each chosen.names as name, n (name)}{n > 0 ? ', ' : ''}<code>{`{${name}}`}</code
						>{/each}. The button {chosen.isToStaff
						? 'leads to Today'
						: 'signs in on the device it is pressed on'}, and comes after the first paragraph; an empty line
					begins another.
				</p>
				<TextField name="subject" label="Subject" {errors} from={words.current.subject} />
				<TextField
					name="text"
					label="What it says"
					{errors}
					rows={8}
					class="reading min-h-48"
					from={words.current.text}
				/>
				<TextField name="button" label="On the button" {errors} from={words.current.button} />
				<EditorFoot {editing} of="mail {chosen.key}" by="mail" revision={chosen.revision} />
			</form>
			{#if chosen.isOwn}
				<div>
					<Confirm
						label="Put back what Stile came with"
						title="Put back the words that Stile came with?"
						what="Your own words for “{chosen.title}” go."
						action="?/reset&mail={chosen.key}"
						confirmLabel="Put them back"
					>
						<input type="hidden" name="occasion" value={chosen.key} />
					</Confirm>
				</div>
			{/if}
		{/key}
		<section class="sheet p-6 pt-7" aria-labelledby="sample">
			<h2 id="sample">As it arrives</h2>
			<p class="mt-1"><span class="text-quiet">Subject:</span> {data.sample.subject}</p>
			<iframe
				class="mt-3 h-128 w-full rounded-sheet border border-line bg-white"
				title="The mail as it arrives"
				sandbox=""
				srcdoc={data.sample.html}
			></iframe>
		</section>
	</div>
</div>
