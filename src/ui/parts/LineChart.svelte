<script lang="ts">
	/** Lines over the same steps. */
	import ChartBox from './ChartBox.svelte';
	import { chartOptions, type Drawing } from './drawing';

	let {
		labels,
		lines,
		says,
		isStepped = false
	}: {
		labels: string[];
		/** The first is the one that counts; others stand behind it. */
		lines: { label: string; values: (number | null)[] }[];
		/** In a sentence. */
		says: string;
		isStepped?: boolean;
	} = $props();

	const drawing = $derived<Drawing>((inks) => ({
		type: 'line',
		data: {
			labels,
			datasets: lines.map(({ label, values }, n) => ({
				label,
				data: values,
				borderColor: inks.colour(n === 0 ? '--moss' : '--quiet'),
				borderWidth: n === 0 ? 2 : 1.5,
				borderDash: n === 0 ? [] : [4, 4],
				pointRadius: 0,
				pointHitRadius: 12,
				stepped: isStepped ? ('after' as const) : false
			}))
		},
		options: chartOptions(inks)
	}));
</script>

<ChartBox {drawing} {says} />
