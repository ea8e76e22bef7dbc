/** What is sent of a table that is brought in. */

/** What its columns are taken for, as the form says: `as-0`, `as-1`, …; empty: for nothing. */
export function takenIn<C extends string>(form: FormData, columns: readonly C[]): Record<number, C | null> {
	const taken: Record<number, C | null> = {};
	for (const [name, value] of form) {
		const [, at] = /^as-(\d{1,3})$/.exec(name) ?? [];
		if (at !== undefined) taken[Number(at)] = columns.find((one) => one === value) ?? null;
	}
	return taken;
}

/** The table, and what somebody has said of its columns: of another file nobody has said anything yet. */
export async function tableIn<C extends string>(
	form: FormData,
	columns: readonly C[]
): Promise<{ csv: string; taken: Record<number, C | null> }> {
	const file = form.get('file');
	const before = String(form.get('csv') ?? '');
	const csv = file instanceof File && file.size > 0 ? await file.text() : before;
	return { csv, taken: withPlainEnds(csv) === withPlainEnds(before) ? takenIn(form, columns) : {} };
}

/** A text field sends the ends of lines in its own way (HTML Standard §4.10.21.4). */
function withPlainEnds(text: string): string {
	return text.replace(/\r\n?/g, '\n');
}
