<script lang="ts">
	/** Every field and part of the Desk, in each of its states: the house style. */
	import Bold from '@lucide/svelte/icons/bold';
	import Italic from '@lucide/svelte/icons/italic';
	import Redo from '@lucide/svelte/icons/redo-2';
	import Undo from '@lucide/svelte/icons/undo-2';
	import type { Snippet } from 'svelte';
	import type { CalendarUnit } from '$core/time/calendar';
	import { VERDICTS } from '$core/access/decision';
	import StateMark from '$ui/components/StateMark.svelte';
	import CheckField from '$ui/fields/CheckField.svelte';
	import ChecksField from '$ui/fields/ChecksField.svelte';
	import ColourField from '$ui/fields/ColourField.svelte';
	import ComboField from '$ui/fields/ComboField.svelte';
	import FileField from '$ui/fields/FileField.svelte';
	import MomentField from '$ui/fields/MomentField.svelte';
	import MoneyField from '$ui/fields/MoneyField.svelte';
	import NumberField from '$ui/fields/NumberField.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import StepField from '$ui/fields/StepField.svelte';
	import SwitchField from '$ui/fields/SwitchField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import Confirm from '$ui/parts/Confirm.svelte';
	import Dialog from '$ui/parts/Dialog.svelte';
	import { Editing } from '$ui/parts/editing.svelte';
	import EditorFoot from '$ui/parts/EditorFoot.svelte';
	import Fold from '$ui/parts/Fold.svelte';
	import Menu from '$ui/parts/Menu.svelte';
	import Popover from '$ui/parts/Popover.svelte';
	import Progress from '$ui/parts/Progress.svelte';
	import Slider from '$ui/parts/Slider.svelte';
	import Tabs from '$ui/parts/Tabs.svelte';
	import Tip from '$ui/parts/Tip.svelte';
	import Tool from '$ui/parts/Tool.svelte';
	import Tools from '$ui/parts/Tools.svelte';

	let { data } = $props();

	const wrong = (name: string) => ({ [name]: ['Write a title of at most 200 characters.'] });
	const PAID = [
		{ value: 'month', label: 'every month' },
		{ value: 'year', label: 'every year', detail: 'two months for nothing' },
		{ value: 'once', label: 'once' }
	];

	const LINES = 'All courses\nBench night';

	let count = $state('3');
	let unit = $state<CalendarUnit>('week');
	let moment = $state('2026-07-07T10:00');
	let day = $state('2026-07-07');
	let place = $state(40);
	let isBold = $state(true);
	let isOpen = $state(false);
	let chosen = $state('');
	const editing = new Editing();
</script>

<svelte:head><title>Pieces · Desk</title></svelte:head>

