/**
 * Whom one resource opens to that another does not, from a moment on: asked before the same film is shown at both.
 *
 * Example: a lesson is open to holders of two plans, the film on it to holders of one: it is wider for the other plan.
 */
import type { Instant } from '../time/instant';
import { intersect, between, without } from '../time/interval-set';
import { NO_CONTEXT, STRANGER, type Member, type PolicySource, type Viewer } from './model';
import { compile } from './policy';
import { newcomer } from './newcomers';
import { setsOf } from './timeline';

export type Opened =
	| { kind: 'strangers' }
	| { kind: 'signed-in' }
	| { kind: 'holders'; planId: string }
	/** Members that a crossing names. */
	| { kind: 'named'; memberIds: string[] }
	/** Whoever has redeemed a code of the batch. */
	| { kind: 'code'; batchId: string };

/**
 * Whoever could open `wideId` at a time at which they could not open `narrowId`, both taken as published: strangers,
 * whoever is signed in, whoever joins a plan at `from`, members that are named and whoever has a code. Who is in anyhow is
 * not said again for each plan. `named`: whoever is named anywhere.
 */
export function widerThan(
	source: PolicySource,
	wideId: string,
	narrowId: string,
	from: Instant,
	named: readonly Pick<Member, 'id' | 'namings'>[]
): Opened[] {
	const policy = compile({
		...source,
		resources: source.resources.map((one) =>
			one.id === wideId || one.id === narrowId
				? { ...one, state: 'published' as const, publishAt: null }
				: one
		)
	});
	const isWider = (viewer: Viewer) => {
		const openSet = (id: string) => setsOf(policy, viewer, id, NO_CONTEXT, []).open;
		const more = without(openSet(wideId), openSet(narrowId));
		return intersect(more, between(from, null)).length > 0;
	};
	if (isWider(STRANGER)) return [{ kind: 'strangers' }];
	const signedIn: Member = { ...newcomer('', from), grants: [] };
	if (isWider(signedIn)) return [{ kind: 'signed-in' }];
	const holders = [...policy.plans.keys()]
		.filter((planId) => isWider(newcomer(planId, from)))
		.map((planId): Opened => ({ kind: 'holders', planId }));
	const audiences = policy.source.fences.flatMap(({ crossings }) =>
		crossings.map(({ audience }) => audience)
	);
	const memberIds = named
		.filter(({ id, namings }) => isWider({ ...signedIn, id, namings }))
		.map(({ id }) => id)
		.sort();
	const batches = new Set(audiences.flatMap((one) => (one.kind === 'code' ? [one.batchId] : [])));
	const codes = [...batches]
		.filter((batchId) => isWider({ ...signedIn, redemptions: [{ batchId, at: from }] }))
		.sort()
		.map((batchId): Opened => ({ kind: 'code', batchId }));
	return [...holders, ...(memberIds.length > 0 ? [{ kind: 'named' as const, memberIds }] : []), ...codes];
}
