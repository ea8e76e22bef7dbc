/** The folder of the server whose files appear in the Library: what lies in it, and what was refused. */
import { mkdir, readdir, readFile, rename, rm } from 'node:fs/promises';
import { dirname, join, relative } from 'node:path';
import { need, type Staff } from '../../people/need';

/** Where refused files are put aside, each with a note that says why. */
export const REFUSED = 'refused';

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
	await rm(`${path}.why.txt`, { force: true });
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