{#snippet piece(title: string, body: Snippet)}
	<section class="grid content-start gap-4" aria-label={title}>
		<h2>{title}</h2>
		{@render body()}
	</section>
{/snippet}

<h1 class="mb-1">Pieces</h1>
<p class="mb-6 max-w-prose text-quiet">
	What the Desk is put together from, each in the states that it can be in. Everything here can be pressed and
	nothing is kept.
</p>

<div class="sheet grid gap-x-10 gap-y-8 p-6 pt-8 @2xl:grid-cols-2 @5xl:grid-cols-3">
	{@render piece('Text', text)}
	{@render piece('Numbers and money', numbers)}
	{@render piece('One of several', one)}
	{@render piece('Yes or no', yes)}
	{@render piece('When', when)}
	{@render piece('Files and colours', files)}
	{@render piece('What floats', floats)}
	{@render piece('Sides, folds and tools', sides)}
	{@render piece('How far, and where', far)}
</div>

<form class="sheet mt-6 grid max-w-2xl gap-4 p-6 pt-8" onsubmit={(event) => event.preventDefault()}>
	<h2>An editor and its foot</h2>
	{#key editing.version}
		<TextField name="title" label="Title" from="Strip to strike" />
		<SwitchField name="isPublic" label="Listed on the plan page" from />
		<EditorFoot {editing} of="pieces" />
	{/key}
</form>

{#snippet text()}
	<TextField label="Title" hint="As it stands on the page." from="The Pendulum Clock" />
	<TextField name="wrong" label="Title that will not do" errors={wrong('wrong')} />
	<TextField label="What you get" rows={3} from={LINES} />
{/snippet}

{#snippet numbers()}
	<NumberField label="Opacity" from="40" min={5} max={100} unit="%" hint="The arrow keys count, too." />
	<NumberField
		name="wrong-number"
		label="Number that will not do"
		errors={wrong('wrong-number')}
		from="many"
	/>
	<MoneyField
		label="Price"
		name="amount"
		currencyName="currency"
		amount="48.00"
		currency="EUR"
		currencies={['EUR', 'CHF', 'GBP']}
	/>
{/snippet}

{#snippet one()}
	<SelectField label="Paid" options={PAID} from="month" />
	<SelectField
		name="wrong-choice"
		label="Nothing chosen yet"
		options={PAID}
		errors={{ 'wrong-choice': ['Choose how it is paid.'] }}
	/>
	<ComboField
		label="Zone, of many"
		options={data.zones.map((zone) => ({ value: zone, label: zone }))}
		from={data.site.zone}
	/>
	<RadioField
		label="When somebody comes back"
		from="on"
		options={[
			{ value: 'on', label: 'Go on', detail: 'As if they had never been away.' },
			{ value: 'anew', label: 'Begin anew' }
		]}
	/>
{/snippet}

{#snippet yes()}
	<CheckField label="On sale" from hint="Shown with its price." />
	<CheckField label="Listed" />
	<CheckField label="Some of them" isPartly />
	<CheckField label="Held" from isHeld />
	<ChecksField
		label="Who gets in"
		from={['1', '3']}
		options={[
			{ value: '1', label: 'Apprentice' },
			{ value: '2', label: 'Journeyman' },
			{ value: '3', label: 'Patron' }
		]}
	/>
	<SwitchField label="The fence is on" from hint="Off: as if it were not there." />
	<SwitchField label="The fence is off" />
{/snippet}

{#snippet when()}
	<MomentField label="Opens on" bind:value={moment} />
	<MomentField label="First day" to="day" bind:value={day} />
	<MomentField label="Not yet said" hint="Each part is typed, or counted with the arrow keys." />
	<div class="grid gap-1">
		<span class="font-medium">Opens</span>
		<StepField label="Opens" bind:count bind:unit after="they joined the plan" />
	</div>
{/snippet}

{#snippet files()}
	<FileField label="Table" hint="Comma-separated, up to 10 MB." accept=".csv,text/csv" />
	<ColourField label="Accent" />
	<div class="flex flex-wrap gap-2">
		<button class="button-main" type="button">Do it</button>
		<button class="button-quiet" type="button">Leave it as it was</button>
		<button class="button-stop" type="button">Archive</button>
		<button class="button-main" type="button" disabled>Held</button>
	</div>
{/snippet}

{#snippet floats()}
	<div class="flex flex-wrap gap-2">
		<Menu
			label="More"
			entries={[
				{ label: 'Copy its address', onChoose: () => (chosen = 'Copy its address') },
				{ label: 'Publish', onChoose: () => (chosen = 'Publish'), isHeld: true },
				{ label: 'Archive', onChoose: () => (chosen = 'Archive'), isGrave: true }
			]}
		/>
		<Popover title="Why">
			{#snippet trigger()}Why{/snippet}
			<p>Shut, because this member’s Apprentice ended on 7 Jul 2026.</p>
		</Popover>
		<button class="button-quiet" type="button" onclick={() => (isOpen = true)}>Ask</button>
		<Confirm
			label="Refund"
			title="Refund this order"
			what="Refund 48.00 EUR and end this access now: 3 courses, 1 feed."
			action="?/nothing"
			confirmLabel="Refund"
		/>
	</div>
	{#if chosen}<p role="status">Chosen: {chosen}</p>{/if}
	<p>
		<Tip text="2026-07-07T08:00:00Z">
			{#snippet children(props)}<button {...props} type="button" class="underline decoration-dotted"
					>7 Jul 2026, 10:00</button
				>{/snippet}
		</Tip>
	</p>
	<Dialog title="A question" what="Something apart." bind:isOpen>
		<TextField label="Its answer" />
	</Dialog>
	<div class="flex flex-wrap gap-x-5 gap-y-2">
		{#each VERDICTS as verdict (verdict)}<StateMark {verdict} />{/each}
	</div>
{/snippet}

{#snippet sides()}
	<Tabs
		label="Sides of a plan"
		value="says"
		tabs={[
			{ value: 'says', label: 'What it says' },
			{ value: 'opens', label: 'What it opens' }
		]}
	>
		{#snippet children(side)}<p>
				{side === 'says' ? 'All courses, and Bench night.' : 'Everything below /courses.'}
			</p>{/snippet}
	</Tabs>
	<Fold label="Limits"><p>At most 3 uses a paid period.</p></Fold>
	<Tools label="Text">
		<Tool label="Bold" isOn={isBold} onPress={() => (isBold = !isBold)}><Bold size={16} /></Tool>
		<Tool label="Italic" isOn={false} onPress={() => {}}><Italic size={16} /></Tool>
		<Tool label="Undo" onPress={() => {}}><Undo size={16} /></Tool>
		<Tool label="Redo" isHeld onPress={() => {}}><Redo size={16} /></Tool>
	</Tools>
{/snippet}

{#snippet far()}
	<Progress label="Sent" value={62} />
	<Slider label="Place" value={place} min={0} max={100} says="{place} of 100" onMove={(to) => (place = to)} />
{/snippet}
