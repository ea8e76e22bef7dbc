import { and, eq } from 'drizzle-orm';
import { releases } from '../../db/schema/access';
import { releaseId, withReleases, type ReleaseWish } from '../../rights/releases';
import { consentOf, saveRehearsed, type KeptRehearsal, type Rehearsing } from './rehearsed-save';
import { need, type Staff } from '../../people/need';

export type { ReleaseWish };

export type SavedReleases =
	| { kind: 'saved'; /** What stood there: what takes it back. */ before: ReleaseWish[] }
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
		const before: ReleaseWish[] = [];
		for (const { target, window } of wishes) {
			const where = and(
				eq(releases.planId, planId),
				eq(releases.targetKind, target.kind),
				eq(releases.targetId, target.id)
			);
			const old = await work.tx
				.select({ id: releases.id, window: releases.window })
				.from(releases)
				.where(where)
				.for('update');
			before.push({ target, window: old[0]?.window ?? null });
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
		return before;
	});
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved', before: saved.value };
}
