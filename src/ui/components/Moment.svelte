<script lang="ts">
	import { formatDay, formatZoned } from '$ui/wording/time';

	/** A day, or a day and time; the exact instant on hover. */
	let { at, zone, precise = false }: { at: number; zone: string; precise?: boolean } = $props();

	const iso = $derived(new Date(at).toISOString());
</script>

<time datetime={iso} title="{iso} ({zone})" class="whitespace-nowrap"
	>{precise ? formatZoned(at, zone) : formatDay(at, zone)}</time
>
