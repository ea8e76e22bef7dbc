/** Where the tests of the database put their files: one folder for a run, gone when it is over. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export default function setup(): () => void {
	const folder = mkdtempSync(join(tmpdir(), 'stile-scratch-'));
	process.env.STILE_TEST_SCRATCH = folder;
	return () => rmSync(folder, { recursive: true });
}
