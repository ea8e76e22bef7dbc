<script lang="ts">
	/** How many members held a plan, week by week: a line, and the same as a table. */
	import type { Chart } from 'chart.js';
	import Fold from '$ui/parts/Fold.svelte';
	import { formatDay } from '$ui/wording/time';

	let { held, zone }: { held: { at: number; count: number }[]; zone: string } = $props();

	let canvas = $state<HTMLCanvasElement | null>(null);
	const last = $derived(held.at(-1)?.count ?? 0);
	const first = $derived(held[0]?.count ?? 0);
	const change = $derived(
		last === first
			? 'as many as a year ago'
			: `${Math.abs(last - first)} ${last > first ? 'more' : 'fewer'} than a year ago`
	);

	/** Colours are the theme's: drawn again where it changes. */
	function draw(node: HTMLCanvasElement, Line: typeof Chart): Chart {
		const colour = (name: string) => getComputedStyle(node).getPropertyValue(name).trim();
		const [moss, quiet, line] = [colour('--moss'), colour('--quiet'), colour('--line')];
		const font = { family: getComputedStyle(node).fontFamily };
		return new Line(node, {
			type: 'line',
			data: {
				labels: held.map(({ at }) => formatDay(at, zone)),
				datasets: [
					{
						data: held.map(({ count }) => count),
						borderColor: moss,
						borderWidth: 2,
						pointRadius: 0,
						pointHitRadius: 12,
						stepped: 'after'
					}
				]
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

<p class="mt-1">
	<strong class="text-2xl">{last}</strong> <span class="text-quiet">hold a plan, {change}</span>
</p>
<div
	class="relative mt-2 h-40"
	role="img"
	aria-label="Members who held a plan, week by week over a year: {first} then, {last} now"
>
	<canvas bind:this={canvas} aria-hidden="true"></canvas>
</div>
<div class="mt-2">
	<Fold label="As a table">
		<div class="max-h-60 overflow-y-auto">
			<table class="w-full text-sm tabular-nums">
				<thead
					><tr
						><th class="text-left font-medium">Week</th><th class="text-right font-medium">Hold a plan</th
						></tr
					></thead
				>
				<tbody>
					{#each held.toReversed() as { at, count } (at)}
						<tr class="border-t border-line"
							><td class="py-1">{formatDay(at, zone)}</td><td class="py-1 text-right">{count}</td></tr
						>
					{/each}
				</tbody>
			</table>
		</div>
	</Fold>
</div>
