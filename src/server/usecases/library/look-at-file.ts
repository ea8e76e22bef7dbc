/** Reads from a file what it is: its first bytes, its streams, its pages. */
import { execFile } from 'node:child_process';
import { open, stat } from 'node:fs/promises';
import { promisify } from 'node:util';
import { fileTypeFromFile } from 'file-type';
import { kindOfFile, type FileKind } from '$core/media/kind-of-file';
import type { MediaFacts } from '$core/media/facts';
import type { Using } from '../../app';
import type { ProbedMedia } from '../../ports/transcoder';

export type LookedAt =
	| {
			ok: true;
			bytes: number;
			file: Extract<FileKind, { ok: true }>;
			media: ProbedMedia | null;
			facts: MediaFacts;
	  }
	| { ok: false; problem: Exclude<FileKind, { ok: true }> | { code: 'no-length' } };

const HEAD_BYTES = 4096;
const PAGES_WITHIN_MS = 20_000;
const PAGES_MEMORY_KB = 1024 ** 2;

const run = promisify(execFile);

export async function lookAtFile(app: Using<'transcoder'>, path: string, name: string): Promise<LookedAt> {
	const { size: bytes } = await stat(path);
	const type = bytes === 0 ? undefined : await fileTypeFromFile(path).catch(() => undefined);
	const detected = type ? { extension: type.ext, mediaType: type.mime } : null;
	const isDocument = detected !== null && !/^(?:video|audio)\//.test(detected.mediaType);
	const isText = detected === null && (await readsAsText(path));
	// What is surely a document or words is not given to ffmpeg, which finds pictures in much.
	const probe = bytes === 0 || isDocument || isText ? null : await app.transcoder.probe(path);
	if (probe && !probe.ok && probe.code === 'no-length') return { ok: false, problem: { code: 'no-length' } };
	const media = probe?.ok ? probe.media : null;
	const file = kindOfFile(name, { detected, isText, media, bytes });
	if (!file.ok) return { ok: false, problem: file };
	const pages = file.mediaType === 'application/pdf' ? await pagesOf(path) : null;
	return { ok: true, bytes, file, media, facts: { ...media?.facts, ...(pages === null ? {} : { pages }) } };
}

/** UTF-8 without control characters, as far as the beginning goes. */
async function readsAsText(path: string): Promise<boolean> {
	const file = await open(path, 'r');
	try {
		const { bytesRead, buffer } = await file.read(Buffer.alloc(HEAD_BYTES), 0, HEAD_BYTES, 0);
		if (bytesRead === 0) return false;
		// A character may be cut in two at the end: up to three bytes of it are left out.
		for (const cut of [0, 1, 2, 3]) {
			const head = buffer.subarray(0, Math.max(0, bytesRead - cut));
			try {
				const text = new TextDecoder('utf-8', { fatal: true }).decode(head);
				// eslint-disable-next-line no-control-regex -- control characters are what is looked for
				return !/[\u0000-\u0008\u000e-\u001f]/.test(text);
			} catch {
				continue;
			}
		}
		return false;
	} finally {
		await file.close();
	}
}

/**
 * Pages of a PDF, counted by poppler in a process of its own: a file that is made to unfold into gigabytes ends that process
 * and nothing else. `null` where they cannot be told.
 */
async function pagesOf(path: string): Promise<number | null> {
	const bounded = `ulimit -v ${PAGES_MEMORY_KB}; exec pdfinfo -- "$1"`;
	const { stdout } = await run('sh', ['-c', bounded, 'sh', path], {
		timeout: PAGES_WITHIN_MS,
		maxBuffer: 1 << 20
	}).catch(() => ({ stdout: '' }));
	const pages = /^Pages:\s+(\d+)$/m.exec(stdout)?.[1];
	return pages === undefined ? null : Number(pages);
}
