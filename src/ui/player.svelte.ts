/**
 * What a player knows and does, without how it looks. The stream library is loaded only when somebody presses play; at the
 * first refusal of a key or a segment, or when the server says that access has ended, the picture goes dark.
 */
import type Hls from 'hls.js';
import type { Chapter } from '$core/media/chapters';
import { maySeek, type WayOfWatching } from '$core/media/way';
import { watchStream } from './watching';

export interface PlayerMedia {
	itemId: string;
	kind: 'video' | 'audio';
	title: string;
	/** Address of the master playlist. */
	stream: string;
	poster: string | null;
	captions: { language: string; label: string; address: string }[];
	chapters: Chapter[];
	/** A sheet of small pictures for the bar. */
	thumbs: { address: string; everySeconds: number; columns: number; width: number; height: number } | null;
	peaks: number[] | null;
	seconds: number;
	/** Where the member was; 0 for the beginning. */
	position: number;
	/** Whether the position is kept. */
	keepsPosition: boolean;
	way: WayOfWatching;
	overlay: { text: string; isMoving: boolean; size: number; opacity: number; colour: string } | null;
}

export type Phase = 'idle' | 'loading' | 'playing' | Dark;
/** Why nothing is shown any more. `replaced`: the item shows something else, or nothing. */
type Dark = 'ended-access' | 'replaced' | 'failed';

/** What was fetched ahead is all that somebody whose access ends may still see. */
const AHEAD_SECONDS = 8;
const SAVED_EVERY_MS = 10_000;
const LOST_AGAIN_MS = 3000;
/** Asked too fast: it comes by itself a little later. */
const TOO_FAST = 429;
/** The picture may have gone on since it was looked at. */
const SLACK_SECONDS = 1;
/** So near the end, or so early, there is nothing to come back to. */
const EDGE_SECONDS = 5;

const SPEED_KEY = 'stile-speed';

/** The speed that was last chosen on this device, where the way of watching has it. */
function keptSpeed(speeds: readonly number[]): number {
	try {
		const kept = Number(globalThis.localStorage?.getItem(SPEED_KEY));
		return speeds.includes(kept) ? kept : 1;
	} catch {
		return 1;
	}
}

export class PlayerState {
	phase = $state<Phase>('idle');
	isPlaying = $state(false);
	isWaiting = $state(false);
	/** No connection at the moment: the place is kept, and it goes on by itself. */
	isLost = $state(false);
	time = $state(0);
	length = $state(0);
	buffered = $state(0);
	volume = $state(1);
	isMuted = $state(false);
	speed = $state(1);
	/** Index in `media.captions`; -1 for none. */
	caption = $state(-1);
	/** Heights of the pictures, and the one chosen; -1 leaves it to the connection. */
	qualities = $state<number[]>([]);
	quality = $state(-1);
	/** How far somebody has been: where one may only go back, nobody goes past it. */
	reached = $state(0);

	private hls: Hls | null = null;
	private endWatch: (() => void) | null = null;
	private savedAt = 0;
	private again: ReturnType<typeof setTimeout> | null = null;
	private video: HTMLVideoElement | null = null;

	constructor(readonly media: PlayerMedia) {
		this.length = media.seconds;
		this.reached = media.position;
		this.isMuted = media.way.startsMuted;
		this.speed = keptSpeed(media.way.speeds);
	}

	get chapter(): Chapter | null {
		return this.media.chapters.findLast(({ startSeconds }) => startSeconds <= this.time) ?? null;
	}

	attach(video: HTMLVideoElement): () => void {
		this.video = video;
		video.muted = this.isMuted;
		// A new source would begin at the usual speed.
		video.defaultPlaybackRate = this.speed;
		video.playbackRate = this.speed;
		const on = (name: string, run: () => void) => video.addEventListener(name, run);
		on('play', () => (this.isPlaying = true));
		on('pause', () => {
			this.isPlaying = false;
			this.save();
		});
		on('waiting', () => (this.isWaiting = true));
		on('playing', () => (this.isWaiting = false));
		on('volumechange', () => {
			this.volume = video.volume;
			this.isMuted = video.muted;
		});
		on('ratechange', () => {
			// Only what the way of watching allows, whoever sets it.
			if (!this.media.way.speeds.includes(video.playbackRate)) video.playbackRate = this.speed;
			this.speed = video.playbackRate;
		});
		on('durationchange', () => {
			if (Number.isFinite(video.duration)) this.length = video.duration;
		});
		on('seeking', () => {
			if (!maySeek(this.media.way.going, video.currentTime, this.reached, SLACK_SECONDS))
				video.currentTime = this.reached;
		});
		on('timeupdate', () => {
			this.time = video.currentTime;
			if (!video.seeking)
				this.reached =
					this.media.way.going === 'nowhere' ? video.currentTime : Math.max(this.reached, video.currentTime);
			this.buffered = video.buffered.length > 0 ? video.buffered.end(video.buffered.length - 1) : 0;
			if (this.isPlaying && Date.now() - this.savedAt > SAVED_EVERY_MS) this.save();
		});
		on('ended', () => this.save());
		return () => {
			this.save();
			this.end();
			this.video = null;
		};
	}

