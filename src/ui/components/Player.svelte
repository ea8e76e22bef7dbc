<script lang="ts">
	/**
	 * Plays a stream. The stream library is loaded only when somebody presses play; at the first refusal of a key or a
	 * segment the picture goes dark.
	 */
	import Play from '@lucide/svelte/icons/play';

	let { stream, poster, title }: { stream: string; poster: string | null; title: string } = $props();

	/** What was fetched ahead is all that somebody whose access ends may still see. */
	const AHEAD_SECONDS = 8;

	let video = $state() as HTMLVideoElement;
	let phase = $state<'idle' | 'loading' | 'playing' | 'ended-access' | 'failed'>('idle');
	let end = () => {};

	async function play() {
		phase = 'loading';
		const { default: Hls } = await import('hls.js');
		if (!Hls.isSupported()) {
			phase = 'failed';
			return;
		}
		const hls = new Hls({
			maxBufferLength: AHEAD_SECONDS,
			maxMaxBufferLength: AHEAD_SECONDS,
			backBufferLength: 0
		});
		end = () => {
			hls.destroy();
			video.removeAttribute('src');
			video.load();
		};
		hls.on(Hls.Events.ERROR, (_event, data) => {
			const status = data.response?.code;
			if (status === 401 || status === 403) goDark('ended-access');
			else if (data.fatal) goDark('failed');
		});
		hls.loadSource(stream);
		hls.attachMedia(video);
		phase = 'playing';
		// A browser that wants another press shows its own controls.
		await video.play().catch(() => {});
	}

	function goDark(why: 'ended-access' | 'failed') {
		end();
		phase = why;
	}

	$effect(() => () => end());
</script>

<div class="relative aspect-video overflow-hidden rounded-sheet bg-black" data-state={phase}>
	<video
		bind:this={video}
		class="h-full w-full {phase === 'ended-access' || phase === 'failed' ? 'hidden' : ''}"
		poster={poster ?? undefined}
		controls={phase === 'playing'}
		controlslist="nodownload noremoteplayback"
		disablepictureinpicture
		disableremoteplayback
		playsinline
		preload="none"
		aria-label={title}
	></video>
	{#if phase === 'idle' || phase === 'loading'}
		<button
			class="absolute inset-0 grid cursor-pointer place-items-center bg-black/25 text-white disabled:cursor-wait"
			onclick={play}
			disabled={phase === 'loading'}
		>
			<span class="inline-flex items-center gap-2 rounded-sheet bg-black/75 px-5 py-3 font-medium">
				<Play size={20} />{phase === 'loading' ? 'Loading' : 'Play'}
			</span>
		</button>
	{:else if phase === 'ended-access'}
		<div class="grid h-full place-content-center gap-3 p-6 text-center text-white" role="alert">
			<p>Your access to this video has ended, or this device was signed out.</p>
			<button class="button-quiet justify-self-center" onclick={() => location.reload()}
				>See what opens it</button
			>
		</div>
	{:else if phase === 'failed'}
		<div class="grid h-full place-content-center gap-3 p-6 text-center text-white" role="alert">
			<p>The video stopped loading. Check the connection, then load the page again.</p>
			<button class="button-quiet justify-self-center" onclick={() => location.reload()}>Load again</button>
		</div>
	{/if}
	<noscript>
		<p class="absolute inset-x-0 bottom-0 bg-black/80 p-3 text-white">
			Playing a protected video needs JavaScript.
		</p>
	</noscript>
</div>
