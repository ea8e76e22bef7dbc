import type { Chapter } from '$core/media/chapters';
import type { MediaFacts } from '$core/media/facts';

/** What a film or recording is made of, read from its content. */
export interface ProbedMedia {
	seconds: number;
	/** 0 where there is no picture. */
	width: number;
	height: number;
	hasPicture: boolean;
	hasSound: boolean;
	facts: MediaFacts;
	chapters: Chapter[];
}

export type Probe =
	{ ok: true; media: ProbedMedia } | { ok: false; code: 'empty' | 'no-media' | 'no-length' };

export type MediaShape = Pick<ProbedMedia, 'seconds' | 'width' | 'height' | 'hasPicture' | 'hasSound'>;

export interface ClearVariant {
	id: string;
	kind: 'video' | 'audio';
	codecs: string;
	width: number | null;
	height: number | null;
	/** Folder with `init.mp4` and `0.m4s`, `1.m4s` … */
	folder: string;
	segmentSeconds: number[];
}

export interface Work {
	onProgress: (share: number) => void;
	signal: AbortSignal;
}

export interface Transcoder {
	probe(path: string): Promise<Probe>;
	/** Clear fMP4 segments of every variant, in folders below `workFolder`. `gainDb` is added to the sound. */
	prepare(
		path: string,
		shape: MediaShape,
		workFolder: string,
		gainDb: number,
		work: Work
	): Promise<ClearVariant[]>;
	/** An MP3 for feeds, with chapters and a title. */
	feedSound(
		path: string,
		to: string,
		tags: { title: string; chapters: readonly Chapter[]; seconds: number },
		gainDb: number,
		work: Work
	): Promise<void>;
	/** A JPEG of one frame. */
	poster(path: string, atSeconds: number): Promise<Buffer>;
	/** A sheet of small pictures, left to right and top to bottom. */
	thumbs(
		path: string,
		shape: MediaShape,
		signal: AbortSignal
	): Promise<{ sheet: Buffer; facts: NonNullable<MediaFacts['thumbs']> }>;
	/** EBU R 128; `null` where nothing is heard. */
	loudness(path: string, signal: AbortSignal): Promise<MediaFacts['loudness'] | null>;
	/** Heights of the sound's peaks, 0 to 1, evenly over its length. */
	peaks(path: string, seconds: number, signal: AbortSignal): Promise<number[]>;
}

/** The file could not be read to its end; `message` is for people. */
export class BrokenMedia extends Error {
	readonly code = 'broken-media';
}

export class DiskFull extends Error {
	readonly code = 'disk-full';

	constructor() {
		super('The disk of the server is full. Make room, then run it again.');
	}
}
