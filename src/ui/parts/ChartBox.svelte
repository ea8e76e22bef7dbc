<script lang="ts">
	import type { Chart } from 'chart.js';
	import type { Drawing } from './drawing';

	/** A chart in the theme's colours, drawn again where those change; whoever cannot see it is told what it says. */
	let { drawing, says }: { drawing: Drawing; says: string } = $props();

	let canvas = $state<HTMLCanvasElement | null>(null);

	$effect(() => {
		const node = canvas;
		const how = drawing;
		if (!node) return;
		let chart: Chart | null = null;
		let isGone = false;
		let Kind: typeof Chart | null = null;
		const dark = matchMedia('(prefers-color-scheme: dark)');
		const again = () => {
			if (!Kind) return;
			chart?.destroy();
			const style = getComputedStyle(node);
			chart = new Kind(
				node,
				how({
					colour: (name) => style.getPropertyValue(name).trim(),
					font: { family: style.fontFamily }
				})
			);
		};
		void import('chart.js').then((kit) => {
			if (isGone) return;
			kit.Chart.register(
				...[kit.LineController, kit.LineElement, kit.PointElement, kit.BarController, kit.BarElement],
				...[kit.LinearScale, kit.CategoryScale, kit.Tooltip]
			);
			Kind = kit.Chart;
			again();
		});
		dark.addEventListener('change', again);
		return () => {
			isGone = true;
			dark.removeEventListener('change', again);
			chart?.destroy();
		};
	});
</script>

<div class="relative mt-2 h-40" role="img" aria-label={says}>
	<canvas bind:this={canvas} aria-hidden="true"></canvas>
</div>
