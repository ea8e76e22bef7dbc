<script lang="ts">
	/** Plays a film or recording, with controls of its own: see `player.svelte.ts` for what it does. */
	import Play from '@lucide/svelte/icons/play';
	import { untrack } from 'svelte';
	import { PlayerState, type PlayerMedia } from '$ui/player.svelte';
	import Overlay from './Overlay.svelte';
	import PlayerBar from './PlayerBar.svelte';
	import type { Allowed } from '$core/media/way';
	import { useWords } from '$ui/words';

	let {
		media,
		onMade = () => {}
	}: {
		media: PlayerMedia;
		/** Told of what it knows and does, for what stands beside it. */
		onMade?: (player: PlayerState) => void;
	} = $props();

	const words = useWords();

	const player = untrack(() => new PlayerState(media));
	let video = $state() as HTMLVideoElement;
	let frame = $state() as HTMLDivElement;
	let isFull = $state(false);

	const SEEK_SECONDS = 5;
	const VOLUME_STEP = 0.1;

	/** The controls lie over the picture, and go while it plays. */
	const isBare = untrack(() => media.way.resting === 'none' && media.kind === 'video');
	const AWAKE_MS = 3000;
	let isAwake = $state(true);
	let sleeping: ReturnType<typeof setTimeout> | undefined;
	let touchedAsleep = false;
	const isHiding = $derived(isBare && player.isPlaying && !isAwake);

	const isDark = $derived(['ended-access', 'replaced', 'failed'].includes(player.phase));
	const has = (one: Allowed) => media.way.may.includes(one);
	const canGo = untrack(() => media.way.going !== 'nowhere');

	// What it reads while it begins must not make it begin again: muting would end the film.
	$effect(() => {
		const element = video;
		return untrack(() => {
			onMade(player);
			return player.attach(element);
		});
	});

	/** The frame as a whole takes the player's keys, wherever in it the focus is. */
	$effect(() => {
		frame.tabIndex = 0;
		frame.addEventListener('keydown', onkeydown);
		if (!isBare) return () => frame.removeEventListener('keydown', onkeydown);
		const wakes = ['pointermove', 'keydown', 'focusin'] as const;
		for (const name of wakes) frame.addEventListener(name, wake);
		frame.addEventListener('pointerdown', touch);
		return () => {
			clearTimeout(sleeping);
			frame.removeEventListener('keydown', onkeydown);
			for (const name of wakes) frame.removeEventListener(name, wake);
			frame.removeEventListener('pointerdown', touch);
		};
	});

	function wake() {
		isAwake = true;
		clearTimeout(sleeping);
		sleeping = setTimeout(() => (isAwake = false), AWAKE_MS);
	}

	/** A finger asks for the controls first. */
	function touch({ pointerType }: PointerEvent) {
		touchedAsleep = pointerType === 'touch' && isHiding;
		wake();
	}

	/** The frame goes full, never the picture alone: what is laid over it stays. */
	function toggleFull() {
		if (document.fullscreenElement) void document.exitFullscreen();
		else void frame.requestFullscreen().catch(() => {});
	}

	function onfullscreenchange() {
		isFull = document.fullscreenElement === frame;
		if (document.fullscreenElement === video)
			void document.exitFullscreen().then(() => frame.requestFullscreen().catch(() => {}));
	}

	function onkeydown(event: KeyboardEvent) {
		if (event.ctrlKey || event.metaKey || event.altKey || isDark) return;
		const target = event.target as HTMLElement;
		const isOnControl = /^(?:INPUT|SELECT|BUTTON|A)$/.test(target.tagName);
		const run = actionOf(event.key, isOnControl);
		if (!run) return;
		event.preventDefault();
		run();
	}

	function actionOf(key: string, isOnControl: boolean): (() => void) | null {
		switch (key) {
			case ' ':
				return isOnControl ? null : () => player.toggle();
			case 'ArrowLeft':
				return isOnControl || !canGo ? null : () => player.seek(player.time - SEEK_SECONDS);
			case 'ArrowRight':
				return isOnControl || !canGo ? null : () => player.seek(player.time + SEEK_SECONDS);
			case 'ArrowUp':
				return isOnControl || !has('volume') ? null : () => player.setVolume(player.volume + VOLUME_STEP);
			case 'ArrowDown':
				return isOnControl || !has('volume') ? null : () => player.setVolume(player.volume - VOLUME_STEP);
			case 'PageUp':
				return has('chapters') && canGo ? () => player.toChapter(-1) : null;
			case 'PageDown':
				return has('chapters') && canGo ? () => player.toChapter(1) : null;
			case 'm':
				return has('volume') ? () => player.toggleMuted() : null;
			case 'c':
				return has('captions') && media.captions.length > 0
					? () => player.setCaption(player.caption === -1 ? 0 : -1)
					: null;
			case 'f':
				return has('full-screen') ? toggleFull : null;
			default:
				return null;
		}
	}
</script>

<svelte:document {onfullscreenchange} />

<div
	bind:this={frame}
	class="player {media.kind === 'audio' ? 'is-sound' : ''} {isFull ? 'is-full' : ''} {isBare
		? 'is-bare'
		: ''} {isHiding ? 'is-hiding' : ''}"
	style:--accent={media.way.accent ?? 'var(--moss)'}
	data-state={player.phase}
	role="group"
	aria-label={words().say('player.label', { title: media.title })}
