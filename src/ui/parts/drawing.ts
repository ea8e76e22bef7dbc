/** How a chart is drawn in the colours and letters of the theme. */
import type { ChartConfiguration, ChartOptions } from 'chart.js';

export interface Inks {
	/** By the name of the theme's variable, such as `--moss`. */
	colour: (name: string) => string;
	font: { family: string };
}

export type Drawing = (inks: Inks) => ChartConfiguration;

export function chartOptions({ colour, font }: Inks, isStacked = false): ChartOptions {
	const [quiet, line] = [colour('--quiet'), colour('--line')];
	return {
		animation: false,
		responsive: true,
		maintainAspectRatio: false,
		plugins: { legend: { display: false } },
		scales: {
			x: {
				stacked: isStacked,
				ticks: { color: quiet, font, maxTicksLimit: isStacked ? 12 : 5, maxRotation: 0 },
				grid: { display: false },
				border: { color: line }
			},
			y: {
				stacked: isStacked,
				beginAtZero: true,
				ticks: { color: quiet, font, precision: 0, maxTicksLimit: 5 },
				grid: { color: line },
				border: { display: false }
			}
		}
	};
}
