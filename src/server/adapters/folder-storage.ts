import { copyFile, mkdir, readFile, rename, rm, statfs, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Storage } from '../ports/storage';
import { OpenFiles } from './open-files';

const KEY = /^[a-z0-9]+(?:[/-][a-z0-9]+)*(?:\.[a-z0-9]+)?$/;

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
			await rename(path, pathOf(key)).catch(async (error: NodeJS.ErrnoException) => {
				// Another file system: a rename cannot cross it.
				if (error.code !== 'EXDEV') throw error;
				await copyFile(path, pathOf(key));
				await rm(path);
			});
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
			const probe = join(folder, '.probe');
			await writeFile(probe, '');
			await rm(probe);
		}
	};
}
