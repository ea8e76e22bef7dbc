<script lang="ts">
	import { page } from '$app/state';
	import ErrorBox from '$ui/components/ErrorBox.svelte';
	import { useWords } from '$ui/words';

	const words = useWords();
	const isKnown = $derived(Boolean(page.data.viewer));
	const ways = $derived([
		{ href: '/', label: words().say('error.to-front') },
		{ href: '/plans', label: words().say('error.to-plans') },
		isKnown
			? { href: '/account', label: words().say('site.account') }
			: { href: '/sign-in', label: words().say('site.sign-in') }
	]);
</script>

<ErrorBox {ways} />
