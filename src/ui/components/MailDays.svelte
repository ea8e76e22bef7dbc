<script lang="ts">
	/** Mails of each of the last days as posts on a line; what came back hangs below it. */
	import type { MailDay } from '$core/mail/by-day';

	let { days, zone }: { days: readonly MailDay[]; zone: string } = $props();

	const UP = 56;
	const DOWN = 18;
	const STEP = 24;
	const LEAST = 2;

	const most = $derived(Math.max(1, ...days.map(({ sent, back }) => sent + back)));
	const tall = (count: number, room: number) => (count === 0 ? 0 : Math.max(LEAST, (count / most) * room));
	const day = $derived(new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', timeZone: zone }));
	const said = $derived(
		days.map(
			({ at, sent, back }) =>
				`${day.format(at)}: ${sent + back} mails${back > 0 ? `, ${back} came back` : ''}`
		)
	);
</script>

<figure class="min-w-0">
	<svg
		class="h-auto w-full text-moss"
		viewBox="0 0 {days.length * STEP} {UP + DOWN + 2}"
		role="img"
		aria-label="Mails of the last {days.length} days. {said.join('; ')}"
	>
		<path d="M0 {UP + 1}H{days.length * STEP}" stroke="var(--ink)" stroke-width="1.5" />
		{#each days as { at, sent, back }, n (at)}
			<g>
				<title>{said[n]}</title>
				<rect x={n * STEP} y="0" width={STEP} height={UP + DOWN} fill="transparent" />
				<rect
					x={n * STEP + 7}
					y={UP - tall(sent + back, UP - 4)}
					width="9"
					height={tall(sent + back, UP - 4)}
					fill="currentColor"
				/>
				<rect
					x={n * STEP + 7}
					y={UP + 3}
					width="9"
					height={Math.min(DOWN, tall(back, UP))}
					fill="var(--brick)"
				/>
			</g>
		{/each}
	</svg>
	<figcaption class="flex justify-between text-sm text-quiet">
		<span>{day.format(days[0]?.at ?? 0)}</span><span>today</span>
	</figcaption>
</figure>
