<script lang="ts">
	import { CALL_EVENTS, type CallEvent } from '$core/listeners/listening';
	import { LISTENS_TO } from '$ui/wording/calls';
	import ChecksField from '../fields/ChecksField.svelte';
	import TextField from '../fields/TextField.svelte';

	/** What a program is called, where it is called, and of what it is told. */
	let {
		plans,
		kept,
		values,
		errors
	}: {
		plans: { id: string; name: string }[];
		kept: { name: string; url: string; events: CallEvent[]; planIds: string[] | null };
		/** What was typed, where it was refused. */
		values: Record<string, string | string[]>;
		errors: Record<string, string[]>;
	} = $props();

	const isTyped = $derived('listenerName' in values);

	function typed(field: string): string[] {
		return [values[field] ?? []].flat().filter((one) => one !== '');
	}
</script>

<TextField
	name="listenerName"
	label="The program"
	hint="What you call it, such as “mailing list”."
	value={isTyped ? (typed('listenerName')[0] ?? '') : kept.name}
	{errors}
/>
<TextField
	name="url"
	label="Its address"
	hint="It is called there, by https. Left empty, nobody is called, and what happened is kept as a table to take along."
	value={isTyped ? (typed('url')[0] ?? '') : kept.url}
	{errors}
/>
<ChecksField
	name="events"
	label="It is told"
	options={CALL_EVENTS.map((event) => ({ value: event, label: LISTENS_TO[event] }))}
	from={isTyped ? typed('events') : kept.events}
	{errors}
/>
<ChecksField
	name="planIds"
	label="Of which plans (none ticked: of every one)"
	options={plans.map(({ id, name }) => ({ value: id, label: name }))}
	from={isTyped ? typed('planIds') : (kept.planIds ?? [])}
	{errors}
/>
