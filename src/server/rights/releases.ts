/** What the rules are with some releases of a plan set anew. */
import { v5 as uuidv5 } from 'uuid';
import type { PolicySource, Release, Window } from '$core/access/model';

export interface ReleaseWish {
	target: Release['target'];
	/** `null`: takes the release away, so that wider ones or the crossing's own window count. */
	window: Window | null;
}

/** A plan has one release for each target, and so its id is made from both. */
export function releaseId(planId: string, { kind, id }: Release['target']): string {
	return uuidv5(`${kind} ${id}`, planId);
}

export function withReleases(
	planId: string,
	wishes: readonly ReleaseWish[]
): (source: PolicySource) => PolicySource {
	const touched = new Set(wishes.map(({ target }) => `${target.kind} ${target.id}`));
	const made = wishes.flatMap(({ target, window }): Release[] =>
		window ? [{ id: releaseId(planId, target), planId, target, window }] : []
	);
	return (source) => ({
		...source,
		releases: [
			...source.releases.filter(
				(one) => one.planId !== planId || !touched.has(`${one.target.kind} ${one.target.id}`)
			),
			...made
		]
	});
}
