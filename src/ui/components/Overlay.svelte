<script lang="ts">
	/** What is laid over a picture. What it stands in is measured: it is as high as its share of that. */
	import type { PlayerMedia } from '$ui/player.svelte';

	let { overlay }: { overlay: NonNullable<PlayerMedia['overlay']> } = $props();

	const MOVED_EVERY_MS = 7000;
	let place = $state({ left: 10, top: 12 });

	$effect(() => {
		if (!overlay.isMoving) return;
		const timer = setInterval(
			() => (place = { left: 4 + Math.random() * 60, top: 6 + Math.random() * 78 }),
			MOVED_EVERY_MS
		);
		return () => clearInterval(timer);
	});
</script>

<div
	class="overlay {overlay.isMoving ? 'is-moving' : ''}"
	aria-hidden="true"
	style:left="{overlay.isMoving ? place.left : 50}%"
	style:top="{overlay.isMoving ? place.top : 8}%"
	style:translate={overlay.isMoving ? 'none' : '-50% 0'}
	style:opacity={overlay.opacity / 100}
	style:color={overlay.colour}
	style:font-size="{overlay.size}cqh"
>
	{overlay.text}
</div>

<style>
	.overlay {
		position: absolute;
		pointer-events: none;
		white-space: nowrap;
		font-weight: 600;
		text-shadow: 0 0 3px rgb(0 0 0 / 0.7);
		user-select: none;
	}
	.is-moving {
		transition:
			left 3s linear,
			top 3s linear;
	}
	@media (prefers-reduced-motion: reduce) {
		.is-moving {
			transition: none;
		}
	}
</style>
