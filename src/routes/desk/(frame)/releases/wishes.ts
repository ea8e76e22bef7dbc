/** Releases as the board sends them: by the item, a window as it was typed, or that there is none any more. */
import { readWindow, record } from '$server/http/read-window';
import type { ReleaseWish } from '$server/usecases/access/save-releases';
import { windowDraft } from '$ui/fence-draft';

export type ReadWishes =
	{ ok: true; wishes: ReleaseWish[]; notes: string[] } | { ok: false; message: string; at: string };

export function readWishes(sent: unknown, zone: string): ReadWishes {
	const wishes: ReleaseWish[] = [];
	const notes: string[] = [];
	for (const [id, value] of Object.entries(record(sent))) {
		const target = { kind: 'resource' as const, id };
		const { isRemoved, ...window } = record(value);
		if (isRemoved === true) {
			wishes.push({ target, window: null });
			continue;
		}
		const read = readWindow(window, zone);
		if (!read.ok) return { ok: false, message: read.message, at: id };
		notes.push(...read.notes);
		// "At once, never" is a release of its own here: it keeps a wider one from counting.
		wishes.push({ target, window: read.value ?? { opens: { kind: 'at-once' }, closes: { kind: 'never' } } });
	}
	return { ok: true, wishes, notes };
}

/** As the board sends them. */
export function writtenWishes(wishes: readonly ReleaseWish[], zone: string): string {
	return JSON.stringify(
		Object.fromEntries(
			wishes.map(({ target, window }) => [
				target.id,
				window === null ? { isRemoved: true } : windowDraft(window, zone)
			])
		)
	);
}
