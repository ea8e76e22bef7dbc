import { and, eq, or, sql } from 'drizzle-orm';
import { followsItself } from '$core/access/inspect';
import type { Crossing, Fence, NamedMember, PolicySource } from '$core/access/model';
import { namingChanges, type NamingChange } from '$core/access/namings';
import { compile, type Policy } from '$core/access/policy';
import { fenceById, namedIn, type EditedFence, type KeptFence } from '../../db/queries/policy';
import { livingAmong } from '../../db/queries/members';
import { crossings, fences, namings } from '../../db/schema/access';
import type { Work } from '../../transact';
import { consentOf, saveRehearsed, type KeptRehearsal, type Rehearsing } from '../access/rehearsed-save';
import { turnAwayProblem, type TurnAwayProblem } from './turn-away-problem';
import { need, type Staff } from '../../people/need';

export interface CrossingWish extends Omit<Crossing, 'id'> {
	/** For the audience of named members. */
	named?: Omit<NamedMember, 'crossingId'>[];
}

export type FenceWish = Omit<Fence, 'id' | 'createdAt' | 'crossings'> & { crossings: CrossingWish[] };

export type FenceProblem =
	| 'unknown'
	| 'unknown-item'
	| 'unknown-plan'
	| 'unknown-member'
	| 'unknown-collection'
	| 'follows-itself'
	| TurnAwayProblem;

export type SavedFence =
	| { kind: 'saved'; fenceId: string }
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal }
	/** Somebody else saved it since it was opened. */
	| { kind: 'changed'; theirs: EditedFence }
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
		crossings: wish.crossings.map(({ named: _, ...crossing }, n) => ({
			...crossing,
			id: before?.crossings[n]?.id ?? mint.id(`crossing ${n}`)
		}))
	};
	const named = fence.crossings.flatMap(({ id: crossingId, audience }, n) =>
		audience.kind === 'named'
			? (wish.crossings[n]?.named ?? []).map(({ memberId, since }) => ({ crossingId, memberId, since }))
			: []
	);
	const { source } = await app.rights.policy();
	const problem = problemWith(compile(withFence(fence)(source)), fence);
	if (problem) return { kind: 'refused', code: problem };
	const memberIds = named.map(({ memberId }) => memberId);
	const known = await livingAmong(app.db, memberIds);
	if (memberIds.some((one) => !known.has(one))) return { kind: 'refused', code: 'unknown-member' };
	const write = (work: Work) => writeFence(work, { fence, named }, before, revision);
	const saved = await saveRehearsed(app, actor, consent, withFence(fence), write, {
		namings: namingChanges(before?.named ?? [], named),
		signal: ask.signal
	});
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
	const consent = await consentOf(app, agreedTo);
	const remove = (work: Work) => eraseFence(work, before);
	const saved = await saveRehearsed(app, actor, consent, withoutFence(fenceId), remove, {
		namings: namingChanges(before.named, [])
	});
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved' };
}

export function withoutFence(fenceId: string): (source: PolicySource) => PolicySource {
	return (source) => ({ ...source, fences: source.fences.filter(({ id }) => id !== fenceId) });
}

export async function eraseFence(work: Work, before: KeptFence): Promise<void> {
	const { id } = before;
	await work.tx.delete(fences).where(eq(fences.id, id));
	const unnamed = namingChanges(await namedIn(work.tx, before.crossings), []);
	await writeNamings(work, unnamed);
	await work.note({ action: 'removed-fence', subject: { kind: 'fence', id }, before });
	work.policyChanged('fence removed', { fences: [id], namings: unnamed });
}

export function withFence(fence: Fence): (source: PolicySource) => PolicySource {
	return (source) => ({ ...source, fences: [...source.fences.filter(({ id }) => id !== fence.id), fence] });
}

/** `false`: another save came first, and nothing was written. */
export async function writeFence(
	work: Work,
	{ fence, named }: { fence: Fence; named: readonly NamedMember[] },
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
	const namedBefore = before ? await namedIn(work.tx, before.crossings) : [];
	const changes = namingChanges(namedBefore, named);
	await writeNamings(work, changes);
	const after = { ...fence, named };
	await work.note({ action: 'saved-fence', subject: { kind: 'fence', id }, before, after });
	work.policyChanged('fence saved', { fences: [id], namings: changes });
	return true;
}

const NAMED_AT_ONCE = 500;

/** Writes who is named now, and takes out who is not any more. */
async function writeNamings({ tx }: Work, changes: readonly NamingChange[]): Promise<void> {
	for (let n = 0; n < changes.length; n += NAMED_AT_ONCE) {
		const some = changes.slice(n, n + NAMED_AT_ONCE);
		const gone = some.flatMap(({ before, after }) => (before && !after ? [before] : []));
		const named = some.flatMap(({ after }) => after ?? []);
		if (gone.length > 0)
			await tx
				.delete(namings)
				.where(
					or(
						...gone.map((one) =>
							and(eq(namings.crossingId, one.crossingId), eq(namings.memberId, one.memberId))
						)
					)
				);
		if (named.length > 0)
			await tx
				.insert(namings)
				.values(named)
				.onDuplicateKeyUpdate({ set: { since: sql`values(${namings.since})` } });
	}
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
