/**
 * The inbox: a folder of the server. What is put there appears in the Library by itself, its folders as shelves, as soon as
 * it has stopped growing. What is refused is put aside, with a note that says why; nothing is thrown away.
 */
import { mkdir, readdir, rename, rmdir, stat, writeFile } from 'node:fs/promises';
import { basename, dirname, join, relative, sep } from 'node:path';
import { v7 as uuidv7 } from 'uuid';
import type { App } from '../app';
import { arrivalWords } from '../usecases/library/arrival-words';
import { filesIn, NOTE, REFUSED, TAKING } from '../usecases/library/inbox';
import { receiveFile } from '../usecases/library/receive-file';
import { shelfOf } from '../usecases/library/shelves';

const LOOKED_EVERY_MS = 3000;
/** A file that has kept its size and time for so long has come whole. */
const STILL_FOR_MS = 6000;
/** Longer than a file is looked at and received. */
const CUT_OFF_AFTER_MS = 5 * 60_000;

interface Seen {
	size: number;
	changedAt: number;
	/** Since when it has been like that. */
	since: number;
}

export class Inbox {
	private seen = new Map<string, Seen>();
	private timer: NodeJS.Timeout | null = null;
	private looking: Promise<void> = Promise.resolve();

	constructor(
		private readonly app: App,
		private readonly folder: string
	) {}

	start(): void {
		this.timer = setInterval(() => this.wake(), LOOKED_EVERY_MS);
		this.wake();
	}

	async stop(): Promise<void> {
		if (this.timer) clearInterval(this.timer);
		await this.looking;
	}

	private wake(): void {
		this.looking = this.looking.then(() =>
			this.look().catch((error: unknown) => this.app.log.warn({ err: error }, 'the inbox could not be read'))
		);
	}

	private async look(): Promise<void> {
		await mkdir(this.folder, { recursive: true });
		await this.putCutOffBack();
		const now = this.app.clock.wall();
		const found = new Map<string, Seen>();
		for (const path of await filesIn(this.folder, true)) {
			const stats = await stat(path).catch(() => null);
			if (!stats) continue;
			const before = this.seen.get(path);
			const isSame = before?.size === stats.size && before.changedAt === stats.mtimeMs;
			found.set(path, {
				size: stats.size,
				changedAt: stats.mtimeMs,
				since: isSame ? before.since : now
			});
		}
		this.seen = found;
		for (const [path, { since }] of found) if (now - since >= STILL_FOR_MS) await this.take(path);
	}

	private async take(path: string): Promise<void> {
		const inFolder = relative(this.folder, path);
		// Its place in the folder goes with it, so that what is cut off can be put back.
		const taken = join(this.folder, TAKING, uuidv7(), inFolder);
		await mkdir(dirname(taken), { recursive: true });
		// A move that only one node can make: whoever comes second finds nothing.
		const isOurs = await rename(path, taken).then(
			() => true,
			() => false
		);
		this.seen.delete(path);
		if (!isOurs) return;
		try {
			await this.receive(taken, path, inFolder);
		} catch (error) {
			// Not a word on the file itself: it is looked at again when it has lain still for a while.
			this.app.log.error({ err: error, file: inFolder }, 'a file of the inbox could not be taken in yet');
			await putBack(taken, path);
		}
		await removeEmpty(join(this.folder, TAKING));
	}

	private async receive(taken: string, path: string, inFolder: string): Promise<void> {
		const folder = dirname(inFolder);
		const homeId = await shelfOf(this.app, null, null, folder === '.' ? '' : folder);
		const received = await receiveFile(this.app, null, {
			path: taken,
			name: basename(path),
			homeId,
			keepsRefused: true
		});
		if (received.ok) {
			this.app.log.info({ file: inFolder, itemId: received.itemId }, 'a file came by the inbox');
			return;
		}
		const aside = join(this.folder, REFUSED, inFolder);
		await mkdir(dirname(aside), { recursive: true });
		// The note first: until the file follows, it is still seen where it is taken from.
		await writeFile(`${aside}${NOTE}`, `${arrivalWords(received.problem)}\n`);
		await rename(taken, aside);
	}

	/** What was being taken when a process ended: it has lain there for longer than taking takes. */
	private async putCutOffBack(): Promise<void> {
		const taking = join(this.folder, TAKING);
		for (const path of await filesIn(taking, false)) {
			const stats = await stat(path).catch(() => null);
			if (!stats || this.app.clock.wall() - stats.ctimeMs < CUT_OFF_AFTER_MS) continue;
			const [, ...inFolder] = relative(taking, path).split(sep);
			await putBack(path, join(this.folder, ...inFolder));
		}
		await removeEmpty(taking);
	}
}

async function putBack(from: string, to: string): Promise<void> {
	await mkdir(dirname(to), { recursive: true });
	await rename(from, to).catch((error: NodeJS.ErrnoException) => {
		if (error.code !== 'ENOENT') throw error;
	});
}

/** Folders in which nothing is taken any more. */
async function removeEmpty(folder: string): Promise<void> {
	for (const entry of await readdir(folder, { withFileTypes: true }).catch(() => [])) {
		if (!entry.isDirectory()) continue;
		await removeEmpty(join(folder, entry.name));
		await rmdir(join(folder, entry.name)).catch(() => {});
	}
}
