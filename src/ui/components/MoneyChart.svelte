<script lang="ts">
	/** Money of this month beside the last, of one currency: two lines, and the same as a table. */
	import { formatMoney, plainAmount } from '$core/billing/money';
	import type { MonthsBeside } from '$core/measure/months-beside';
	import Fold from '$ui/parts/Fold.svelte';
	import LineChart from '$ui/parts/LineChart.svelte';

	let { money }: { money: MonthsBeside & { currency: string } } = $props();

	const say = (minor: number) => formatMoney({ minor, currency: money.currency });
	const value = (minor: number | null) =>
		minor === null ? null : Number(plainAmount({ minor, currency: money.currency }));
</script>

<p class="mt-1">
	<strong class="text-2xl">{say(money.thisMinor)}</strong>
	<span class="text-quiet">by now; {say(money.lastByNowMinor)} by the same day of last month</span>
</p>
<LineChart
	labels={money.days.map(({ day }) => String(day))}
	lines={[
		{ label: 'This month', values: money.days.map(({ thisMinor }) => value(thisMinor)) },
		{ label: 'Last month', values: money.days.map(({ lastMinor }) => value(lastMinor)) }
	]}
	says="What came in by each day of the month, less what went back: {say(
		money.thisMinor
	)} this month by now, {say(money.lastMinor)} in all of the last"
/>
<div class="mt-2">
	<Fold label="As a table">
		<p class="text-sm text-quiet">
			What came in by the end of each day of the month, less refunds and what banks have taken.
		</p>
		<div class="max-h-60 overflow-y-auto">
			<table class="w-full text-sm tabular-nums">
				<thead
					><tr
						><th class="text-left font-medium">Day</th><th class="text-right font-medium">This month</th><th
							class="text-right font-medium">Last month</th
						></tr
					></thead
				>
				<tbody>
					{#each money.days as { day, thisMinor, lastMinor } (day)}
						<tr class="border-t border-line">
							<td class="py-1">{day}</td>
							<td class="py-1 text-right">{thisMinor === null ? '' : say(thisMinor)}</td>
							<td class="py-1 text-right">{lastMinor === null ? '' : say(lastMinor)}</td>
						</tr>
					{/each}
				</tbody>
			</table>
		</div>
	</Fold>
</div>
