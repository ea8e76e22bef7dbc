/** The folder of the server whose files appear in the Library: what lies in it, and what was refused. */
import { mkdir, readdir, readFile, rename, rm } from 'node:fs/promises';
import { dirname, join, relative } from 'node:path';
import { need, type Staff } from '../../people/need';

/** Where refused files are put aside, each with a note that says why. */
export const REFUSED = 'refused';
/** Where files lie while they are looked at and received. */
export const TAKING = '.taking';
/** What the note is called beside the file. */
export const NOTE = '.why.txt';

/** What waits in the inbox, and what was refused, for the Desk. */
export async function inboxView(folder: string): Promise<{
	waiting: string[];
	/** How many are being received just now. */
	taking: number;
	refused: { name: string; why: string }[];
}> {
	// In the order in which a file passes through: read the other way round, one that goes on in between would be nowhere.
	const waiting = await filesIn(folder, true);
	const taking = await filesIn(join(folder, TAKING), false);
	const aside = join(folder, REFUSED);
	const put = new Set(await filesIn(aside, false));
	const notes = [...put].filter((path) => path.endsWith(NOTE) && put.has(path.slice(0, -NOTE.length)));
	return {
		waiting: waiting.map((path) => relative(folder, path)),
		taking: taking.length,
		refused: await Promise.all(
			notes.map(async (path) => ({
				name: relative(aside, path.slice(0, -NOTE.length)),
				why: (await readFile(path, 'utf8')).trim()
			}))
		)
	};
}

/** Puts what was refused back into the inbox, or throws it away. */
export async function decideRefused(
	actor: Staff,
	folder: string,
	name: string,
	isAgain: boolean
): Promise<{ ok: true } | { ok: false; code: 'unknown' }> {
	need(actor, 'library');
	const view = await inboxView(folder);
	// Only names that were listed: nothing that somebody typed becomes a path.
	if (!view.refused.some((one) => one.name === name)) return { ok: false, code: 'unknown' };
	const path = join(folder, REFUSED, name);
	await rm(`${path}${NOTE}`, { force: true });
	if (!isAgain) await rm(path, { force: true });
	else {
		await mkdir(dirname(join(folder, name)), { recursive: true });
		await rename(path, join(folder, name));
	}
	return { ok: true };
}

/** All files at whatever depth; `skipsOwn`: without those that were refused. */
export async function filesIn(folder: string, skipsOwn: boolean): Promise<string[]> {
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
