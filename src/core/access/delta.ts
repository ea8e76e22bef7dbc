/**
 * A change of the policy: what it touches, before and after.
 *
 * Versions of a policy cost what changed and not the whole of it; a change can be read, agreed to and undone. Deltas are
 * sorted, and written in one spelling only, so that the same change has the same digest wherever it is worked out. Example:
 * closing one item's base is one entry, the resource as it was and as it will be.
 */
import { drained, each } from '../pieces';
import type { AccessPlan, Fence, NamedMember, PolicySource, Release, Resource } from './model';

/** What stands in the policy beside its lists. */
export type SiteRules = Pick<PolicySource, 'turnAway' | 'limits' | 'zone' | 'releaseHour' | 'lapseAfterDays'>;

export interface Entities {
	resource: Resource;
	fence: Fence;
	plan: AccessPlan;
	release: Release;
	/** Changes with a fence and stands with the member, see `namings.ts`. */
	naming: NamedMember;
	site: SiteRules;
}
export type EntityKind = keyof Entities;

interface ChangeOf<K extends EntityKind> {
	kind: K;
	/** `site` has one, and its id is empty. */
	id: string;
	/** `null`: it was not there. */
	before: Entities[K] | null;
	/** `null`: it is not there any more. */
	after: Entities[K] | null;
}
export type Change = { [K in EntityKind]: ChangeOf<K> }[EntityKind];
export type Delta = readonly Change[];

export function keyOf({ kind, id }: Pick<Change, 'kind' | 'id'>): string {
	return `${kind}:${id}`;
}

export function siteOf({ turnAway, limits, zone, releaseHour, lapseAfterDays }: PolicySource): SiteRules {
	return { turnAway, limits, zone, releaseHour, lapseAfterDays };
}

/** So many changes are compared, or spelled, without a pause. */
export const CHANGES_AT_ONCE = 250;

/** Entries whose two sides say the same are no change and are left out. In pieces. */
export function* comparing(changes: readonly Change[]): Generator<void, Delta> {
	const kept: { key: string; change: Change }[] = [];
	yield* each(changes, CHANGES_AT_ONCE, (one) => {
		const change = plain(one);
		if (saysAnother(change)) kept.push({ key: keyOf(change), change });
	});
	kept.sort((a, b) => (a.key < b.key ? -1 : a.key > b.key ? 1 : 0));
	return kept.map(({ change }) => change);
}

function saysAnother({ before, after }: Change): boolean {
	if (before === null || after === null) return before !== after;
	return canonical(before) !== canonical(after);
}

/** Only what decides, and lists that have no order in one order. */
function plain(change: Change): Change {
	const { kind, id, before, after } = change;
	return {
		kind,
		id,
		before: before && PLAIN[kind](before as never),
		after: after && PLAIN[kind](after as never)
	} as Change;
}

const PLAIN: { [K in EntityKind]: (one: Entities[K]) => Entities[K] } = {
	resource: ({
		id,
		kind,
		state,
		publishAt,
		base,
		siteId,
		address,
		homeId,
		categoryId,
		tagIds,
		extension
	}) => ({
		id,
		kind,
		state,
		publishAt,
		base,
		...(siteId === undefined ? {} : { siteId }),
		address,
		homeId,
		categoryId,
		tagIds: [...new Set(tagIds)].sort(),
		extension
	}),
	fence: ({ id, name, isOn, mode, selector, crossings, turnAway, listing, createdAt }) => ({
		id,
		name,
		isOn,
		mode,
		selector,
		crossings: crossings.map((one) => ({
			id: one.id,
			audience: one.audience,
			window: one.window,
			limits: one.limits,
			isThroughout: one.isThroughout
		})),
		turnAway,
		listing,
		createdAt
	}),
	plan: ({ id, isPublic, isOnSale, ladderId, rung, afterLapse, soldTo, firstDay, given }) => ({
		id,
		isPublic,
		isOnSale,
		ladderId,
		rung,
		afterLapse,
		...(soldTo ? { soldTo } : {}),
		...(firstDay === undefined ? {} : { firstDay }),
		...(given ? { given } : {})
	}),
	release: ({ id, planId, target, window }) => ({ id, planId, target, window }),
	naming: ({ crossingId, memberId, since }) => ({ crossingId, memberId, since }),
	site: (rules) => siteOf(rules as PolicySource)
};

