/** Sells one thing of the Library alone: a plan that opens nothing else, with its fence, made in one step. */
import type { Limits, PolicySource } from '$core/access/model';
import { NO_LIMITS } from '$core/access/model';
import type { PlanAccess } from '$core/billing/plan-access';
import type { Terms } from '$core/billing/terms';
import { DUPLICATE_KEY, errorNumber } from '../../db/connect';
import { itemById } from '../../db/queries/items';
import { allFences } from '../../db/queries/policy';
import { planOfItem } from '../../db/queries/sales';
import { need, type Staff } from '../../people/need';
import { changesFor, withOpens, writeOpens } from '../access/plan-opens';
import {
	consentOf,
	lookingAnew,
	saveRehearsed,
	type KeptRehearsal,
	type Rehearsing
} from '../access/rehearsed-save';
import { SOLD_HERE, writePlan, type PlanWish } from './save-plan';

export interface AloneWish {
	terms: Terms;
	access: PlanAccess;
	/** How often each buyer may use it; `null`: as often as they like. */
	uses: number | null;
}

export type SoldAlone =
	| { kind: 'saved'; planId: string }
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal }
	/** `is-sold`: somebody sells it alone already. `no-page`: it has no address at which one could be offered it. */
	| { kind: 'refused'; code: 'unknown-item' | 'is-sold' | 'no-page' };

const LONGEST_NAME = 120;

export async function sellAlone(
	app: Rehearsing,
	actor: Staff,
	itemId: string,
	wish: AloneWish,
	agreedTo: string | null
): Promise<SoldAlone> {
	need(actor, 'plans');
	need(actor, 'fences');
	const once = () => lookingAnew(app, () => sellOnce(app, actor, itemId, wish, agreedTo));
	try {
		return await once();
	} catch (error) {
		if (errorNumber(error) !== DUPLICATE_KEY) throw error;
	}
	// Sold by somebody else at the same moment, or another plan has taken its address in between.
	await app.rights.refresh();
	return once();
}

async function sellOnce(
	app: Rehearsing,
	actor: Staff,
	itemId: string,
	{ terms, access, uses }: AloneWish,
	agreedTo: string | null
): Promise<SoldAlone> {
	need(actor, 'plans');
	const item = await itemById(app.db, itemId);
	const policy = await app.rights.policy();
	if (!item || !policy.resources.has(itemId)) return { kind: 'refused', code: 'unknown-item' };
	if (item.address === null) return { kind: 'refused', code: 'no-page' };
	if (await planOfItem(app.db, itemId)) return { kind: 'refused', code: 'is-sold' };
	const consent = await consentOf(app, agreedTo);
	const plan: PlanWish = { ...ALONE, name: item.title.slice(0, LONGEST_NAME), terms, access };
	const planId = consent.mint.id('plan');
	const limits: Limits =
		uses === null ? NO_LIMITS : { ...NO_LIMITS, uses: { count: uses, per: 'grant' as const } };
	const opens = changesFor(
		policy,
		await allFences(app.db),
		{ id: planId, name: plan.name },
		{ kind: 'chosen', ids: [itemId] },
		consent.mint
	);
	const changes = opens.changes.map(({ before, after }) => ({
		before,
		after: after && { ...after, crossings: after.crossings.map((one) => ({ ...one, limits })) }
	}));
	const { isPublic, isOnSale, afterLapse, rung } = plan;
	const sold = { id: planId, ladderId: null, isPublic, isOnSale, afterLapse, rung };
	const change = (source: PolicySource) =>
		withOpens({ ...source, plans: [...source.plans, sold] }, changes, opens.toClose);
	const saved = await saveRehearsed(app, actor, consent, change, async (work) => {
		await writePlan(work, planId, plan, itemId);
		await writeOpens(work, changes, opens.toClose);
	});
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved', planId };
}

const ALONE: Omit<PlanWish, 'name' | 'terms' | 'access'> = {
	...SOLD_HERE,
	lines: [],
	note: '',
	lessFor: null,
	priceName: '',
	payBy: null,
	isOpenAtOnce: true,
	isPublic: true,
	isOnSale: true,
	afterLapse: 'on',
	ladder: null,
	rung: 1
};
