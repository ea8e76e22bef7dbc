import { readLocal } from '$core/time/calendar';
import type { ListAsk } from '../../db/queries/lists';

/** What a long table is asked for by its address: `?q=…&order=…&page=…`. */
export function listAsk(url: URL): ListAsk {
	return {
		search: (url.searchParams.get('q') ?? '').trim().slice(0, 100),
		order: url.searchParams.get('order') ?? '',
		page: Math.max(1, Math.floor(Number(url.searchParams.get('page') ?? 1)) || 1)
	};
}

const DAY_MS = 86_400_000;
const ID = /^[0-9a-f-]{36}$/;

/** An id that the address names; `null`: it names none. */
export function idAsked(url: URL, name: string): string | null {
	const said = url.searchParams.get(name) ?? '';
	return ID.test(said) ? said : null;
}

/** Days that the address names, wholly in it, the publisher's; what cannot be read is left out. */
export function daysAsked(url: URL, name: string, zone: string) {
	const day = (of: string, isEnd: boolean) => {
		const said = (url.searchParams.get(of) ?? '').slice(0, 10);
		const read = readLocal(said, zone);
		if (!read.ok) return null;
		// A day has 23, 24 or 25 hours: the next begins where its date says.
		const next = new Date(Date.parse(`${said}T00:00Z`) + DAY_MS).toISOString();
		const after = readLocal(next.slice(0, 10), zone);
		return isEnd ? (after.ok ? after.at : null) : read.at;
	};
	return { from: day(name, false), to: day(`${name}-to`, true) };
}
