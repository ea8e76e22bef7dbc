<script lang="ts">
	/** What viewers see of a way of watching while it is set up: the player's own bar under a picture, not to be pressed. */
	import { untrack } from 'svelte';
	import { readWay, USUAL_WAY, type WayOfWatching } from '$core/media/way';
	import { PlayerState } from '$ui/player.svelte';
	import { wayWords } from '$ui/wording/way';
	import PlayerBar from './PlayerBar.svelte';

	let { way }: { /** As it stands in the form. */ way: Record<keyof WayOfWatching, unknown> } = $props();

	/** Of a film that nobody has. */
	const FILM = {
		itemId: '',
		kind: 'video' as const,
		title: '',
		stream: '',
		poster: null,
		captions: [{ language: 'en', label: 'English', address: '' }],
		chapters: [
			{ startSeconds: 0, title: 'Why clocks tick' },
			{ startSeconds: 170, title: 'The escapement' },
			{ startSeconds: 380, title: 'The pendulum' }
		],
		thumbs: null,
		peaks: null,
		seconds: 540,
		position: 200,
		keepsPosition: false,
		overlay: null
	};

	const read = $derived(readWay(way) ?? USUAL_WAY);
	const key = $derived(JSON.stringify(read));

	function shown(): PlayerState {
		const player = new PlayerState({ ...FILM, way: untrack(() => read) });
		player.phase = 'playing';
		player.time = FILM.position;
		player.isMuted = read.startsMuted;
		player.qualities = [720, 480];
		return player;
	}
	const nothing = () => {};
</script>

<figure>
	<div class="overflow-hidden rounded-sheet bg-[#0b1116] text-white" inert>
		<div class="h-20"></div>
		<div class={read.resting === 'none' ? 'opacity-45' : ''} style:--accent={read.accent ?? 'var(--moss)'}>
			{#key key}<PlayerBar player={shown()} isFull={false} onFull={nothing} onPicture={nothing} />{/key}
		</div>
	</div>
	<figcaption class="mt-1 text-sm text-quiet">
		How it looks: {wayWords(read)}{read.resting === 'none' ? ' until they move, press a key or touch' : ''}.
	</figcaption>
</figure>
