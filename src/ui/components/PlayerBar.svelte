<script lang="ts">
	/** The player's controls: the bar with its chapters and small pictures, and what the way of watching allows beside it. */
	import Captions from '@lucide/svelte/icons/captions';
	import Ellipsis from '@lucide/svelte/icons/ellipsis';
	import Maximize from '@lucide/svelte/icons/maximize';
	import Minimize from '@lucide/svelte/icons/minimize';
	import Pause from '@lucide/svelte/icons/pause';
	import PictureInPicture from '@lucide/svelte/icons/picture-in-picture-2';
	import Play from '@lucide/svelte/icons/play';
	import Volume2 from '@lucide/svelte/icons/volume-2';
	import VolumeX from '@lucide/svelte/icons/volume-x';
	import { untrack } from 'svelte';
	import { clock } from '$core/media/chapters';
	import type { Allowed } from '$core/media/way';
	import type { PlayerState } from '$ui/player.svelte';
	import { useWords } from '$ui/words';

	let {
		player,
		isFull,
		onFull,
		onPicture
	}: { player: PlayerState; isFull: boolean; onFull: () => void; onPicture: () => void } = $props();

	const words = useWords();

	const { media } = untrack(() => player);
	const has = (one: Allowed) => media.way.may.includes(one);
	const canGo = media.way.going !== 'nowhere';
	const isReady = $derived(player.phase === 'playing');
	/** So narrow that what is not needed all the time is folded away. */
	const NARROW_PX = 480;
	let width = $state(0);
	const isFolding = $derived(media.way.resting === 'few' || (width > 0 && width < NARROW_PX));
	let isOpened = $state(false);
	const isUnfolded = $derived(!isFolding || isOpened);
	/** What the pointer is over, in seconds. */
	let hovered = $state<number | null>(null);

	const share = (seconds: number) => `${Math.min(100, (seconds / Math.max(1, player.length)) * 100)}%`;
	const spoken = (seconds: number) =>
		words().say('player.time', { minutes: Math.floor(seconds / 60), seconds: Math.floor(seconds % 60) });
	const chapterAt = (seconds: number) =>
		media.chapters.findLast(({ startSeconds }) => startSeconds <= seconds)?.title ?? null;
	const thumb = $derived.by(() => {
		if (hovered === null || !media.thumbs) return null;
		const { everySeconds, columns, width, height } = media.thumbs;
		const n = Math.floor(hovered / everySeconds);
		return { x: (n % columns) * width, y: Math.floor(n / columns) * height, width, height };
	});

	function onpointermove(event: PointerEvent & { currentTarget: HTMLElement }) {
		const { left, width } = event.currentTarget.getBoundingClientRect();
		hovered = Math.max(0, Math.min(1, (event.clientX - left) / width)) * player.length;
	}
</script>

