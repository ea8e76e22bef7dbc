import { mkdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Chapter } from '$core/media/chapters';
import { inOrder } from '$core/media/chapters';
import type { MediaFacts } from '$core/media/facts';
import { SEGMENT_SECONDS } from '$core/media/stream';
import type { ClearVariant, MediaShape, Probe, Transcoder, Work } from '../ports/transcoder';
import { ONLY_MEDIA, ffmpeg, ffmpegOutput, ffmpegStream, run } from './ffmpeg';

/** Heights of the pictures, where the source is not smaller. */
const HEIGHTS = [1080, 720, 360] as const;
const POSTER_WIDTH = 960;
const THUMB_WIDTH = 160;
const THUMB_COLUMNS = 10;
const MOST_THUMBS = 200;
const PEAKS = 400;
const PEAK_RATE = 8000;
const MOST_PICTURE_BYTES = 1 << 25;

export function ffmpegTranscoder(): Transcoder {
	return { probe, prepare, feedSound, poster, thumbs, loudness, peaks };
}

interface ProbeOutput {
	streams?: {
		codec_type: string;
		codec_name?: string;
		width?: number;
		height?: number;
		disposition?: { attached_pic?: number };
		side_data_list?: { rotation?: number }[];
	}[];
	format?: { duration?: string; format_name?: string; bit_rate?: string };
	chapters?: { start_time?: string; tags?: { title?: string } }[];
}

async function probe(path: string): Promise<Probe> {
	if ((await stat(path)).size === 0) return { ok: false, code: 'empty' };
	const wanted = ['-show_streams', '-show_format', '-show_chapters', '-of', 'json'];
	const args = ['-v', 'error', '-protocol_whitelist', 'file', ...ONLY_MEDIA, ...wanted, path];
	const found = await run('ffprobe', args, { maxBuffer: 1 << 22, timeout: 60_000 }).catch(() => null);
	if (!found) return { ok: false, code: 'no-media' };
	const { streams = [], format, chapters = [] } = JSON.parse(found.stdout) as ProbeOutput;
	const container = format?.format_name ?? '';
	// Scripts that name other files, and single pictures, are neither films nor recordings.
	if (/^(?:hls|concat|image2|tty|ffmetadata|dash|webvtt|srt|ass)|_pipe$/.test(container))
		return { ok: false, code: 'no-media' };
	const picture = streams.find((s) => s.codec_type === 'video' && !s.disposition?.attached_pic);
	const sound = streams.find((s) => s.codec_type === 'audio');
	const hasPicture = Boolean(picture?.width && picture.height);
	if (!hasPicture && !sound) return { ok: false, code: 'no-media' };
	const seconds = Number(format?.duration);
	if (!(seconds > 0)) return { ok: false, code: 'no-length' };
	// A film that was taken upright is stored lying, with a note that turns it.
	const isTurned = Math.abs(picture?.side_data_list?.find((one) => one.rotation)?.rotation ?? 0) % 180 === 90;
	const [width, height] = isTurned ? [picture?.height, picture?.width] : [picture?.width, picture?.height];
	const facts: MediaFacts = {
		container,
		codecs: [picture, sound].flatMap((stream) => stream?.codec_name ?? []),
		...(format?.bit_rate ? { bitsPerSecond: Number(format.bit_rate) } : {})
	};
	return {
		ok: true,
		media: {
			seconds,
			width: hasPicture ? (width ?? 0) : 0,
			height: hasPicture ? (height ?? 0) : 0,
			hasPicture,
			hasSound: sound !== undefined,
			facts,
			chapters: chaptersOf(chapters)
		}
	};
}

function chaptersOf(found: NonNullable<ProbeOutput['chapters']>): Chapter[] {
	const read = inOrder(
		found.map(({ start_time: start, tags }) => ({ startSeconds: Number(start), title: tags?.title ?? '' }))
	);
	return read.ok ? read.chapters : [];
}

