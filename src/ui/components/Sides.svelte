<script lang="ts">
	import { page } from '$app/state';

	/** The sides of an area of the Desk, above each of them. */
	let { label, sides }: { label: string; sides: readonly (readonly [name: string, href: string])[] } =
		$props();
</script>

<nav class="mb-4 flex flex-wrap gap-x-5 gap-y-1 border-b border-line" aria-label={label}>
	{#each sides as [name, href] (href)}
		<a
			{href}
			aria-current={page.url.pathname === href ? 'page' : undefined}
			class="-mb-px border-b-2 pb-2 no-underline {page.url.pathname === href
				? 'border-moss font-semibold text-ink'
				: 'border-transparent text-quiet hover:text-ink'}">{name}</a
		>
	{/each}
</nav>
