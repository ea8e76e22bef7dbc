import { and, eq, sql } from 'drizzle-orm';
import { followsItself } from '$core/access/inspect';
import type { Crossing, Fence, PolicySource } from '$core/access/model';
import { compile, type Policy } from '$core/access/policy';
import { fenceById, type KeptFence } from '../../db/queries/policy';
import { crossings, fences } from '../../db/schema/access';
import type { Work } from '../../transact';
import { consentOf, saveRehearsed, type KeptRehearsal, type Rehearsing } from '../access/rehearsed-save';
import { turnAwayProblem, type TurnAwayProblem } from './turn-away-problem';
import { need, type Staff } from '../../people/need';

export type FenceWish = Omit<Fence, 'id' | 'createdAt' | 'crossings'> & { crossings: Omit<Crossing, 'id'>[] };

export type FenceProblem =
	'unknown' | 'unknown-item' | 'unknown-plan' | 'unknown-collection' | 'follows-itself' | TurnAwayProblem;

export type SavedFence =
	| { kind: 'saved'; fenceId: string }
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal }
	/** Somebody else saved it since it was opened. */
	| { kind: 'changed'; theirs: KeptFence }
	| { kind: 'refused'; code: FenceProblem };

/** Makes a fence (`fenceId` is `null`) or rewrites one. `revision`: the save that the editor began from. */
export async function saveFence(
	app: Rehearsing,
	actor: Staff,
	ask: {
		fenceId: string | null;
		revision: number;
		wish: FenceWish;
		agreedTo: string | null;
		signal?: AbortSignal;
	}
): Promise<SavedFence> {
	need(actor, 'fences');
	const { fenceId, revision, wish, agreedTo } = ask;
	const consent = await consentOf(app, agreedTo);
	const { mint } = consent;
	const id = fenceId ?? mint.id('fence');
	const before = fenceId === null ? null : await fenceById(app.db, fenceId);
	if (fenceId !== null && !before) return { kind: 'refused', code: 'unknown' };
	if (before && before.revision !== revision) return { kind: 'changed', theirs: before };
	const createdAt = before?.createdAt ?? mint.at;
	const fence: Fence = {
		...wish,
		id,
		createdAt,
		// A crossing keeps its id while the fence has so many.
		crossings: wish.crossings.map((c, n) => ({
			...c,
			id: before?.crossings[n]?.id ?? mint.id(`crossing ${n}`)
		}))
	};
	const { source } = await app.rights.policy();
	const problem = problemWith(compile(withFence(fence)(source)), fence);
	if (problem) return { kind: 'refused', code: problem };
	const write = (work: Work) => writeFence(work, fence, before, revision);
	const saved = await saveRehearsed(app, actor, consent, withFence(fence), write, ask.signal);
	if (saved.kind === 'rehearsed') return saved;
	const theirs = saved.value ? null : await fenceById(app.db, id);
	return theirs ? { kind: 'changed', theirs } : { kind: 'saved', fenceId: id };
}

/** Takes a fence down. */
export async function removeFence(
	app: Rehearsing,
	actor: Staff,
	fenceId: string,
	agreedTo: string | null
): Promise<
	{ kind: 'saved' } | { kind: 'rehearsed'; rehearsal: KeptRehearsal } | { kind: 'refused'; code: 'unknown' }
> {
	need(actor, 'fences');
	const before = await fenceById(app.db, fenceId);
	if (!before) return { kind: 'refused', code: 'unknown' };
	const change = (source: PolicySource) => ({
		...source,
		fences: source.fences.filter(({ id }) => id !== fenceId)
	});
	const consent = await consentOf(app, agreedTo);
	const saved = await saveRehearsed(app, actor, consent, change, async (work) => {
		await work.tx.delete(fences).where(eq(fences.id, fenceId));
		await work.note({ action: 'removed-fence', subject: { kind: 'fence', id: fenceId }, before });
		work.policyChanged('fence removed', { fences: [fenceId] });
	});
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved' };
}

export function withFence(fence: Fence): (source: PolicySource) => PolicySource {
	return (source) => ({ ...source, fences: [...source.fences.filter(({ id }) => id !== fence.id), fence] });
}

/** `false`: another save came first, and nothing was written. */
export async function writeFence(
	work: Work,
	fence: Fence,
	before: KeptFence | null,
	revision: number
): Promise<boolean> {
	const { id, name, isOn, mode, selector, turnAway, listing, createdAt } = fence;
	const row = { name, isOn, mode, selector, turnAway, listing };
	if (!before) await work.tx.insert(fences).values({ id, ...row, createdAt });
	else {
		const [moved] = await work.tx
			.update(fences)
			.set({ ...row, revision: sql`${fences.revision} + 1` })
			.where(and(eq(fences.id, id), eq(fences.revision, revision)));
		if (moved.affectedRows !== 1) return false;
	}
	await work.tx.delete(crossings).where(eq(crossings.fenceId, id));
	if (fence.crossings.length > 0)
		await work.tx
			.insert(crossings)
			.values(fence.crossings.map((c, position) => ({ ...c, fenceId: id, position })));
	await work.note({ action: 'saved-fence', subject: { kind: 'fence', id }, before, after: fence });
	work.policyChanged('fence saved', { fences: [id] });
	return true;
}

function problemWith(policy: Policy, fence: Fence): FenceProblem | null {
	const { selector } = fence;
	if (selector.kind === 'items' && selector.itemIds.some((id) => !policy.resources.has(id)))
		return 'unknown-item';
	if (selector.kind === 'within' && !policy.resources.has(selector.collectionId)) return 'unknown-collection';
	const caught = [...policy.resources.values()].filter((one) =>
		policy.caughtBy(one).some((entry) => entry.fence.id === fence.id)
	);
	for (const { audience } of fence.crossings) {
		if (audience.kind === 'holders' && audience.planIds.some((id) => !policy.plans.has(id)))
			return 'unknown-plan';
		if (audience.kind !== 'may-open') continue;
		if (!policy.resources.has(audience.resourceId)) return 'unknown-item';
		if (
			followsItself(
				policy,
				audience.resourceId,
				caught.map(({ id }) => id)
			)
		)
			return 'follows-itself';
	}
	return fence.turnAway ? turnAwayProblem(policy, fence.turnAway) : null;
}