async function prepare(
	path: string,
	shape: MediaShape,
	workFolder: string,
	gainDb: number,
	work: Work
): Promise<ClearVariant[]> {
	const heights = shape.hasPicture ? pictureHeights(shape.height) : [];
	const pictures = heights.map((height, i) => ({ id: `v${i}`, kind: 'video' as const, height }));
	const sounds = shape.hasSound ? [{ id: 'a', kind: 'audio' as const, height: null }] : [];
	const args = ['-v', 'error', '-xerror', ...ONLY_MEDIA, '-i', path];
	for (const { id } of [...pictures, ...sounds]) await mkdir(join(workFolder, id), { recursive: true });
	for (const { id, height } of pictures)
		args.push(...pictureArguments(height), ...segmentArguments(join(workFolder, id)));
	if (shape.hasSound) args.push(...soundArguments(gainDb), ...segmentArguments(join(workFolder, 'a')));
	await ffmpeg(args, shape.seconds, work);
	return Promise.all(
		[...pictures, ...sounds].map(async ({ id, kind, height }) => {
			const folder = join(workFolder, id);
			const init = await readFile(join(folder, 'init.mp4'));
			const width = height === null ? null : Math.round((shape.width * height) / shape.height / 2) * 2;
			const codecs = kind === 'audio' ? 'mp4a.40.2' : avcCodec(init);
			const segmentSeconds = segmentLengths(await readFile(join(folder, 'index.m3u8'), 'utf8'));
			return { id, kind, height, width, folder, codecs, segmentSeconds };
		})
	);
}

/** From the source down, never above it; a small source gets its own height and half of it. */
export function pictureHeights(source: number): number[] {
	const even = (n: number) => Math.max(2, Math.floor(n / 2) * 2);
	const fitting = HEIGHTS.filter((height) => height <= source);
	const [first, second] = fitting;
	if (first === undefined) return [even(source), even(source / 2)];
	return second === undefined ? [first, even(first / 2)] : fitting;
}