<div class="bar" bind:clientWidth={width}>
	<div class="track" {onpointermove} onpointerleave={() => (hovered = null)} role="presentation">
		<input
			type="range"
			min="0"
			max={Math.max(1, Math.floor(player.length))}
			step="1"
			value={Math.floor(player.time)}
			disabled={!isReady || !canGo}
			aria-label={words().say('player.place')}
			aria-valuetext="{words().say('player.of', {
				time: spoken(player.time),
				length: spoken(player.length)
			})}{player.chapter ? `, ${player.chapter.title}` : ''}"
			oninput={(event) => player.seek(Number(event.currentTarget.value))}
		/>
		{#if has('chapters')}
			{#each media.chapters as { startSeconds, title } (startSeconds)}
				{#if startSeconds > 0}<span class="mark" style:left={share(startSeconds)} {title}></span>{/if}
			{/each}
		{/if}
		{#if hovered !== null}
			<div class="preview" style:left={share(hovered)} aria-hidden="true">
				{#if thumb && media.thumbs}
					<div
						style:width="{thumb.width}px"
						style:height="{thumb.height}px"
						style:background="url({media.thumbs.address}) -{thumb.x}px -{thumb.y}px"
					></div>
				{/if}
				<span>{clock(Math.floor(hovered))}{chapterAt(hovered) ? ` ${chapterAt(hovered)}` : ''}</span>
			</div>
		{/if}
	</div>
	<div class="row">
		<button type="button" onclick={() => player.toggle()}>
			{#if player.isPlaying}<Pause size={18} /><span class="sr-only">{words().say('player.pause')}</span
				>{:else}<Play size={18} /><span class="sr-only">{words().say('player.play')}</span>{/if}
		</button>
		<span class="time">{clock(Math.floor(player.time))} / {clock(Math.floor(player.length))}</span>
		{#if player.chapter}<span class="chapter">{player.chapter.title}</span>{/if}
		<span class="grow"></span>
		{#if isFolding}
			<button type="button" aria-expanded={isUnfolded} onclick={() => (isOpened = !isOpened)}>
				<Ellipsis size={18} /><span class="sr-only">{words().say('player.more')}</span>
			</button>
		{/if}
		{#if isUnfolded}
			{#if has('volume')}
				<button type="button" aria-pressed={player.isMuted} onclick={() => player.toggleMuted()}>
					{#if player.isMuted}<VolumeX size={18} />{:else}<Volume2 size={18} />{/if}<span class="sr-only"
						>{words().say('player.mute')}</span
					>
				</button>
				<input
					class="volume"
					type="range"
					min="0"
					max="1"
					step="0.05"
					value={player.isMuted ? 0 : player.volume}
					aria-label={words().say('player.volume')}
					oninput={(event) => player.setVolume(Number(event.currentTarget.value))}
				/>
			{/if}
			{#if has('chapters') && canGo && media.chapters.length > 0}
				<select
					aria-label={words().say('player.chapter')}
					disabled={!isReady}
					value={String(player.chapter?.startSeconds ?? '')}
					onchange={(event) => player.seek(Number(event.currentTarget.value))}
				>
					{#each media.chapters as { startSeconds, title } (startSeconds)}
						<option value={String(startSeconds)}>{clock(startSeconds)} {title}</option>
					{/each}
				</select>
			{/if}
			{#if media.way.speeds.length > 1}
				<select
					aria-label={words().say('player.speed')}
					value={String(player.speed)}
					onchange={(event) => player.setSpeed(Number(event.currentTarget.value))}
				>
					{#each media.way.speeds as speed (speed)}<option value={String(speed)}>{speed}×</option>{/each}
				</select>
			{/if}
			{#if has('quality') && player.qualities.length > 1}
				<select
					aria-label={words().say('player.quality')}
					value={String(player.quality)}
					onchange={(event) => player.setQuality(Number(event.currentTarget.value))}
				>
					<option value="-1">{words().say('player.best')}</option>
					{#each player.qualities as height, n (height)}<option value={String(n)}
							>{words().say('player.lines', { height })}</option
						>{/each}
				</select>
			{/if}
			{#if has('captions') && media.captions.length > 0}
				<label class="captions">
					<Captions size={18} />
					<select
						aria-label={words().say('player.captions')}
						value={String(player.caption)}
						onchange={(event) => player.setCaption(Number(event.currentTarget.value))}
					>
						<option value="-1">{words().say('player.no-captions')}</option>
						{#each media.captions as { language, label }, n (language)}<option value={String(n)}
								>{label}</option
							>{/each}
					</select>
				</label>
			{/if}
			{#if has('picture-in-picture') && media.kind === 'video' && !media.overlay}
				<button type="button" disabled={!isReady} onclick={onPicture}
					><PictureInPicture size={18} /><span class="sr-only">{words().say('player.picture')}</span></button
				>
			{/if}
			{#if has('full-screen') && media.kind === 'video'}
				<button type="button" onclick={onFull}>
					{#if isFull}<Minimize size={18} />{:else}<Maximize size={18} />{/if}<span class="sr-only"
						>{words().say(isFull ? 'player.leave-full' : 'player.full')}</span
					>
				</button>
			{/if}
		{/if}
	</div>
</div>

<style>
	.bar {
		display: grid;
		gap: 0.25rem;
		padding: 0.4rem 0.75rem 0.6rem;
		background: #14212b;
	}
	.track {
		position: relative;
	}
	.track input,
	.volume {
		width: 100%;
		accent-color: color-mix(in srgb, var(--accent) 55%, #fff);
	}
	.mark {
		position: absolute;
		top: 50%;
		width: 3px;
		height: 14px;
		translate: -50% -50%;
		background: #f0b429;
		pointer-events: none;
	}
	.preview {
		position: absolute;
		bottom: 100%;
		translate: -50% 0;
		border: 1px solid #c9d3d1;
		background: #0b1116;
		font-size: 0.8rem;
		pointer-events: none;
		z-index: 5;
	}
	.preview span {
		display: block;
		padding: 0.1rem 0.4rem;
		white-space: nowrap;
		font-variant-numeric: tabular-nums;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 0.35rem 0.6rem;
	}
	.row button {
		display: inline-flex;
		min-width: 34px;
		min-height: 34px;
		align-items: center;
		justify-content: center;
		border-radius: 4px;
		cursor: pointer;
	}
	.row button:hover {
		background: rgb(255 255 255 / 0.12);
	}
	.row button:focus-visible,
	.row select:focus-visible,
	input:focus-visible {
		outline: 2px solid #fff;
		outline-offset: 2px;
	}
	.row select {
		max-width: 11rem;
		border: 1px solid #5d6b75;
		border-radius: 4px;
		background: #14212b;
		padding: 0.25rem 0.4rem;
		color: #fff;
		font-size: 0.85rem;
	}
	.volume {
		width: 5rem;
	}
	.time {
		font-variant-numeric: tabular-nums;
		font-size: 0.85rem;
	}
	.chapter {
		overflow: hidden;
		max-width: 16rem;
		text-overflow: ellipsis;
		white-space: nowrap;
		font-size: 0.85rem;
		color: #c9d3d1;
	}
	.captions {
		display: inline-flex;
		align-items: center;
		gap: 0.3rem;
	}
</style>
