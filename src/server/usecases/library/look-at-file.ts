/** Reads from a file what it is: its first bytes, its streams, its pages. */
import { open, stat } from 'node:fs/promises';
import { Worker } from 'node:worker_threads';
import { fileTypeFromFile } from 'file-type';
import { kindOfFile, type FileKind } from '$core/media/kind-of-file';
import type { MediaFacts } from '$core/media/facts';
import type { App } from '../../app';
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
const MOST_PAGES_BYTES = 256 * 1024 ** 2;
const PAGES_MEMORY_MB = 512;

export async function lookAtFile(app: App, path: string, name: string): Promise<LookedAt> {
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
	const pages = file.mediaType === 'application/pdf' ? await pagesOf(path, bytes) : null;
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
 * Pages of a PDF, counted apart: a file that is made to unfold into gigabytes ends its own worker and nothing else.
 * `null` where they cannot be told.
 */
async function pagesOf(path: string, bytes: number): Promise<number | null> {
	if (bytes > MOST_PAGES_BYTES) return null;
	const code = `
		const { parentPort, workerData } = require('node:worker_threads');
		const { readFileSync } = require('node:fs');
		const { PDFDocument } = require(workerData.library);
		PDFDocument.load(readFileSync(workerData.path), { ignoreEncryption: true, updateMetadata: false })
			.then((pdf) => parentPort.postMessage(pdf.getPageCount()));`;
	const library = import.meta
		.resolve('pdf-lib')
		.replace('file://', '')
		.replace('/es/index.js', '/cjs/index.js');
	const worker = new Worker(code, {
		eval: true,
		workerData: { path, library },
		resourceLimits: { maxOldGenerationSizeMb: PAGES_MEMORY_MB }
	});
	const before = process.memoryUsage().arrayBuffers;
	return new Promise((resolve) => {
		const end = (pages: number | null) => {
			clearTimeout(timer);
			clearInterval(watch);
			void worker.terminate();
			resolve(pages);
		};
		const timer = setTimeout(() => end(null), PAGES_WITHIN_MS);
		const watch = setInterval(() => {
			const more = process.memoryUsage().arrayBuffers - before;
			if (more > bytes * 2 + PAGES_MEMORY_MB * 1024 ** 2) end(null);
		}, 100);
		worker.on('message', (pages: number) => end(Number.isSafeInteger(pages) ? pages : null));
		worker.on('error', () => end(null));
		worker.on('exit', () => end(null));
	});
}
