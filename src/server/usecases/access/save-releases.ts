import { and, eq } from 'drizzle-orm';
import { v5 as uuidv5 } from 'uuid';
import type { PolicySource, Release, Window } from '$core/access/model';
import { releases } from '../../db/schema/access';
import { consentOf, saveRehearsed, type KeptRehearsal, type Rehearsing } from './rehearsed-save';
import { need, type Staff } from '../../people/need';

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
	app: Rehearsing,
	actor: Staff,
	planId: string,
	wishes: readonly ReleaseWish[],
	agreedTo: string | null
): Promise<SavedReleases> {
	need(actor, 'releases');
	const { source } = await app.rights.policy();
	if (!source.plans.some(({ id }) => id === planId)) return { kind: 'refused', code: 'unknown-plan' };
	const known = new Set(source.resources.map(({ id }) => id));
	if (wishes.some(({ target }) => target.kind === 'resource' && !known.has(target.id)))
		return { kind: 'refused', code: 'unknown-target' };
	const consent = await consentOf(app, agreedTo);
	const saved = await saveRehearsed(app, actor, consent, withReleases(planId, wishes), async (work) => {
		const touched: string[] = [];
		for (const { target, window } of wishes) {
			const where = and(
				eq(releases.planId, planId),
				eq(releases.targetKind, target.kind),
				eq(releases.targetId, target.id)
			);
			const old = await work.tx.select({ id: releases.id }).from(releases).where(where).for('update');
			await work.tx.delete(releases).where(where);
			const id = releaseId(planId, target);
			if (window)
				await work.tx
					.insert(releases)
					.values({ id, planId, targetKind: target.kind, targetId: target.id, window });
			touched.push(id, ...old.map((one) => one.id));
		}
		await work.note({ action: 'saved-releases', subject: { kind: 'plan', id: planId }, after: wishes });
		work.policyChanged('releases saved', { releases: touched });
	});
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved' };
}

/** A plan has one release for each target, and so its id is made from both. */
function releaseId(planId: string, { kind, id }: Release['target']): string {
	return uuidv5(`${kind} ${id}`, planId);
}

function withReleases(
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