>
	<div class="picture">
		<video
			bind:this={video}
			class={isDark ? 'hidden' : ''}
			poster={media.poster ?? undefined}
			controlslist="nodownload nofullscreen noremoteplayback"
			disablepictureinpicture={media.overlay !== null || !has('picture-in-picture')}
			disableremoteplayback
			playsinline
			preload="none"
			aria-label={media.title}
			onclick={({ detail }) => {
				// The second press of a double one does not take the first back.
				if (detail < 2 && !touchedAsleep) player.toggle();
			}}
		>
			{#each media.captions as { language, label, address } (language)}
				<track kind="captions" src={address} srclang={language} {label} />
			{/each}
		</video>
		{#if media.kind === 'audio' && !isDark}
			<div class="wave" aria-hidden="true">
				{#each media.peaks ?? [] as height, n (n)}
					<span
						style:height="{Math.max(2, height * 100)}%"
						class={n / (media.peaks?.length ?? 1) <= player.time / player.length ? 'is-past' : ''}
					></span>
				{/each}
			</div>
		{/if}
		{#if media.overlay && !isDark}
			<Overlay overlay={media.overlay} />
		{/if}
		{#if player.phase === 'idle' || player.phase === 'loading'}
			<button class="begin" onclick={() => player.toggle()} disabled={player.phase === 'loading'}>
				<span
					><Play size={20} />{words().say(
						player.phase === 'loading'
							? 'player.loading'
							: media.position > 0
								? 'player.go-on'
								: 'player.play'
					)}</span
				>
			</button>
		{:else if player.phase === 'ended-access'}
			<div class="message" role="alert">
				<p>
					{words().say(media.kind === 'audio' ? 'player.ended-audio' : 'player.ended-video')}
				</p>
				<button class="button-quiet justify-self-center" onclick={() => location.reload()}
					>{words().say('player.see-what-opens')}</button
				>
			</div>
		{:else if player.phase === 'replaced'}
			<div class="message" role="alert">
				<p>{words().say('player.replaced')}</p>
				<button class="button-quiet justify-self-center" onclick={() => location.reload()}
					>{words().say('player.load-now')}</button
				>
			</div>
		{:else if player.phase === 'failed'}
			<div class="message" role="alert">
				<p>{words().say('player.stopped')}</p>
				<button class="button-quiet justify-self-center" onclick={() => location.reload()}
					>{words().say('player.load-again')}</button
				>
			</div>
		{:else if player.isLost}<p class="waiting" role="status">
				{words().say('player.lost')}
			</p>
		{:else if player.isWaiting}<p class="waiting" role="status">{words().say('player.loading')}</p>{/if}
	</div>
	{#if !isDark}<div class="controls">
			<PlayerBar
				{player}
				{isFull}
				onFull={toggleFull}
				onPicture={() => void video.requestPictureInPicture?.()}
			/>
		</div>{/if}
	<noscript><p class="p-3 text-white">{words().say('player.needs-script')}</p></noscript>
</div>

<style>
	.player {
		display: grid;
		overflow: hidden;
		border-radius: var(--radius-sheet, 4px);
		background: #0b1116;
		color: #fff;
	}
	.player:focus-visible {
		outline: 3px solid var(--accent);
		outline-offset: 2px;
	}
	.picture {
		position: relative;
		aspect-ratio: 16 / 9;
		container-type: size;
		overflow: hidden;
	}
	.is-sound .picture {
		aspect-ratio: 5 / 1;
		min-height: 6rem;
	}
	.is-bare {
		position: relative;
	}
	.is-bare .controls {
		position: absolute;
		right: 0;
		bottom: 0;
		left: 0;
		z-index: 1;
		transition: opacity 140ms;
	}
	.is-hiding {
		cursor: none;
	}
	.is-hiding .controls:not(:has(:focus-visible)) {
		opacity: 0;
		pointer-events: none;
	}
	.is-full {
		height: 100%;
		grid-template-rows: 1fr auto;
		border-radius: 0;
	}
	.is-full .picture {
		aspect-ratio: auto;
	}
	video {
		width: 100%;
		height: 100%;
	}
	.is-sound video {
		position: absolute;
		inset: 0;
		opacity: 0;
	}
	.wave {
		display: flex;
		height: 100%;
		align-items: center;
		gap: 1px;
		padding: 0.75rem;
		pointer-events: none;
	}
	.wave span {
		flex: 1;
		background: #6b7d89;
	}
	.wave .is-past {
		background: #fff;
	}
	.begin {
		position: absolute;
		inset: 0;
		display: grid;
		place-items: center;
		background: rgb(0 0 0 / 0.25);
		cursor: pointer;
	}
	.begin:disabled {
		cursor: wait;
	}
	.begin span {
		display: inline-flex;
		align-items: center;
		gap: 0.5rem;
		border-radius: var(--radius-sheet, 4px);
		background: rgb(0 0 0 / 0.78);
		padding: 0.75rem 1.25rem;
		font-weight: 500;
	}
	.message {
		display: grid;
		height: 100%;
		place-content: center;
		gap: 0.75rem;
		padding: 1.5rem;
		text-align: center;
	}
	.waiting {
		position: absolute;
		right: 0.75rem;
		top: 0.5rem;
		background: rgb(0 0 0 / 0.7);
		padding: 0.1rem 0.5rem;
		font-size: 0.8rem;
	}
</style>
