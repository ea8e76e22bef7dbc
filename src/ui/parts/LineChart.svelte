<script lang="ts">
	/** Lines over the same steps, drawn in the theme's colours; whoever cannot see it is told what it says. */
	import type { Chart } from 'chart.js';

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

	let canvas = $state<HTMLCanvasElement | null>(null);

	/** Colours are the theme's: drawn again where it changes. */
	function draw(node: HTMLCanvasElement, Line: typeof Chart): Chart {
		const colour = (name: string) => getComputedStyle(node).getPropertyValue(name).trim();
		const [moss, quiet, line] = [colour('--moss'), colour('--quiet'), colour('--line')];
		const font = { family: getComputedStyle(node).fontFamily };
		return new Line(node, {
			type: 'line',
			data: {
				labels,
				datasets: lines.map(({ label, values }, n) => ({
					label,
					data: values,
					borderColor: n === 0 ? moss : quiet,
					borderWidth: n === 0 ? 2 : 1.5,
					borderDash: n === 0 ? [] : [4, 4],
					pointRadius: 0,
					pointHitRadius: 12,
					stepped: isStepped ? ('after' as const) : false
				}))
			},
			options: {
				animation: false,
				responsive: true,
				maintainAspectRatio: false,
				plugins: { legend: { display: false } },
				scales: {
					x: {
						ticks: { color: quiet, font, maxTicksLimit: 5, maxRotation: 0 },
						grid: { display: false },
						border: { color: line }
					},
					y: {
						beginAtZero: true,
						ticks: { color: quiet, font, precision: 0, maxTicksLimit: 5 },
						grid: { color: line },
						border: { display: false }
					}
				}
			}
		});
	}

	$effect(() => {
		const node = canvas;
		if (!node) return;
		let chart: Chart | null = null;
		let isGone = false;
		const dark = matchMedia('(prefers-color-scheme: dark)');
		const again = () => {
			if (!Line) return;
			chart?.destroy();
			chart = draw(node, Line);
		};
		let Line: typeof Chart | null = null;
		void import('chart.js').then(
			({ Chart, LineController, LineElement, PointElement, LinearScale, CategoryScale, Tooltip }) => {
				if (isGone) return;
				Chart.register(LineController, LineElement, PointElement, LinearScale, CategoryScale, Tooltip);
				Line = Chart;
				again();
			}
		);
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