function pictureArguments(height: number): string[] {
	return [
		...['-map', '0:v:0', '-vf', `scale=-2:${height}`, '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '23'],
		...['-pix_fmt', 'yuv420p', '-profile:v', 'high', '-sc_threshold', '0', '-flags', '+cgop', '-bf', '2'],
		// Whole groups of pictures, so that every segment stands alone.
		...['-force_key_frames', `expr:gte(t,n_forced*${SEGMENT_SECONDS})`]
	];
}

function soundArguments(gainDb: number): string[] {
	return ['-map', '0:a:0', ...levelled(gainDb), '-c:a', 'aac', '-b:a', '128k', '-ac', '2', '-ar', '48000'];
}

/** Louder by so much, and no peak above -1 dB. */
function levelled(gainDb: number): string[] {
	return gainDb === 0 ? [] : ['-af', `volume=${gainDb.toFixed(2)}dB,alimiter=limit=0.89:level=false`];
}

function segmentArguments(folder: string): string[] {
	return [
		...['-f', 'hls', '-hls_time', String(SEGMENT_SECONDS), '-hls_playlist_type', 'vod'],
		...['-hls_segment_type', 'fmp4', '-hls_fmp4_init_filename', 'init.mp4'],
		...['-hls_segment_filename', join(folder, '%d.m4s'), join(folder, 'index.m3u8')]
	];
}

async function feedSound(
	path: string,
	to: string,
	{ title, chapters, seconds }: { title: string; chapters: readonly Chapter[]; seconds: number },
	gainDb: number,
	work: Work
): Promise<void> {
	const notes = `${to}.txt`;
	await writeFile(notes, ffmetadata(title, chapters, seconds));
	const inputs = ['-v', 'error', '-xerror', ...ONLY_MEDIA, '-i', path, '-f', 'ffmetadata', '-i', notes];
	const mapping = ['-map', '0:a:0', '-map_metadata', '1', '-map_chapters', '1'];
	const encoding = [...levelled(gainDb), '-c:a', 'libmp3lame', '-b:a', '128k', '-ac', '2', '-ar', '44100'];
	await ffmpeg(
		[...inputs, ...mapping, ...encoding, '-id3v2_version', '3', '-f', 'mp3', '-y', to],
		seconds,
		work
	);
	await rm(notes);
}

function ffmetadata(title: string, chapters: readonly Chapter[], seconds: number): string {
	const escaped = (text: string) => text.replace(/[=;#\\\n]/g, (c) => `\\${c}`);
	const blocks = chapters.map(({ startSeconds, title: name }, n) => {
		const end = chapters[n + 1]?.startSeconds ?? seconds;
		return `[CHAPTER]\nTIMEBASE=1/1000\nSTART=${Math.round(startSeconds * 1000)}\nEND=${Math.round(end * 1000)}\ntitle=${escaped(name)}\n`;
	});
	return `;FFMETADATA1\ntitle=${escaped(title)}\n${blocks.join('')}`;
}

async function poster(path: string, atSeconds: number): Promise<Buffer> {
	const scale = `scale='min(${POSTER_WIDTH},iw)':-2`;
	return ffmpegOutput(
		[
			'-ss',
			atSeconds.toFixed(2),
			...ONLY_MEDIA,
			'-i',
			path,
			'-frames:v',
			'1',
			'-vf',
			scale,
			'-q:v',
			'4',
			'-f',
			'mjpeg'
		],
		1 << 24
	);
}

async function thumbs(path: string, shape: MediaShape, signal: AbortSignal) {
	const everySeconds = Math.max(2, Math.ceil(shape.seconds / MOST_THUMBS));
	const count = Math.max(1, Math.ceil(shape.seconds / everySeconds));
	const height = Math.max(2, Math.round((THUMB_WIDTH * shape.height) / shape.width / 2) * 2);
	const columns = Math.min(THUMB_COLUMNS, count);
	const rows = Math.ceil(count / columns);
	const filter = `fps=1/${everySeconds}:round=up,scale=${THUMB_WIDTH}:${height},tile=${columns}x${rows}`;
	const sheet = await ffmpegOutput(
		// Only whole pictures are read: ten times as quick, and near enough.
		[
			'-skip_frame',
			'nokey',
			...ONLY_MEDIA,
			'-i',
			path,
			'-frames:v',
			'1',
			'-vf',
			filter,
			'-q:v',
			'6',
			'-f',
			'mjpeg'
		],
		MOST_PICTURE_BYTES,
		signal
	);
	return { sheet, facts: { everySeconds, columns, count, width: THUMB_WIDTH, height } };
}

async function loudness(path: string, signal: AbortSignal): Promise<MediaFacts['loudness'] | null> {
	const log = await ffmpeg(
		[
			'-v',
			'info',
			...ONLY_MEDIA,
			'-i',
			path,
			'-map',
			'0:a:0',
			'-af',
			'ebur128=peak=true:framelog=verbose',
			'-f',
			'null',
			'-'
		],
		1,
		{ onProgress: () => {}, signal }
	);
	const summary = log.slice(log.lastIndexOf('Summary:'));
	const integrated = Number(/I:\s*(-?[\d.]+) LUFS/.exec(summary)?.[1]);
	const peak = Number(/Peak:\s*(-?[\d.]+) dBFS/.exec(summary)?.[1]);
	// Silence has no loudness: it is given as -70.
	if (!Number.isFinite(integrated) || integrated <= -70) return null;
	return { integrated, peak: Number.isFinite(peak) ? peak : 0 };
}

async function peaks(path: string, seconds: number, signal: AbortSignal): Promise<number[]> {
	const heights = new Array<number>(PEAKS).fill(0);
	const share = Math.max(1, (seconds * PEAK_RATE) / PEAKS);
	let n = 0;
	let half: number | null = null;
	for await (const chunk of ffmpegStream(
		[...ONLY_MEDIA, '-i', path, '-map', '0:a:0', '-ac', '1', '-ar', String(PEAK_RATE), '-f', 's16le'],
		signal
	)) {
		const bytes: Buffer = half === null ? chunk : Buffer.concat([Buffer.from([half]), chunk]);
		half = bytes.length % 2 === 1 ? (bytes.at(-1) ?? 0) : null;
		for (let at = 0; at + 1 < bytes.length; at += 2, n++) {
			const slot = Math.min(PEAKS - 1, Math.floor(n / share));
			heights[slot] = Math.max(heights[slot] ?? 0, Math.abs(bytes.readInt16LE(at)));
		}
	}
	return heights.map((height) => Math.round((height / 32_768) * 1000) / 1000);
}

/** RFC 6381: `avc1.` and profile, constraints and level from the configuration record (ISO/IEC 14496-15 §5.3.3). */
function avcCodec(init: Buffer): string {
	const at = init.indexOf('avcC');
	if (at < 0) throw new Error('The prepared picture has no AVC configuration');
	return `avc1.${init.subarray(at + 5, at + 8).toString('hex')}`;
}

function segmentLengths(playlist: string): number[] {
	return [...playlist.matchAll(/^#EXTINF:([\d.]+)/gm)].map(([, seconds]) => Number(seconds));
}
