import { COLUMNS, type Column } from '$core/library/table';

/** What columns of a table are taken for, as its form says: `as-0`, `as-1`, …; empty: for nothing. */
export function takenIn(form: FormData): Record<number, Column | null> {
	const taken: Record<number, Column | null> = {};
	for (const [name, value] of form) {
		const [, at] = /^as-(\d{1,3})$/.exec(name) ?? [];
		if (at !== undefined) taken[Number(at)] = COLUMNS.find((one) => one === value) ?? null;
	}
	return taken;
}
