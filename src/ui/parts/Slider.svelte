<script lang="ts">
	import { Slider } from 'bits-ui';

	/** A place on a line, dragged or moved by the arrow keys. */
	let {
		label,
		value,
		min,
		max,
		step = 1,
		says,
		onMove
	}: {
		label: string;
		value: number;
		min: number;
		max: number;
		step?: number;
		/** The place, in words. */
		says: string;
		onMove: (value: number) => void;
	} = $props();

	/** Where the line ends between two steps, its last place is the end itself. */
	const places = $derived.by(() => {
		const count = Math.floor((max - min) / step);
		const all = Array.from({ length: count + 1 }, (_, n) => min + n * step);
		return all.at(-1) === max ? all : [...all, max];
	});
	/** The place that is nearest to what is said, so that one moves from there. */
	const nearest = $derived(
		places[Math.min(places.length - 1, Math.max(0, Math.round((value - min) / step)))] ?? min
	);

	/** A tenth of the line. */
	function onkeydown(event: KeyboardEvent) {
		const direction = event.key === 'PageUp' ? 1 : event.key === 'PageDown' ? -1 : 0;
		if (direction === 0) return;
		event.preventDefault();
		const at = places.indexOf(nearest) + direction * Math.max(1, Math.round(places.length / 10));
		onMove(places[Math.min(places.length - 1, Math.max(0, at))] ?? nearest);
	}
</script>

<Slider.Root
	type="single"
	class="slider"
	{min}
	{max}
	step={places}
	bind:value={() => nearest, (to) => onMove(to)}
>
	<span class="slider-line"><Slider.Range class="slider-range" /></span>
	<Slider.Thumb index={0} {onkeydown} class="slider-thumb" aria-label={label} aria-valuetext={says} />
</Slider.Root>
