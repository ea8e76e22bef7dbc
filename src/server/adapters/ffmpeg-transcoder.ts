import { execFile, spawn } from 'node:child_process';
import { mkdir, readFile, stat } from 'node:fs/promises';
import { setPriority } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { promisify } from 'node:util';
import { SEGMENT_SECONDS } from '$core/media/stream';
import {
	BrokenVideo,
	type ClearVariant,
	type Probe,
	type ProbedVideo,
	type Transcoder
} from '../ports/transcoder';

const run = promisify(execFile);

/** Heights of the two pictures, where the source is not smaller. */
const HEIGHTS = [720, 360] as const;
const POSTER_WIDTH = 960;
const LOW_PRIORITY = 10;

export function ffmpegTranscoder(): Transcoder {
	return { probe, prepare, poster };
}

interface ProbeOutput {
	streams?: {
		codec_type: string;
		width?: number;
		height?: number;
		disposition?: { attached_pic?: number };
	}[];
	format?: { duration?: string; format_name?: string };
}

async function probe(path: string): Promise<Probe> {
	if ((await stat(path)).size === 0) return { ok: false, code: 'empty' };
	// Only files: a playlist or a concat script must not make ffmpeg open other addresses.
	const args = [
		'-v',
		'error',
		'-protocol_whitelist',
		'file',
		'-show_streams',
		'-show_format',
		'-of',
		'json',
		path
	];
	const found = await run('ffprobe', args, { maxBuffer: 1 << 22, timeout: 60_000 }).catch(() => null);
	if (!found) return { ok: false, code: 'not-a-video' };
	const { streams = [], format } = JSON.parse(found.stdout) as ProbeOutput;
	if (/^(?:hls|concat|image2|tty|ffmetadata|dash)|_pipe$/.test(format?.format_name ?? ''))
		return { ok: false, code: 'not-a-video' };
	const picture = streams.find((s) => s.codec_type === 'video' && !s.disposition?.attached_pic);
	const hasSound = streams.some((s) => s.codec_type === 'audio');
	if (!picture?.width || !picture.height) return { ok: false, code: hasSound ? 'no-picture' : 'not-a-video' };
	const seconds = Number(format?.duration);
	if (!(seconds > 0)) return { ok: false, code: 'no-length' };
	return { ok: true, video: { seconds, width: picture.width, height: picture.height, hasSound } };
}

async function prepare(
	path: string,
	video: ProbedVideo,
	workFolder: string,
	onProgress: (share: number) => void,
	signal: AbortSignal
): Promise<ClearVariant[]> {
	const heights = pictureHeights(video.height);
	const pictures = heights.map((height, i) => ({ id: `v${i}`, kind: 'video' as const, height }));
	const args = [
		'-v',
		'error',
		'-xerror',
		'-nostdin',
		'-protocol_whitelist',
		'file',
		'-progress',
		'pipe:1',
		'-i',
		path
	];
	for (const { id, height } of pictures) {
		await mkdir(join(workFolder, id), { recursive: true });
		args.push(...pictureArguments(height), ...segmentArguments(join(workFolder, id)));
	}
	if (video.hasSound) {
		await mkdir(join(workFolder, 'a'), { recursive: true });
		args.push(
			'-map',
			'0:a:0',
			'-c:a',
			'aac',
			'-b:a',
			'128k',
			'-ac',
			'2',
			'-ar',
			'48000',
			...segmentArguments(join(workFolder, 'a'))
		);
	}
	await ffmpeg(args, video.seconds, onProgress, signal);
	const ids = [...pictures, ...(video.hasSound ? [{ id: 'a', kind: 'audio' as const, height: null }] : [])];
	return Promise.all(
		ids.map(async ({ id, kind, height }) => {
			const folder = join(workFolder, id);
			const init = await readFile(join(folder, 'init.mp4'));
			const width = height === null ? null : Math.round((video.width * height) / video.height / 2) * 2;
			return {
				id,
				kind,
				height,
				width,
				folder,
				codecs: kind === 'audio' ? 'mp4a.40.2' : avcCodec(init),
				segmentSeconds: segmentLengths(await readFile(join(folder, 'index.m3u8'), 'utf8'))
			};
		})
	);
}

/** Two heights, never above the source's: a small source gets its own and half of it. */
function pictureHeights(source: number): number[] {
	const even = (n: number) => Math.max(2, Math.floor(n / 2) * 2);
	const [high, low] = HEIGHTS;
	return [even(Math.min(high, source)), even(Math.min(low, source / 2))];
}

function pictureArguments(height: number): string[] {
	return [
		...['-map', '0:v:0', '-vf', `scale=-2:${height}`, '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '23'],
		...['-pix_fmt', 'yuv420p', '-profile:v', 'high', '-sc_threshold', '0', '-flags', '+cgop', '-bf', '2'],
		// Whole groups of pictures, so that every segment stands alone.
		...['-force_key_frames', `expr:gte(t,n_forced*${SEGMENT_SECONDS})`]
	];
}

function segmentArguments(folder: string): string[] {
	return [
		...['-f', 'hls', '-hls_time', String(SEGMENT_SECONDS), '-hls_playlist_type', 'vod'],
		...['-hls_segment_type', 'fmp4', '-hls_fmp4_init_filename', 'init.mp4'],
		...['-hls_segment_filename', join(folder, '%d.m4s'), join(folder, 'index.m3u8')]
	];
}

function ffmpeg(
	args: string[],
	seconds: number,
	onProgress: (share: number) => void,
	signal: AbortSignal
): Promise<void> {
	return new Promise((resolve, reject) => {
		const child = spawn('ffmpeg', args, { stdio: ['ignore', 'pipe', 'pipe'], signal });
		if (child.pid) setPriority(child.pid, LOW_PRIORITY);
		let reached = 0;
		createInterface({ input: child.stdout }).on('line', (line) => {
			const micros = /^out_time_us=(\d+)/.exec(line)?.[1];
			if (!micros) return;
			reached = Number(micros) / 1e6;
			onProgress(Math.min(1, reached / seconds));
		});
		let complaint = '';
		child.stderr.on('data', (chunk: Buffer) => (complaint = (complaint + chunk.toString()).slice(-2000)));
		child.on('error', reject);
		child.on('close', (code, killedBy) => {
			if (code === 0) resolve();
			else if (killedBy) reject(new Error(`ffmpeg was ended by ${killedBy}`));
			else {
				const at = `${Math.floor(reached / 60)}:${String(Math.floor(reached % 60)).padStart(2, '0')}`;
				reject(
					new BrokenVideo(
						`The file cannot be read past ${at} of its ${Math.round(seconds)} seconds. Export it again and upload the new file.`,
						{ cause: complaint }
					)
				);
			}
		});
	});
}

async function poster(path: string, atSeconds: number): Promise<Buffer> {
	const args = [
		'-v',
		'error',
		'-nostdin',
		'-protocol_whitelist',
		'file,pipe',
		'-ss',
		atSeconds.toFixed(2),
		'-i',
		path
	];
	args.push(
		'-frames:v',
		'1',
		'-vf',
		`scale='min(${POSTER_WIDTH},iw)':-2`,
		'-q:v',
		'4',
		'-f',
		'mjpeg',
		'pipe:1'
	);
	const { stdout } = await run('ffmpeg', args, { encoding: 'buffer', maxBuffer: 1 << 24, timeout: 60_000 });
	return stdout;
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
