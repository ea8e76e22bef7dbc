/** "This plan opens these": many items at once, by a fence that adds and so takes nothing from anybody. */
import { inArray } from 'drizzle-orm';
import { NO_LIMITS, type Fence, type PolicySource } from '$core/access/model';
import type { Using } from '../../app';
import { ownFences } from '$core/access/plan-fences';
import { allFences, type KeptFence } from '../../db/queries/policy';
import { planNames } from '../../db/queries/sales';
import { items } from '../../db/schema/library';
import { PolicyMoved } from '../../transact';
import { consentOf, saveRehearsed, type KeptRehearsal, type Mint, type Rehearsing } from './rehearsed-save';
import { withFence, writeFence } from '../fences/save-fence';
import { need, type Staff } from '../../people/need';

const LONGEST_NAME = 120;

export type Given =
	| { kind: 'saved'; fenceId: string }
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal }
	| { kind: 'refused'; code: 'unknown-plan' | 'nothing-to-take' };

/** Lets the plan's holders into the items, and closes the base of those that were open: what is sold is closed. */
export async function givePlanItems(
	app: Rehearsing,
	actor: Staff,
	planId: string,
	itemIds: readonly string[],
	agreedTo: string | null
): Promise<Given> {
	need(actor, 'fences');
	const name = (await planNames(app.db, [planId])).get(planId);
	if (!name) return { kind: 'refused', code: 'unknown-plan' };
	const consent = await consentOf(app, agreedTo);
	const before = await planFence(app, planId);
	const caught = before?.selector.kind === 'items' ? before.selector.itemIds : [];
	const fence: Fence = before
		? { ...before, isOn: true, selector: { kind: 'items', itemIds: [...new Set([...caught, ...itemIds])] } }
		: fenceFor(consent.mint, planId, {
				name: `What ${name} opens`,
				selector: { kind: 'items', itemIds: [...itemIds] }
			});
	const change = (source: PolicySource) => closed(withFence(fence)(source), itemIds);
	const saved = await saveRehearsed(app, actor, consent, change, async (work) => {
		await work.tx
			.update(items)
			.set({ base: 'closed' })
			.where(inArray(items.id, [...itemIds]));
		work.policyChanged('plan opens items', { resources: itemIds });
		if (!(await writeFence(work, { fence, named: [] }, before, before?.revision ?? 1)))
			throw new PolicyMoved('The fence was saved meanwhile');
	});
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved', fenceId: fence.id };
}

/** Takes the items out of the plan's own fence again. Other fences that let its holders in stay. */
export async function takePlanItems(
	app: Rehearsing,
	actor: Staff,
	planId: string,
	itemIds: readonly string[],
	agreedTo: string | null
): Promise<Given> {
	need(actor, 'fences');
	const before = await planFence(app, planId);
	if (before?.selector.kind !== 'items') return { kind: 'refused', code: 'nothing-to-take' };
	const left = before.selector.itemIds.filter((id) => !itemIds.includes(id));
	if (left.length === before.selector.itemIds.length) return { kind: 'refused', code: 'nothing-to-take' };
	const fence: Fence = { ...before, selector: { kind: 'items', itemIds: left } };
	const consent = await consentOf(app, agreedTo);
	const saved = await saveRehearsed(app, actor, consent, withFence(fence), async (work) => {
		if (!(await writeFence(work, { fence, named: [] }, before, before.revision)))
			throw new PolicyMoved('The fence was saved meanwhile');
	});
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved', fenceId: fence.id };
}

/** The fence that was made for this: it adds, is picked by hand, and has the plan's holders for its only crossing. */
async function planFence(app: Using<'db'>, planId: string): Promise<KeptFence | null> {
	return ownFences(await allFences(app.db), planId).items;
}

/** One that adds, with the plan's holders for its only crossing. */
export function fenceFor(
	mint: Mint,
	planId: string,
	over: Pick<Fence, 'name' | 'selector'> & Partial<Fence>,
	isThroughout = false
): Fence {
	const of = JSON.stringify(
		over.selector.kind === 'within' ? over.selector.collectionId : over.selector.kind
	);
	return {
		id: mint.id(`fence ${of}`),
		isOn: true,
		mode: 'adds',
		crossings: [
			{
				id: mint.id(`crossing ${of}`),
				audience: { kind: 'holders', planIds: [planId] },
				window: null,
				limits: NO_LIMITS,
				isThroughout
			}
		],
		turnAway: null,
		listing: 'shown',
		createdAt: mint.at,
		...over,
		name: over.name.slice(0, LONGEST_NAME)
	};
}

/** Closes the base of what was open: what is sold is closed. */
export function closed(source: PolicySource, itemIds: readonly string[]): PolicySource {
	return {
		...source,
		resources: source.resources.map((one) =>
			itemIds.includes(one.id) ? { ...one, base: 'closed' as const } : one
		)
	};
}
