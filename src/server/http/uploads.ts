/** Resumable uploads of the Desk (tus 1.0): staff only, into a folder of their own until they are complete. */
import type { IncomingMessage, ServerResponse } from 'node:http';
import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { FileStore } from '@tus/file-store';
import { Server, type Upload } from '@tus/server';
import { cleanFileName } from '$core/media/file-name';
import type { App, Using } from '../app';
import { saveCover } from '../usecases/library/edit-media';
import { receiveFile } from '../usecases/library/receive-file';
import { askedBefore } from '../people/need';
import { shelfOf } from '../usecases/library/shelves';
import { arrivalWords } from '../usecases/library/arrival-words';
import { hashOf } from '../people/sessions';
import { cookieValue, sessionCookie } from './cookies';

const COVER_PROBLEMS = {
	unknown: 'The item that this picture is for does not exist any more.',
	'no-picture': 'This cannot be read as a picture. Choose a JPEG, PNG or WebP file.'
};

export const UPLOAD_PATH = '/desk/uploads';

/** The database and the logs need room, too. */
const ROOM_KEPT_BYTES = 64 * 1024 ** 2;
const FULL_BYTES = 1024 ** 2;
/** A whole file that nobody has received for so long was left. */
const LEFT_AFTER_MS = 30_000;
/** An upload that nobody goes on with is forgotten after so long. */
const UNFINISHED_KEPT_MS = 7 * 24 * 3_600_000;

function uploadStore(app: Using<'settings'>): FileStore {
	return new FileStore({
		directory: join(app.settings.storageFolder, 'uploads'),
		expirationPeriodInMilliseconds: UNFINISHED_KEPT_MS
	});
}

/** Removes uploads that were begun long ago and never came to their end. */
export async function forgetUnfinished(app: App): Promise<void> {
	await uploadStore(app).deleteExpired();
}

/** An upload that was begun and is not whole. */
export interface Unfinished {
	id: string;
	name: string;
	bytes: number;
	sent: number;
	/** When something of it came last, by the wall clock. */
	at: number;
}

/** What has come to of late is on its way in some window. */
const STILL_COMING_MS = 60_000;
const UNFINISHED_SHOWN = 20;

/** What somebody has begun to send, and nobody is sending now; the latest first. */
export async function unfinishedUploads(
	app: Using<'clock' | 'settings'>,
	actorId: string
): Promise<Unfinished[]> {
	const directory = join(app.settings.storageFolder, 'uploads');
	const found: Unfinished[] = [];
	const store = uploadStore(app);
	for (const name of await readdir(directory).catch(() => [])) {
		const id = /^([\w-]+)\.json$/.exec(name)?.[1];
		const upload = id === undefined ? null : await store.getUpload(id).catch(() => null);
		const { actor, filename } = upload?.metadata ?? {};
		if (id === undefined || !upload?.size || actor !== actorId || upload.offset >= upload.size) continue;
		const at = (await stat(join(directory, id)).catch(() => null))?.mtimeMs;
		if (at === undefined || app.clock.wall() - at < STILL_COMING_MS) continue;
		found.push({ id, name: cleanFileName(filename ?? ''), bytes: upload.size, sent: upload.offset, at });
	}
	return found.sort((a, b) => b.at - a.at).slice(0, UNFINISHED_SHOWN);
}

export interface Uploads {
	handle(req: IncomingMessage, res: ServerResponse): Promise<void>;
	/** Receives what came whole and was not received: the database was away, or the process ended. Gives their number. */
	receiveLeft(): Promise<number>;
}

