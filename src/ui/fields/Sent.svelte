<script lang="ts">
	import { untrack } from 'svelte';
	import { PUT_IN } from './put-in';

	/**
	 * Sends what a field holds that is no input of the browser's, tells its form when that changes, and hears of it when the
	 * form is put back.
	 */
	let {
		name,
		value,
		words,
		isLeftOut = false,
		onReset,
		onPutIn
	}: {
		name: string | undefined;
		value: string;
		/** What is chosen is called, where the value is an id: a draft keeps both. */
		words?: string | undefined;
		/** Not sent, as what is not ticked. */
		isLeftOut?: boolean;
		onReset?: (() => void) | undefined;
		/** Takes what was typed before; left out: it cannot be put in. */
		onPutIn?: ((values: string[]) => void) | undefined;
	} = $props();

	let input = $state<HTMLInputElement | null>(null);
	const sent = $derived(isLeftOut ? null : value);
	let told = untrack(() => sent);

	$effect(() => {
		if (sent === told) return;
		told = sent;
		input?.dispatchEvent(new Event('input', { bubbles: true }));
	});

	function follow(node: HTMLInputElement) {
		const { form } = node;
		const reset = () => onReset?.();
		const put = (event: Event) => onPutIn?.((event as CustomEvent<string[]>).detail);
		form?.addEventListener('reset', reset);
		node.addEventListener(PUT_IN, put);
		return () => {
			form?.removeEventListener('reset', reset);
			node.removeEventListener(PUT_IN, put);
		};
	}
</script>

{#if name}<input
		type="hidden"
		{name}
		{value}
		disabled={isLeftOut}
		data-put-in={onPutIn ? 'yes' : undefined}
		data-words={words}
		bind:this={input}
		{@attach follow}
	/>{/if}
