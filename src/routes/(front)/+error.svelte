<script lang="ts">
	import { page } from '$app/state';
	import ErrorBox from '$ui/components/ErrorBox.svelte';

	const isKnown = $derived(Boolean(page.data.viewer));
	const ways = $derived([
		{ href: '/', label: 'To the front page' },
		{ href: '/plans', label: 'The plans' },
		isKnown ? { href: '/account', label: 'Your account' } : { href: '/sign-in', label: 'Sign in' }
	]);
</script>

<ErrorBox {ways} />
