/** What a use case says that has nothing to give: it is done, or why not. */
export type Done<Code extends string = 'unknown'> = { ok: true } | NotDone<Code>;

export interface NotDone<Code extends string> {
	ok: false;
	code: Code;
}

export const DONE = { ok: true } as const;

export function notDone<Code extends string>(code: Code): NotDone<Code> {
	return { ok: false, code };
}