	async play(): Promise<void> {
		const { video } = this;
		if (!video || this.phase === 'loading') return;
		if (this.phase === 'playing') {
			await video.play().catch(() => {});
			return;
		}
		this.phase = 'loading';
		const { default: Library } = await import('hls.js');
		// The page was left meanwhile.
		if (this.video !== video) return;
		// This comes first: a browser that plays such streams by itself would go around all of this.
		if (!Library.isSupported()) {
			this.phase = 'failed';
			return;
		}
		const hls = new Library({
			maxBufferLength: AHEAD_SECONDS,
			maxMaxBufferLength: AHEAD_SECONDS,
			backBufferLength: 0,
			startPosition: this.media.position > 0 ? this.media.position : -1
		});
		this.hls = hls;
		hls.on(Library.Events.MANIFEST_PARSED, () => {
			this.qualities = hls.levels.map(({ height }) => height).filter((height) => height > 0);
		});
		hls.on(Library.Events.ERROR, (_event, data) => {
			const status = data.response?.code;
			// Only a decision says that access has ended; everything else is a connection that is lost for a while.
			if (status === 401 || status === 403) this.goDark('ended-access');
			else if (status === 404) this.goDark('replaced');
			else if (data.type === Library.ErrorTypes.NETWORK_ERROR && status !== TOO_FAST)
				this.lose(hls, data.fatal);
			else if (data.fatal) this.goDark('failed');
		});
		hls.on(Library.Events.FRAG_LOADED, () => (this.isLost = false));
		hls.loadSource(this.media.stream);
		hls.attachMedia(video);
		this.endWatch = watchStream(this.media.stream, (heard) =>
			this.goDark(heard === 'revoked' ? 'ended-access' : 'replaced')
		);
		this.phase = 'playing';
		// A browser that wants another press leaves the button there.
		await video.play().catch(() => {});
	}

	toggle(): void {
		if (this.phase !== 'playing' || !this.isPlaying) void this.play();
		else this.video?.pause();
	}

	seek(to: number): void {
		if (!this.video || this.phase !== 'playing') return;
		const within = Math.min(Math.max(0, to), Math.max(0, this.length - 0.1));
		const { going } = this.media.way;
		this.video.currentTime = maySeek(going, within, this.reached) ? within : this.reached;
		this.time = this.video.currentTime;
	}

	/** Shows a moment, and begins to play for it where it does not yet. */
	async show(to: number): Promise<void> {
		if (this.phase !== 'playing') await this.play();
		this.seek(to);
	}

	toChapter(direction: 1 | -1): void {
		const { chapters } = this.media;
		const next =
			direction === 1
				? chapters.find(({ startSeconds }) => startSeconds > this.time)
				: chapters.findLast(({ startSeconds }) => startSeconds < this.time - 2);
		if (next) this.seek(next.startSeconds);
		else if (direction === -1) this.seek(0);
	}

	setVolume(volume: number): void {
		if (!this.video) return;
		this.video.volume = Math.min(1, Math.max(0, volume));
		this.video.muted = volume <= 0;
	}

	toggleMuted(): void {
		if (this.video) this.video.muted = !this.video.muted;
	}

	setSpeed(speed: number): void {
		this.speed = speed;
		if (this.video) {
			this.video.defaultPlaybackRate = speed;
			this.video.playbackRate = speed;
		}
		try {
			localStorage.setItem(SPEED_KEY, String(speed));
		} catch {
			// A browser that keeps nothing plays all the same.
		}
	}

	setCaption(index: number): void {
		this.caption = index;
		const tracks = this.video?.textTracks;
		for (let n = 0; n < (tracks?.length ?? 0); n++) {
			const track = tracks?.[n];
			if (track) track.mode = n === index ? 'showing' : 'hidden';
		}
	}

	setQuality(index: number): void {
		this.quality = index;
		if (this.hls) this.hls.currentLevel = index;
	}

	/** The place is kept, and it goes on by itself when there is a connection again. */
	private lose(hls: Hls, isFatal: boolean): void {
		this.isLost = true;
		if (!isFatal || this.again) return;
		this.again = setTimeout(() => {
			this.again = null;
			// A manifest that never came is asked for anew; otherwise loading goes on where it was.
			if (hls.levels.length === 0) hls.loadSource(this.media.stream);
			else hls.startLoad();
		}, LOST_AGAIN_MS);
	}

	private goDark(why: Dark): void {
		if (why !== 'ended-access') this.save();
		this.end();
		this.phase = why;
	}

	private end(): void {
		if (this.again) clearTimeout(this.again);
		this.again = null;
		this.isLost = false;
		this.endWatch?.();
		this.endWatch = null;
		this.hls?.destroy();
		this.hls = null;
		this.isPlaying = false;
		this.video?.removeAttribute('src');
		this.video?.load();
	}

	/** Keeps where somebody is, for any of their devices. It goes on when the page is left. */
	private save(): void {
		if (!this.media.keepsPosition || this.phase !== 'playing') return;
		this.savedAt = Date.now();
		const isAtEdge = this.time < EDGE_SECONDS || this.time > this.length - EDGE_SECONDS;
		const seconds = isAtEdge ? 0 : Math.floor(this.time);
		void fetch('/account/position', {
			method: 'POST',
			keepalive: true,
			headers: { 'content-type': 'application/json' },
			body: JSON.stringify({ item: this.media.itemId, seconds })
		}).catch(() => {});
	}
}
