/**
 * Compiles the sources of access into what `decide` walks.
 *
 * Each item gets the fences that catch it, in a fixed order (oldest first, then by id), the turn-away that counts where
 * several fences meet (the strictest: absent, sent, notice; then the oldest fence's), and the plans on public sale that
 * would open it. Example: two fences on one video join; a holder of a plan of either may cross.
 */
import type { AccessItem, AccessPlan, Audience, Fence, PolicySource, TurnAway } from './model';

export interface CompiledItem {
	item: AccessItem;
	/** Fences that are on and catch the item. */
	fences: Fence[];
	/** Fences that catch it but are off: passed over, and kept for the why. */
	passedOver: Fence[];
	/** Whether one of the fences replaces, so that the base is not reached. */
	isReplaced: boolean;
	turnAway: TurnAway;
	openedBy: string[];
}

export interface Policy {
	items: ReadonlyMap<string, CompiledItem>;
	byAddress: ReadonlyMap<string, CompiledItem>;
	plans: ReadonlyMap<string, AccessPlan>;
	/** For addresses that do not exist. */
	absent: TurnAway;
}

const STRICTNESS: Record<TurnAway['kind'], number> = { absent: 0, sent: 1, notice: 2 };

export function compile(source: PolicySource): Policy {
	const plans = new Map(source.plans.map((plan) => [plan.id, plan]));
	const items = new Map<string, CompiledItem>();
	const byAddress = new Map<string, CompiledItem>();
	for (const item of source.items) {
		const compiled: CompiledItem = {
			item,
			fences: [],
			passedOver: [],
			isReplaced: false,
			turnAway: source.defaultTurnAway,
			openedBy: []
		};
		items.set(item.id, compiled);
		byAddress.set(item.address, compiled);
	}
	for (const fence of [...source.fences].sort(
		(a, b) => a.createdAt - b.createdAt || (a.id < b.id ? -1 : 1)
	)) {
		for (const id of new Set(fence.selector.itemIds)) {
			const target = items.get(id);
			if (target) (fence.isOn ? target.fences : target.passedOver).push(fence);
		}
	}
	for (const compiled of items.values()) settle(compiled, plans);
	return { items, byAddress, plans, absent: { kind: 'absent' } };
}

/** What a plan's holders may open and strangers know of: the plan's contents, in the order of the items. */
export function itemsOpenedBy(policy: Policy, planId: string): AccessItem[] {
	const opened: AccessItem[] = [];
	for (const { item, fences } of policy.items.values()) {
		if (item.state === 'draft' || item.state === 'archived') continue;
		const names = fences.some((fence) => fence.crossings.some(({ audience }) => isFor(audience, planId)));
		if (names) opened.push(item);
	}
	return opened;
}

function isFor(audience: Audience, planId: string): boolean {
	return audience.kind === 'holders' && audience.planIds.includes(planId);
}

function settle(compiled: CompiledItem, plans: ReadonlyMap<string, AccessPlan>): void {
	compiled.isReplaced = compiled.fences.some((fence) => fence.mode === 'replaces');
	const own = compiled.fences.flatMap((fence) => (fence.turnAway ? [fence.turnAway] : []));
	if (own.length > 0)
		compiled.turnAway = own.reduce((a, b) => (STRICTNESS[b.kind] < STRICTNESS[a.kind] ? b : a));
	const planIds = new Set<string>();
	for (const fence of compiled.fences) {
		for (const { audience } of fence.crossings) {
			if (audience.kind === 'holders') audience.planIds.forEach((id) => planIds.add(id));
		}
	}
	compiled.openedBy = [...planIds].filter((id) => plans.get(id)?.isPublic && plans.get(id)?.isOnSale);
}
