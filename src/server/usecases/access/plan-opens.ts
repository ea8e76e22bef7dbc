/** What a plan opens, said on its own page: everything, or what was chosen for it. The fences are written for it. */
import { inArray } from 'drizzle-orm';
import { pagesIn } from '$core/access/idle-releases';
import type { Fence, PolicySource } from '$core/access/model';
import { ownFences } from '$core/access/plan-fences';
import type { Policy } from '$core/access/policy';
import { HOLDERS } from '$core/library/homes';
import { allFences, type KeptFence } from '../../db/queries/policy';
import { planNames } from '../../db/queries/sales';
import { items } from '../../db/schema/library';
import { PolicyMoved, type Work } from '../../transact';
import { eraseFence, withFence, withoutFence, writeFence } from '../fences/save-fence';
import { need, type Staff } from '../../people/need';
import { closed, fenceFor } from './give-plan-items';
import {
	consentOf,
	lookingAnew,
	saveRehearsed,
	type KeptRehearsal,
	type Mint,
	type Rehearsing
} from './rehearsed-save';

export type OpensWish =
	| { kind: 'everything' }
	/** Items, each for itself, and collections with all that lives in them, later too. */
	| { kind: 'chosen'; ids: readonly string[] };

export type PlanOpensSaved =
	| { kind: 'saved' }
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal }
	| { kind: 'refused'; code: 'unknown-plan' | 'unknown-item' };

/** A fence as it is to be, beside what it was; `null` where there is none. */
interface FenceChange {
	before: KeptFence | null;
	after: Fence | null;
}

export async function savePlanOpens(
	app: Rehearsing,
	actor: Staff,
	planId: string,
	wish: OpensWish,
	agreedTo: string | null
): Promise<PlanOpensSaved> {
	need(actor, 'fences');
	return lookingAnew(app, () => saveOnce(app, actor, planId, wish, agreedTo));
}

async function saveOnce(
	app: Rehearsing,
	actor: Staff,
	planId: string,
	wish: OpensWish,
	agreedTo: string | null
): Promise<PlanOpensSaved> {
	need(actor, 'fences');
	const name = (await planNames(app.db, [planId])).get(planId);
	if (!name) return { kind: 'refused', code: 'unknown-plan' };
	const policy = await app.rights.policy();
	if (wish.kind === 'chosen' && wish.ids.some((id) => !policy.resources.has(id)))
		return { kind: 'refused', code: 'unknown-item' };
	const consent = await consentOf(app, agreedTo);
	const fences = await allFences(app.db);
	const { changes, toClose } = changesFor(policy, fences, { id: planId, name }, wish, consent.mint);
	const change = (source: PolicySource) => withOpens(source, changes, toClose);
	const saved = await saveRehearsed(app, actor, consent, change, async (work) => {
		await writeOpens(work, changes, toClose);
	});
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved' };
}

/** The policy with them. */
export function withOpens(
	source: PolicySource,
	changes: readonly FenceChange[],
	toClose: readonly string[]
): PolicySource {
	return changes.reduce(
		(made, { before, after }) => (after ? withFence(after) : withoutFence(before?.id ?? ''))(made),
		closed(source, toClose)
	);
}

export async function writeOpens(
	work: Work,
	changes: readonly FenceChange[],
	toClose: readonly string[]
): Promise<void> {
	if (toClose.length > 0)
		await work.tx
			.update(items)
			.set({ base: 'closed' })
			.where(inArray(items.id, [...toClose]));
	work.policyChanged('what a plan opens', { resources: [...toClose] });
	for (const one of changes) await write(work, one);
}

async function write(work: Work, { before, after }: FenceChange): Promise<void> {
	if (!after) return before ? eraseFence(work, before) : undefined;
	if (!(await writeFence(work, { fence: after, named: [] }, before, before?.revision ?? 1)))
		throw new PolicyMoved('The fence was saved meanwhile');
}

/** The fences that say what a plan opens, as they have to become, and what is open and is closed by it. */
export function changesFor(
	policy: Policy,
	fences: readonly KeptFence[],
	plan: { id: string; name: string },
	wish: OpensWish,
	mint: Mint
): { changes: FenceChange[]; toClose: string[] } {
	const own = ownFences(fences, plan.id);
	if (wish.kind === 'everything') {
		const after = fenceFor(
			mint,
			plan.id,
			{ name: `${plan.name} opens everything`, selector: { kind: 'everything' } },
			true
		);
		return { changes: own.everything ? [] : [{ before: null, after }], toClose: [] };
	}
	const ids = [...new Set(wish.ids)];
	const collections = ids.filter((id) => isCollection(policy, id));
	const picked = ids.filter((id) => !isCollection(policy, id));
	const changes: FenceChange[] = [];
	if (own.everything) changes.push({ before: own.everything, after: null });
	const known = own.items?.selector.kind === 'items' ? own.items.selector.itemIds : [];
	if (own.items && picked.length === 0) changes.push({ before: own.items, after: null });
	else if (own.items && !isSame(known, picked))
		changes.push({
			before: own.items,
			after: { ...own.items, selector: { kind: 'items', itemIds: picked } }
		});
	else if (!own.items && picked.length > 0) {
		const selector = { kind: 'items' as const, itemIds: picked };
		const after = fenceFor(mint, plan.id, { name: `What ${plan.name} opens`, selector });
		changes.push({ before: null, after });
	}
	for (const [id, before] of own.within) if (!collections.includes(id)) changes.push({ before, after: null });
	const added = collections.filter((id) => !own.within.has(id));
	for (const id of added) changes.push({ before: null, after: around(policy, id, plan, mint) });
	const isNew = picked.filter((id) => !known.includes(id));
	return { changes, toClose: [...isNew, ...added.flatMap((id) => withoutOwnPage(policy, id))] };
}

/** Where no fence stands yet, it closes what will live in it, too; where one does, it lets the plan in beside others. */
function around(policy: Policy, collectionId: string, plan: { id: string; name: string }, mint: Mint): Fence {
	const isMet = withoutOwnPage(policy, collectionId).some((id) => {
		const resource = policy.resources.get(id);
		return resource !== undefined && policy.passage(resource).met.length > 0;
	});
	return fenceFor(mint, plan.id, {
		name: `What ${plan.name} opens`,
		selector: { kind: 'within', collectionId, withPage: false, extensions: [] },
		mode: isMet ? 'adds' : 'replaces'
	});
}

function withoutOwnPage(policy: Policy, collectionId: string): string[] {
	return pagesIn(policy, [collectionId]).filter((id) => id !== collectionId);
}

function isCollection(policy: Policy, id: string): boolean {
	const kind = policy.resources.get(id)?.kind;
	return kind !== undefined && HOLDERS.has(kind) && kind !== 'page';
}

function isSame(a: readonly string[], b: readonly string[]): boolean {
	return a.length === b.length && a.every((id) => b.includes(id));
}
