<script lang="ts">
	import { useWords } from '$ui/words';

	/** A day, or a day and time; the exact instant on hover. */
	let { at, zone, precise = false }: { at: number; zone: string; precise?: boolean } = $props();

	const words = useWords();

	const iso = $derived(new Date(at).toISOString());
</script>

<time datetime={iso} title="{iso} ({zone})" class="whitespace-nowrap"
	>{precise ? words().moment(at, zone) : words().day(at, zone)}</time
>
