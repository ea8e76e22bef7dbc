/**
 * Where things live: every item has at most one home, and only a chain of homes counts as "within".
 *
 * Example: a lesson lives in a section or directly in a course, a section in a course, a course nowhere.
 */
import type { ResourceKind } from '../access/model';

const LOOSE = ['shelf', 'section', 'course', 'page'] as const;

export const HOMES: Readonly<Record<ResourceKind, readonly ResourceKind[]>> = {
	course: [],
	show: [],
	section: ['course'],
	lesson: ['section', 'course'],
	episode: ['show'],
	shelf: ['shelf'],
	page: ['page'],
	video: LOOSE,
	audio: LOOSE,
	file: LOOSE,
	event: LOOSE,
	link: LOOSE
};

/** Kinds that cannot stand alone. */
export const NEEDS_HOME: ReadonlySet<ResourceKind> = new Set(['section', 'lesson', 'episode']);

export function canLiveIn(kind: ResourceKind, homeKind: ResourceKind): boolean {
	return HOMES[kind].includes(homeKind);
}

/** Kinds that something can live in. */
export const HOLDERS: ReadonlySet<ResourceKind> = new Set(Object.values(HOMES).flat());

/** Kinds that are a film, a recording or a file themselves. */
export function isBytes(kind: ResourceKind): kind is 'video' | 'audio' | 'file' {
	return kind === 'video' || kind === 'audio' || kind === 'file';
}

/** Kinds that have a page of their own, on which a film, a recording or a file can be shown. */
export const SHOWS_ASSETS: ReadonlySet<ResourceKind> = new Set(['lesson', 'page', 'episode', 'event']);

/** First part of the address of a new item of a kind. */
export const ADDRESS_ROOTS: Readonly<Record<ResourceKind, string>> = {
	video: '/videos',
	audio: '/audio',
	file: '/files',
	page: '',
	lesson: '/lessons',
	episode: '/episodes',
	event: '/events',
	link: '/links',
	course: '/courses',
	section: '',
	show: '/shows',
	shelf: '/shelves'
};

export type HomeProblem = 'needs-home' | 'wrong-home' | 'home-within-itself';

/** Anything that may be a home, as far as that counts. */
export interface Housed {
	kind: ResourceKind;
	homeId: string | null;
}

/**
 * Whether something may live in a home: the one place where these rules stand. `find` gives anything by its id.
 * @returns what is wrong, or `null`
 */
export function homeProblem(
	thing: { id: string; kind: ResourceKind; homeId: string | null },
	find: (id: string) => Housed | null
): HomeProblem | null {
	const { id, kind, homeId } = thing;
	if (homeId === null) return NEEDS_HOME.has(kind) ? 'needs-home' : null;
	const home = find(homeId);
	if (!home || !canLiveIn(kind, home.kind)) return 'wrong-home';
	return livesInItself(id, homeId, (at) => find(at)?.homeId ?? null) ? 'home-within-itself' : null;
}

/** Whether making `homeId` the home of `id` would put it inside itself. `homeOf` gives the home of anything. */
export function livesInItself(
	id: string,
	homeId: string | null,
	homeOf: (id: string) => string | null
): boolean {
	const seen = new Set([id]);
	for (let at = homeId; at !== null; at = homeOf(at)) {
		if (seen.has(at)) return true;
		seen.add(at);
	}
	return false;
}
