import { randomUUID } from 'node:crypto';
import { hostname } from 'node:os';
import { copyFile, mkdir, mkdtemp, readdir, readFile, rename, rm, statfs, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Storage } from '../ports/storage';
import { OpenFiles } from './open-files';

const KEY = /^[a-z0-9]+(?:[/-][a-z0-9]+)*(?:\.[a-z0-9]+)?$/;

const WORK = 'work';
/** Whose work it is: other nodes leave it alone while that process lives. */
const OWNER = `${hostname().replace(/[^A-Za-z0-9]/g, '')}-${process.pid}`;

/** Another machine's is its own to clear; of this one, what belongs to a process that has ended is nobody's. */
function isAlive(name: string): boolean {
	const [host, pid] = name.split('-');
	if (host !== OWNER.split('-')[0]) return true;
	try {
		return process.kill(Number(pid), 0);
	} catch {
		return false;
	}
}

async function move(from: string, to: string): Promise<void> {
	await rename(from, to).catch(async (error: NodeJS.ErrnoException) => {
		// Another file system: a rename cannot cross it.
		if (error.code !== 'EXDEV') throw error;
		await copyFile(from, to);
		await rm(from);
	});
}

export function folderStorage(folder: string): Storage {
	const pathOf = (key: string) => {
		if (!KEY.test(key)) throw new Error(`Not a storage key: ${key}`);
		return join(folder, key);
	};
	const files = new OpenFiles();
	return {
		async put(key, bytes) {
			await mkdir(dirname(pathOf(key)), { recursive: true });
			await writeFile(pathOf(key), bytes);
		},
		async take(key, path) {
			await mkdir(dirname(pathOf(key)), { recursive: true });
			await move(path, pathOf(key));
		},
		giveBack: (key, path) => move(pathOf(key), path),
		async workFolder() {
			await mkdir(join(folder, WORK), { recursive: true });
			return mkdtemp(join(folder, WORK, `${OWNER}-`));
		},
		async clearWork() {
			const names = await readdir(join(folder, WORK)).catch(() => []);
			for (const name of names)
				if (!isAlive(name)) await rm(join(folder, WORK, name), { recursive: true, force: true });
		},
		open: (key) => files.open(pathOf(key)),
		async whole(key) {
			return readFile(pathOf(key)).catch((error: NodeJS.ErrnoException) => {
				if (error.code === 'ENOENT') return null;
				throw error;
			});
		},
		localPath: async (key) => pathOf(key),
		async removeAll(prefix) {
			await rm(pathOf(prefix), { recursive: true, force: true });
		},
		async freeBytes() {
			const { bavail, bsize } = await statfs(folder);
			return bavail * bsize;
		},
		async check() {
			await mkdir(folder, { recursive: true });
			// A file of its own for each look, so that two nodes do not take each other's away.
			const probe = join(folder, `.probe-${randomUUID()}`);
			await writeFile(probe, '');
			await rm(probe);
		}
	};
}
