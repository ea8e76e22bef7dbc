<script lang="ts">
	import Sides from '$ui/components/Sides.svelte';

	let { children } = $props();

	const SIDES = [
		['Payments', '/desk/sales'],
		['Subscriptions and instalments', '/desk/sales/agreements'],
		['Orders', '/desk/sales/orders'],
		['Tax by country', '/desk/sales/tax']
	] as const;
</script>

<Sides label="Sides of Sales" sides={SIDES} />
{@render children()}
