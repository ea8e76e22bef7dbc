/** What was saved that opens or closes something, newest first: who, when, and what it was about. */
import type { Change, Delta } from '$core/access/delta';
import type { Using } from '../../app';
import { accountNames } from '../../db/queries/members';
import { lastPolicyChanges } from '../../db/queries/policy';
import { deskNames, type DeskNames } from './names';

const SHOWN = 40;
const NAMED = 2;

export type ChangeKind = 'fence' | 'release' | 'resource' | 'plan' | 'site';

export interface AccessChange {
	version: number;
	at: number;
	/** `null`: Stile itself. */
	by: string | null;
	cause: string;
	/** What it was about, by its kind: the first of them by name. */
	about: { kind: ChangeKind; names: string[]; count: number }[];
}

/** @param before a version: only what came before it */
export async function accessChanges(
	app: Using<'db' | 'rights'>,
	before: number | null
): Promise<{ changes: AccessChange[]; hasMore: boolean }> {
	const rows = await lastPolicyChanges(app.db, SHOWN + 1, before);
	const shown = rows.slice(0, SHOWN);
	const known = await deskNames(app);
	const people = await accountNames(
		app.db,
		shown.flatMap(({ actorId }) => actorId ?? [])
	);
	return {
		changes: shown.map(({ version, at, actorId, cause, delta }) => ({
			version,
			at,
			by: actorId === null ? null : (people.get(actorId) ?? 'somebody who is gone'),
			cause,
			about: aboutOf(delta, known)
		})),
		hasMore: rows.length > SHOWN
	};
}

function aboutOf(delta: Delta, known: DeskNames): AccessChange['about'] {
	const kinds: ChangeKind[] = ['fence', 'release', 'resource', 'plan', 'site'];
	return kinds.flatMap((kind) => {
		const own = delta.filter((one) => one.kind === kind);
		if (own.length === 0) return [];
		return { kind, names: own.slice(0, NAMED).map((one) => nameOf(one, known)), count: own.length };
	});
}

function nameOf(change: Change, known: DeskNames): string {
	const entity = change.after ?? change.before;
	switch (change.kind) {
		case 'fence':
			return (entity as { name: string }).name;
		case 'release': {
			const { target, planId } = entity as { target: { id: string }; planId: string };
			const title =
				known.resources[target.id]?.title ?? known.categories[target.id] ?? 'something that is gone';
			return `${title} for ${known.plans[planId] ?? 'a plan that is gone'}`;
		}
		case 'resource':
			return known.resources[change.id]?.title ?? 'something that is gone';
		case 'plan':
			return known.plans[change.id] ?? known.labels[change.id] ?? 'a plan that is gone';
		default:
			return '';
	}
}
