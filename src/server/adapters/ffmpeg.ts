/** Runs ffmpeg: at low priority, never reaching out to other addresses, stopped when its work is. */
import { execFile, spawn, type ChildProcessByStdio, type SpawnOptions } from 'node:child_process';
import { setPriority } from 'node:os';
import type { Readable } from 'node:stream';
import { createInterface } from 'node:readline';
import { promisify } from 'node:util';
import { BrokenMedia, DiskFull } from '../ports/transcoder';

export const run = promisify(execFile);

const LOW_PRIORITY = 10;

/** Only files: a playlist or a script inside a file must not make ffmpeg open other addresses. */
export const ONLY_FILES = ['-nostdin', '-protocol_whitelist', 'file,pipe'];

/** Before an input that somebody brought in: only what holds pictures and sound itself, and nothing that names other files. */
export const ONLY_MEDIA = [
	'-format_whitelist',
	'mov,matroska,avi,mpeg,mpegts,mpegvideo,asf,flv,ogg,wav,w64,mp3,aac,flac,aiff,caf,amr,ac3,m4v,h264,hevc'
];

/** Ends with its parent, however that ends: nobody waits for what it encodes any more (util-linux, a part of every Debian). */
function spawnBound(command: string, args: string[], options: SpawnOptions) {
	const child = spawn('setpriv', ['--pdeathsig', 'KILL', command, ...args], options);
	return child as ChildProcessByStdio<null, Readable, Readable>;
}

/** Runs to the end; gives what was written to the log. `seconds`: length of what is read, for progress. */
export function ffmpeg(
	args: string[],
	seconds: number,
	{ onProgress, signal }: { onProgress: (share: number) => void; signal: AbortSignal }
): Promise<string> {
	return new Promise((resolve, reject) => {
		const child = spawnBound('ffmpeg', ['-hide_banner', '-progress', 'pipe:1', ...ONLY_FILES, ...args], {
			stdio: ['ignore', 'pipe', 'pipe'],
			signal
		});
		if (child.pid) setPriority(child.pid, LOW_PRIORITY);
		let reached = 0;
		createInterface({ input: child.stdout }).on('line', (line) => {
			const micros = /^out_time_us=(\d+)/.exec(line)?.[1];
			if (!micros) return;
			reached = Number(micros) / 1e6;
			onProgress(Math.min(1, reached / seconds));
		});
		let log = '';
		child.stderr.on('data', (chunk: Buffer) => (log = (log + chunk.toString()).slice(-8000)));
		child.on('error', reject);
		child.on('close', (code, killedBy) => {
			// It ends as if all were well when only the last of a file could not be written.
			if (/No space left on device/.test(log)) reject(new DiskFull());
			else if (code === 0) resolve(log);
			else if (killedBy) reject(new Error(`ffmpeg was ended by ${killedBy}`));
			else {
				const at = `${Math.floor(reached / 60)}:${String(Math.floor(reached % 60)).padStart(2, '0')}`;
				reject(
					new BrokenMedia(
						`The file cannot be read past ${at} of its ${Math.round(seconds)} seconds. Export it again and upload the new file.`,
						{ cause: log.slice(-2000) }
					)
				);
			}
		});
	});
}

/** Bytes from ffmpeg's standard output. */
export async function ffmpegOutput(args: string[], maxBytes: number, signal?: AbortSignal): Promise<Buffer> {
	const { stdout } = await run('ffmpeg', ['-v', 'error', ...ONLY_FILES, ...args, 'pipe:1'], {
		encoding: 'buffer',
		maxBuffer: maxBytes,
		timeout: 600_000,
		...(signal ? { signal } : {})
	});
	return stdout;
}

/** The same as it comes, for what is too long to hold. */
export async function* ffmpegStream(args: string[], signal: AbortSignal): AsyncGenerator<Buffer> {
	const child = spawnBound('ffmpeg', ['-v', 'error', ...ONLY_FILES, ...args, 'pipe:1'], {
		stdio: ['ignore', 'pipe', 'ignore'],
		signal
	});
	const ended = new Promise<void>((resolve, reject) => {
		child.on('error', reject);
		child.on('close', (code, killedBy) =>
			code === 0 ? resolve() : reject(new Error(`ffmpeg ended with ${code ?? killedBy}`))
		);
	});
	// Looked at below: until then it is nobody's.
	ended.catch(() => {});
	for await (const chunk of child.stdout) yield chunk as Buffer;
	await ended;
}