export function createUploads(app: App): Uploads {
	const directory = join(app.settings.storageFolder, 'uploads');
	const limit = app.settings.uploadLimitBytes;
	const datastore = uploadStore(app);

	async function staffOf(req: Request): Promise<string | null> {
		const token = cookieValue(req.headers.get('cookie') ?? undefined, sessionCookie(app));
		const accountId = token === null ? null : await app.rights.sessionAccount(hashOf(token));
		const standing = accountId === null ? null : await app.rights.standing(accountId);
		return standing?.permissions.has('library') ? standing.viewer.id : null;
	}

	/** Being received at this moment. */
	const underWay = new Set<string>();

	type ReceivedUpload = { ok: true; itemId: string | null } | { ok: false; words: string };

	async function receive(upload: Upload, actorId: string): Promise<ReceivedUpload> {
		const actor = askedBefore(actorId, 'library');
		const path = upload.storage?.path ?? join(directory, upload.id);
		const { filename, folder, home, replaces, cover } = upload.metadata ?? {};
		if (cover) {
			const saved = await saveCover(app, actor, cover, path);
			await forget(upload.id);
			return saved.ok ? { ok: true, itemId: null } : { ok: false, words: COVER_PROBLEMS[saved.code] };
		}
		const homeId = await shelfOf(app, actor, home || null, folder ?? '');
		const received = await receiveFile(app, actor, {
			path,
			name: filename ?? '',
			homeId,
			replaces: replaces || null
		});
		await forget(upload.id);
		return received.ok
			? { ok: true, itemId: received.itemId }
			: { ok: false, words: arrivalWords(received.problem) };
	}

	async function forget(id: string): Promise<void> {
		await rm(join(directory, id), { force: true });
		await rm(join(directory, `${id}.json`), { force: true });
	}

	async function receiveLeft(): Promise<number> {
		let count = 0;
		for (const name of await readdir(directory).catch(() => [])) {
			const id = /^([\w-]+)\.json$/.exec(name)?.[1];
			if (!id || underWay.has(id)) continue;
			const upload = await datastore.getUpload(id).catch(() => null);
			const stats = await stat(join(directory, id)).catch(() => null);
			const actor = upload?.metadata?.actor;
			if (!upload || !stats || !actor) continue;
			const isWhole = upload.size === stats.size && stats.size > 0;
			// What has just come is being received by whoever sent it.
			if (!isWhole || app.clock.wall() - stats.mtimeMs < LEFT_AFTER_MS) continue;
			underWay.add(id);
			try {
				const received = await receive(upload, actor);
				app.log.info({ upload: id, received: received.ok }, 'an upload that was left was received');
				count++;
			} catch (error) {
				app.log.warn({ err: error, upload: id }, 'an upload that was left could not be received');
			} finally {
				underWay.delete(id);
			}
		}
		return count;
	}

	const server = new Server({
		path: UPLOAD_PATH,
		datastore,
		relativeLocation: true,
		maxSize: limit,
		disableTerminationForFinishedUploads: true,
		async onIncomingRequest(req) {
			if (!(await staffOf(req))) throw answer(403, 'Sign in at the Desk to upload files.');
		},
		async onUploadCreate(req, upload) {
			if (upload.size === 0) throw answer(422, arrivalWords({ code: 'empty' }));
			const free = await app.storage.freeBytes();
			if ((upload.size ?? 0) + ROOM_KEPT_BYTES > free) throw answer(507, noRoomFor(upload.size ?? 0, free));
			// Whose it is, for whoever receives it later.
			return { metadata: { ...upload.metadata, actor: await staffOf(req) } };
		},
		async onUploadFinish(req, upload) {
			const actor = await staffOf(req);
			if (!actor) throw answer(403, 'Sign in at the Desk to upload files.');
			if (underWay.has(upload.id)) throw answer(409, 'This is being received already.');
			underWay.add(upload.id);
			try {
				const received = await receive(upload, actor);
				if (!received.ok) throw answer(422, received.words);
				return received.itemId === null ? {} : { headers: { 'Stile-Item': received.itemId } };
			} finally {
				underWay.delete(upload.id);
			}
		},
		async onResponseError(_req, error) {
			if ('status_code' in error && error.status_code === 413) return answer(413, tooLarge(limit));
			// Why a write failed is not told: the disk itself says whether it is full.
			const isFull = (await app.storage.freeBytes()) < FULL_BYTES;
			if (isFull && 'status_code' in error && error.status_code === 500)
				return answer(507, 'The disk of the server is full. What was sent is kept: make room, then go on.');
			if (!(error instanceof Error)) return undefined;
			app.log.error({ err: error }, 'an upload failed');
			// What has come whole is kept, and received as soon as that can be done.
			return answer(
				503,
				'This could not be received just now. What was sent is kept, and is received by itself.'
			);
		}
	});
	return { handle: (req, res) => server.handle(req, res), receiveLeft };
}

export function tooLarge(limit: number): string {
	return `This file is larger than the limit of ${inMb(limit)} MB. Export it smaller, or ask for a higher limit.`;
}

function noRoomFor(size: number, free: number): string {
	const has = size < 1024 ** 2 ? 'less than 1' : inMb(size);
	return `This file has ${has} MB, and the disk of the server has room for ${inMb(Math.max(0, free - ROOM_KEPT_BYTES))} MB. Make room, then go on.`;
}

function inMb(bytes: number): number {
	return Math.floor(bytes / 1024 ** 2);
}

function answer(status: number, body: string): { status_code: number; body: string } {
	return { status_code: status, body };
}
