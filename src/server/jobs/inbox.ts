/**
 * The inbox: a folder of the server. What is put there appears in the Library by itself, its folders as shelves, as soon as
 * it has stopped growing. What is refused is put aside, with a note that says why; nothing is thrown away.
 */
import { mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { basename, dirname, join, relative } from 'node:path';
import { v7 as uuidv7 } from 'uuid';
import type { App } from '../app';
import { arrivalWords } from '../http/arrival-words';
import { receiveFile } from '../usecases/library/receive-file';
import { shelfOf } from '../usecases/library/shelves';

const LOOKED_EVERY_MS = 3000;
/** A file that has kept its size and time for so long has come whole. */
const STILL_FOR_MS = 6000;
export const REFUSED = 'refused';
const TAKING = '.taking';

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
		const taken = join(this.folder, TAKING, uuidv7());
		await mkdir(dirname(taken), { recursive: true });
		// A move that only one node can make: whoever comes second finds nothing.
		const isOurs = await rename(path, taken).then(
			() => true,
			() => false
		);
		this.seen.delete(path);
		if (!isOurs) return;
		const folder = dirname(inFolder);
		const homeId = await shelfOf(this.app, null, null, folder === '.' ? '' : folder);
		const received = await receiveFile(this.app, null, {
			path: taken,
			name: basename(path),
			homeId,
			keepsRefused: true
		}).catch((error: unknown) => {
			this.app.log.error({ err: error, file: inFolder }, 'a file of the inbox could not be taken in');
			return null;
		});
		if (received?.ok) {
			this.app.log.info({ file: inFolder, itemId: received.itemId }, 'a file came by the inbox');
			return;
		}
		const aside = join(this.folder, REFUSED, inFolder);
		await mkdir(dirname(aside), { recursive: true });
		await rename(taken, aside);
		const why = received
			? arrivalWords(received.problem)
			: 'Something went wrong on our side. Put it in again.';
		await writeFile(`${aside}.why.txt`, `${why}\n`);
	}
}

/** What waits in the inbox, and what was refused, for the Desk. */
export async function inboxView(folder: string): Promise<{
	waiting: string[];
	refused: { name: string; why: string }[];
}> {
	const aside = join(folder, REFUSED);
	const notes = (await filesIn(aside, false)).filter((path) => path.endsWith('.why.txt'));
	return {
		waiting: (await filesIn(folder, true)).map((path) => relative(folder, path)),
		refused: await Promise.all(
			notes.map(async (path) => ({
				name: relative(aside, path).replace(/\.why\.txt$/, ''),
				why: (await readFile(path, 'utf8')).trim()
			}))
		)
	};
}

/** Puts what was refused back into the inbox, or throws it away. */
export async function decideRefused(folder: string, name: string, isAgain: boolean): Promise<boolean> {
	const view = await inboxView(folder);
	// Only names that were listed: nothing that somebody typed becomes a path.
	if (!view.refused.some((one) => one.name === name)) return false;
	const path = join(folder, REFUSED, name);
	await rm(`${path}.why.txt`, { force: true });
	if (!isAgain) await rm(path, { force: true });
	else {
		await mkdir(dirname(join(folder, name)), { recursive: true });
		await rename(path, join(folder, name));
	}
	return true;
}

async function filesIn(folder: string, skipsOwn: boolean): Promise<string[]> {
	const entries = await readdir(folder, { withFileTypes: true }).catch(() => []);
	const found: string[] = [];
	for (const entry of entries) {
		// Hidden files belong to programs that are still at work.
		if (entry.name.startsWith('.') || (skipsOwn && entry.name === REFUSED)) continue;
		const path = join(folder, entry.name);
		if (entry.isDirectory()) found.push(...(await filesIn(path, false)));
		else if (entry.isFile()) found.push(path);
	}
	return found;
}
