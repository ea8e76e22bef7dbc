/**
 * Files that are being read, kept open for a while: whoever asks for many ranges of one file opens it once.
 *
 * Only for files that never change under their name, as in Stile's storage.
 */
import { close, fstat, open, read } from 'node:fs';
import { promisify } from 'node:util';
import type { OpenBytes } from '../ports/storage';

const openFd = promisify(open);
const statFd = promisify(fstat);
const closeFd = promisify(close);

const KEPT = 256;
const KEPT_MS = 10_000;

interface Kept {
	fd: number;
	size: number;
	changedAt: number;
}

interface Entry {
	opening: Promise<Kept | null>;
	/** Set when it is open. */
	kept: Kept | null;
	/** Counted from the moment that somebody asks, so that it is not closed under them. */
	readers: number;
	usedAt: number;
}

export class OpenFiles {
	private readonly files = new Map<string, Entry>();
	private timer: NodeJS.Timeout | null = null;

	async open(path: string): Promise<OpenBytes | null> {
		const entry = this.files.get(path) ?? this.begin(path);
		entry.readers++;
		entry.usedAt = Date.now();
		const kept = await entry.opening;
		if (!kept) return null;
		if (this.files.size > KEPT) this.sweep();
		let isOpen = true;
		return {
			size: kept.size,
			changedAt: kept.changedAt,
			read: (into, position) =>
				new Promise((resolve, reject) => {
					read(kept.fd, into, 0, into.length, position, (error, count) =>
						error ? reject(error) : resolve(count)
					);
				}),
			close() {
				if (isOpen) entry.readers--;
				isOpen = false;
			}
		};
	}

	private begin(path: string): Entry {
		const entry: Entry = { opening: opened(path), kept: null, readers: 0, usedAt: 0 };
		this.files.set(path, entry);
		this.timer ??= setInterval(() => this.sweep(), KEPT_MS).unref();
		entry.opening.then(
			(kept) => {
				entry.kept = kept;
				if (!kept) this.files.delete(path);
			},
			() => this.files.delete(path)
		);
		return entry;
	}

	/** Closes what nobody reads any more. */
	private sweep(): void {
		const before = Date.now() - KEPT_MS;
		for (const [path, { kept, readers, usedAt }] of this.files) {
			if (!kept || readers > 0 || (usedAt >= before && this.files.size <= KEPT)) continue;
			this.files.delete(path);
			void closeFd(kept.fd);
		}
		if (this.files.size === 0 && this.timer) {
			clearInterval(this.timer);
			this.timer = null;
		}
	}
}

async function opened(path: string): Promise<Kept | null> {
	const fd = await openFd(path, 'r').catch((error: NodeJS.ErrnoException) => {
		if (error.code === 'ENOENT' || error.code === 'ENOTDIR') return null;
		throw error;
	});
	if (fd === null) return null;
	const stats = await statFd(fd);
	if (stats.isFile()) return { fd, size: stats.size, changedAt: stats.mtimeMs };
	await closeFd(fd);
	return null;
}
