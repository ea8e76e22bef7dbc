/**
 * Which homes are folded, as an address keeps it: `all` folds every one, and each id turns one about.
 *
 * Example: `a.b` folds a and b; `all.a` folds all but a; nothing at all folds none.
 */
const MOST = 200;

/** @param folds what the address says; `null`: nothing */
export function isFoldedIn(folds: string | null): (id: string) => boolean {
	const parts = (folds ?? '').split('.').slice(0, MOST + 1);
	const isAll = parts[0] === 'all';
	const turned = new Set(isAll ? parts.slice(1) : parts);
	return (id) => turned.has(id) !== isAll;
}

/** With one turned about; `null` where nothing is folded any more. */
export function turned(folds: string | null, id: string): string | null {
	const parts = (folds ?? '').split('.').filter(Boolean);
	const others = parts.filter((one) => one !== id);
	const now = others.length === parts.length ? [...parts, id] : others;
	return now.join('.') || null;
}