export function deltaBetween(before: PolicySource, after: PolicySource): Delta {
	return drained(comparingSources(before, after));
}

/** The same in pieces. */
export function* comparingSources(before: PolicySource, after: PolicySource): Generator<void, Delta> {
	const changes: Change[] = [{ kind: 'site', id: '', before: siteOf(before), after: siteOf(after) }];
	const compare = <K extends 'resource' | 'fence' | 'plan' | 'release'>(
		kind: K,
		was: readonly Entities[K][],
		is: readonly Entities[K][]
	) => {
		if (was === is) return;
		// Whoever changes a list leaves the most of it as it is.
		let alike = 0;
		while (alike < was.length && was[alike] === is[alike]) alike++;
		const known = new Map(was.slice(alike).map((one) => [one.id, one]));
		for (const one of is.slice(alike)) {
			const old = known.get(one.id) ?? null;
			known.delete(one.id);
			// Whoever changes a source leaves what stays as the same object.
			if (old !== one) changes.push({ kind, id: one.id, before: old, after: one } as Change);
		}
		for (const [id, old] of known) changes.push({ kind, id, before: old, after: null } as Change);
	};
	compare('resource', before.resources, after.resources);
	compare('fence', before.fences, after.fences);
	compare('plan', before.plans, after.plans);
	compare('release', before.releases, after.releases);
	yield;
	return yield* comparing(changes);
}

/** The source after a change. What is new comes last, as what was made last does. */
export function applied(source: PolicySource, delta: Delta): PolicySource {
	if (delta.length === 0) return source;
	const of = <K extends 'resource' | 'fence' | 'plan' | 'release'>(
		kind: K,
		list: readonly Entities[K][]
	): Entities[K][] => {
		const changed = new Map(
			delta.filter((one) => one.kind === kind).map((one) => [one.id, one.after as Entities[K] | null])
		);
		if (changed.size === 0) return list as Entities[K][];
		const kept: Entities[K][] = [];
		for (const one of list) {
			const after = changed.get(one.id);
			if (after === undefined) kept.push(one);
			else {
				changed.delete(one.id);
				if (after !== null) kept.push(after);
			}
		}
		for (const one of changed.values()) if (one !== null) kept.push(one);
		return kept;
	};
	const site = delta.find((one) => one.kind === 'site')?.after ?? siteOf(source);
	return {
		...(site as SiteRules),
		resources: of('resource', source.resources),
		fences: of('fence', source.fences),
		plans: of('plan', source.plans),
		releases: of('release', source.releases)
	};
}

/** Several changes, one after the other, as one. */
export function joined(deltas: Iterable<Delta>): Delta {
	const byKey = new Map<string, Change>();
	for (const delta of deltas)
		for (const change of delta) {
			const key = keyOf(change);
			const first = byKey.get(key);
			byKey.set(key, first ? ({ ...change, before: first.before } as Change) : change);
		}
	return [...byKey.values()];
}

/** The change that takes a change back. */
export function undone(delta: Delta): Delta {
	return delta.map((one) => ({ ...one, before: one.after, after: one.before }) as Change);
}

/** One spelling: keys in order, no space. What is digested and compared. */
export function canonical(value: unknown): string {
	if (Array.isArray(value)) return `[${value.map(canonical).join(',')}]`;
	if (typeof value !== 'object' || value === null) return JSON.stringify(value) ?? 'null';
	let text = '';
	for (const name of Object.keys(value).sort()) {
		const one = (value as Record<string, unknown>)[name];
		if (one !== undefined) text += `${text === '' ? '' : ','}${JSON.stringify(name)}:${canonical(one)}`;
	}
	return `{${text}}`;
}
