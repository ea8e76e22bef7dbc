import { and, eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { PolicySource, Release, Window } from '$core/access/model';
import type { Actor, App } from '../../app';
import { policySource } from '../../db/queries/policy';
import { releases } from '../../db/schema/access';
import { saveRehearsed, type KeptRehearsal } from './rehearsed-save';

export interface ReleaseWish {
	target: Release['target'];
	/** `null`: takes the release away, so that wider ones or the crossing's own window count. */
	window: Window | null;
}

export type SavedReleases =
	| { kind: 'saved' }
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal }
	| { kind: 'refused'; code: 'unknown-plan' | 'unknown-target' };

/** Sets windows of one plan, any number at once. */
export async function saveReleases(
	app: App,
	actor: Actor,
	planId: string,
	wishes: readonly ReleaseWish[],
	agreedTo: number | null
): Promise<SavedReleases> {
	const source = await policySource(app.db);
	if (!source.plans.some(({ id }) => id === planId)) return { kind: 'refused', code: 'unknown-plan' };
	const known = new Set(source.resources.map(({ id }) => id));
	if (wishes.some(({ target }) => target.kind === 'resource' && !known.has(target.id)))
		return { kind: 'refused', code: 'unknown-target' };
	const saved = await saveRehearsed(app, actor, agreedTo, withReleases(planId, wishes), async (work) => {
		for (const { target, window } of wishes) {
			const where = and(
				eq(releases.planId, planId),
				eq(releases.targetKind, target.kind),
				eq(releases.targetId, target.id)
			);
			await work.tx.delete(releases).where(where);
			if (window)
				await work.tx
					.insert(releases)
					.values({ planId, targetKind: target.kind, targetId: target.id, window });
		}
		await work.note({ action: 'saved-releases', subject: { kind: 'plan', id: planId }, after: wishes });
		work.policyChanged('releases saved');
	});
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved' };
}

function withReleases(
	planId: string,
	wishes: readonly ReleaseWish[]
): (source: PolicySource) => PolicySource {
	const touched = new Set(wishes.map(({ target }) => `${target.kind} ${target.id}`));
	const made = wishes.flatMap(({ target, window }): Release[] =>
		window ? [{ id: uuidv7(), planId, target, window }] : []
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
