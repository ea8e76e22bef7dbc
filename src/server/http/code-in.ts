import { normaliseCode } from '$core/access/batches';

const LONGEST = 40;

/** A code that a link carries to where one buys; `null`: none that could be one. */
export function codeIn(url: URL): string | null {
	const code = normaliseCode(url.searchParams.get('code') ?? '');
	return /^[A-Z0-9]+$/.test(code) && code.length <= LONGEST ? code : null;
}
