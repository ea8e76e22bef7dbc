/** Objects of the object store and those that are being taken in. */
import type { Using } from '../../app';
import { takeInJobs } from '../../db/queries/today';

export async function bringingIn(app: Using<'bucket' | 'db'>, prefix: string, from: string | null) {
	const store = app.bucket
		? await app.bucket.list(prefix, from).then(
				(page) => ({ ok: true as const, ...page }),
				() => ({ ok: false as const })
			)
		: null;
	return { store, jobs: await takeInJobs(app.db) };
}
