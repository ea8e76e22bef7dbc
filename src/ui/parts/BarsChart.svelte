<script lang="ts">
	/** Bars that stand on each other over the same steps; what takes away hangs below the line. */
	import ChartBox from './ChartBox.svelte';
	import { chartOptions, type Drawing } from './drawing';

	let {
		labels,
		bars,
		says
	}: {
		labels: string[];
		/** From the line outward. `ink`: the theme's colour. */
		bars: { label: string; ink: string; values: number[] }[];
		/** In a sentence. */
		says: string;
	} = $props();

	const drawing = $derived<Drawing>((inks) => ({
		type: 'bar',
		data: {
			labels,
			datasets: bars.map(({ label, ink, values }) => ({
				label,
				data: values,
				backgroundColor: inks.colour(ink),
				maxBarThickness: 36
			}))
		},
		options: chartOptions(inks, true)
	}));
</script>

<ChartBox {drawing} {says} />
