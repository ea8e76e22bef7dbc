export interface ProbedVideo {
	seconds: number;
	width: number;
	height: number;
	hasSound: boolean;
}

export type Probe =
	| { ok: true; video: ProbedVideo }
	| { ok: false; code: 'empty' | 'not-a-video' | 'no-picture' | 'no-length' };

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

export interface Transcoder {
	probe(path: string): Promise<Probe>;
	/** Clear fMP4 segments of every variant, in folders below `workFolder`. Progress from 0 to 1. */
	prepare(
		path: string,
		video: ProbedVideo,
		workFolder: string,
		onProgress: (share: number) => void,
		signal: AbortSignal
	): Promise<ClearVariant[]>;
	/** A JPEG of one frame. */
	poster(path: string, atSeconds: number): Promise<Buffer>;
}

/** The file could not be read to its end; `message` is for people. */
export class BrokenVideo extends Error {
	readonly code = 'broken-video';
}
