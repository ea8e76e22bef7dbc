<script lang="ts">
	import { page } from '$app/state';

	let { data, children } = $props();

	const SIDES = [
		['What leaves', '/desk/mail'],
		['What came back', '/desk/mail/returned'],
		['What mails say', '/desk/mail/words'],
		['Who sends them', '/desk/mail/sender']
	] as const;
	const sides = $derived(SIDES.filter(([, href]) => data.areas.includes(href)));
</script>

<nav class="mb-4 flex flex-wrap gap-x-5 gap-y-1 border-b border-line" aria-label="Sides of Mail">
	{#each sides as [label, href] (href)}
		<a
			{href}
			aria-current={page.url.pathname === href ? 'page' : undefined}
			class="-mb-px border-b-2 pb-2 no-underline {page.url.pathname === href
				? 'border-moss font-semibold text-ink'
				: 'border-transparent text-quiet hover:text-ink'}">{label}</a
		>
	{/each}
</nav>
{@render children()}
