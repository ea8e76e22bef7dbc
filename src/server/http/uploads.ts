/** Resumable uploads of the Desk (tus 1.0): staff only, into a folder of their own until they are complete. */
import type { IncomingMessage, ServerResponse } from 'node:http';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { FileStore } from '@tus/file-store';
import { Server } from '@tus/server';
import type { App } from '../app';
import { saveCover } from '../usecases/library/edit-media';
import { receiveFile } from '../usecases/library/receive-file';
import { shelfOf } from '../usecases/library/shelves';
import { arrivalWords } from './arrival-words';
import { cookieValue, hashOf, sessionCookie } from './sessions';

export const UPLOAD_PATH = '/desk/uploads';

/** The database and the logs need room, too. */
const ROOM_KEPT_BYTES = 64 * 1024 ** 2;
const FULL_BYTES = 1024 ** 2;
/** An upload that nobody goes on with is forgotten after so long. */
const UNFINISHED_KEPT_MS = 7 * 24 * 3_600_000;

function uploadStore(app: App): FileStore {
	return new FileStore({
		directory: join(app.settings.storageFolder, 'uploads'),
		expirationPeriodInMilliseconds: UNFINISHED_KEPT_MS
	});
}

/** Removes uploads that were begun long ago and never came to their end. */
export async function forgetUnfinished(app: App): Promise<void> {
	await uploadStore(app).deleteExpired();
}

export function uploadHandler(app: App): (req: IncomingMessage, res: ServerResponse) => Promise<void> {
	const directory = join(app.settings.storageFolder, 'uploads');
	const limit = app.settings.uploadLimitBytes;
	const datastore = uploadStore(app);

	async function staffOf(req: Request): Promise<string | null> {
		const token = cookieValue(req.headers.get('cookie') ?? undefined, sessionCookie(app.settings.origin));
		const accountId = token === null ? null : await app.rights.sessionAccount(hashOf(token));
		const standing = accountId === null ? null : await app.rights.standing(accountId);
		return standing?.viewer.isStaff ? standing.viewer.id : null;
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
		async onUploadCreate(_req, upload) {
			if (upload.size === 0) throw answer(422, arrivalWords({ code: 'empty' }));
			const free = await app.storage.freeBytes();
			if ((upload.size ?? 0) + ROOM_KEPT_BYTES > free) throw answer(507, noRoomFor(upload.size ?? 0, free));
			return {};
		},
		async onUploadFinish(req, upload) {
			const actor = await staffOf(req);
			if (!actor) throw answer(403, 'Sign in at the Desk to upload files.');
			const path = upload.storage?.path ?? join(directory, upload.id);
			const { filename, folder, home, replaces, cover } = upload.metadata ?? {};
			if (cover) {
				const isSaved = await saveCover(app, { id: actor }, cover, path);
				await rm(path, { force: true });
				await rm(join(directory, `${upload.id}.json`), { force: true });
				if (!isSaved) throw answer(422, 'This cannot be read as a picture. Choose a JPEG, PNG or WebP file.');
				return {};
			}
			const homeId = await shelfOf(app, { id: actor }, home || null, folder ?? '');
			const received = await receiveFile(
				app,
				{ id: actor },
				{ path, name: filename ?? '', homeId, replaces: replaces || null }
			);
			await rm(join(directory, `${upload.id}.json`), { force: true });
			if (!received.ok) throw answer(422, arrivalWords(received.problem));
			return { headers: { 'Stile-Item': received.itemId } };
		},
		async onResponseError(_req, error) {
			if ('status_code' in error && error.status_code === 413) return answer(413, tooLarge(limit));
			// Why a write failed is not told: the disk itself says whether it is full.
			const isFull = (await app.storage.freeBytes()) < FULL_BYTES;
			if (isFull && 'status_code' in error && error.status_code === 500)
				return answer(507, 'The disk of the server is full. What was sent is kept: make room, then go on.');
			if (error instanceof Error) app.log.error({ err: error }, 'an upload failed');
			return undefined;
		}
	});
	return (req, res) => server.handle(req, res);
}

export function tooLarge(limit: number): string {
	return `This file is larger than the limit of ${inMb(limit)} MB. Export it smaller, or ask for a higher limit.`;
}

function noRoomFor(size: number, free: number): string {
	return `This file has ${inMb(size)} MB, and the disk of the server has room for ${inMb(Math.max(0, free - ROOM_KEPT_BYTES))} MB. Make room, then go on.`;
}

function inMb(bytes: number): number {
	return Math.floor(bytes / 1024 ** 2);
}

function answer(status: number, body: string): { status_code: number; body: string } {
	return { status_code: status, body };
}
