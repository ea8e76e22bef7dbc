/**
 * What a change would do, before it is saved: who gains, who loses, now and later, and what becomes public.
 *
 * Whole timelines are compared, from a moment on. Members of equal standing are looked at once, and so are resources
 * whose way in changes equally; a member who holds nothing that the change speaks of is not looked at. Example: a release
 * that moves from week 3 to week 8 changes nothing now; whoever is in week 2 loses [week 3, week 8) and is told to wait.
 */
import type { Instant } from '../time/instant';
import { between, intersect, isIn, without, type IntervalSet } from '../time/interval-set';
import { ofPlans, plansOf, signature } from './alike';
import { NO_CONTEXT, STRANGER, type Member, type NamedMember, type Viewer } from './model';
import { namedAnew, type NamingChange } from './namings';
import { givenTo, newcomer, signedUp } from './newcomers';
import type { Policy } from './policy';
import { assuming, setsOf, type Assumption } from './timeline';
import { drained, each } from '../pieces';

export const EFFECTS = ['gains-now', 'loses-now', 'gains-later', 'loses-later'] as const;
export type EffectKind = (typeof EFFECTS)[number];

/** Members of equal standing, or devices without an account that redeemed the same codes at the same moments. */
export interface Group {
	viewer: Viewer;
	memberIds: string[];
	devices: number;
	/** How they stand after the change, where the same save gives them something; left out: as before. */
	becomes?: Member;
}

export type MemberGroup = Group & { viewer: Member };

export interface RehearsedEffect {
	kind: EffectKind;
	/** When it begins. */
	at: Instant;
	/** For losses: when it opens again; `null` when it does not. */
	backAt: Instant | null;
	/** Places that it happens to alike: resources, and by their paths pages that belong to none. */
	placeIds: readonly string[];
	/** Index into `groups`. */
	group: number;
}

/** Somebody who is no member: a stranger now, or whoever does something tomorrow and stays. */
export type Outsider =
	| { kind: 'stranger' }
	| { kind: 'signs-up' }
	| { kind: 'joins'; planId: string }
	| { kind: 'redeems'; batchId: string };

export interface OutsiderEffect {
	who: Outsider;
	kind: EffectKind;
	at: Instant;
	backAt: Instant | null;
	placeIds: readonly string[];
}

export interface Rehearsal {
	groups: readonly Group[];
	effects: RehearsedEffect[];
	/** How many members each happens to, whatever the number of places. */
	members: Record<EffectKind, number>;
	devices: Record<EffectKind, number>;
	/** Strangers first; what happens to them is not said again of others. */
	outsiders: OutsiderEffect[];
}

const DAY_MS = 86_400_000;

export interface RehearsalAsk {
	before: Policy;
	after: Policy;
	groups: readonly Group[];
	from: Instant;
	assume: Assumption;
	/** Who is named, or named no longer, by the same change. They have to stand alone in the groups, as they are before it. */
	namings?: readonly NamingChange[];
	/** Addresses that no resource has, and that are looked at, too: the front page, the lists of labels. */
	addresses?: readonly string[];
}

/** Places looked at between two pauses. */
const PLACES_AT_ONCE = 2000;

/** Groups looked at between two pauses. */
const AT_ONCE = 2048;

export function rehearse(ask: RehearsalAsk): Rehearsal {
	return drained(rehearsing(ask));
}

/** In pieces, so that whoever runs it can do other things between them, or stop. */
export function* rehearsing({
	before,
	after,
	groups,
	from,
	assume,
	namings = [],
	addresses = []
}: RehearsalAsk): Generator<void, Rehearsal> {
	const moved = new Map<string, NamingChange[]>();
	for (const change of namings) {
		const { memberId } = (change.after ?? change.before) as NamedMember;
		moved.set(memberId, [...(moved.get(memberId) ?? []), change]);
	}
	const crossingIds = new Set(namings.map(({ before, after }) => (after ?? before)?.crossingId ?? ''));
	const classes = yield* changedClasses(before, after, addresses, crossingIds);
	const effects: RehearsedEffect[] = [];
	const happensTo = byEffect(() => new Set<number>());
	const byPlans = new Map<string, Bucket[]>();
	yield* each(groups.entries(), AT_ONCE, ([group, { viewer, becomes }]) => {
		if (viewer.kind === 'member' && viewer.isStaff) return;
		const held = plansOf(viewer);
		const holds = becomes ? plansOf(becomes) : held;
		const own = viewer.kind === 'member' ? moved.get(viewer.id) : undefined;
		const key = `${own ? `${held.key} named anew` : held.key}→${holds.key}`;
		let buckets = byPlans.get(key);
		if (!buckets)
			byPlans.set(key, (buckets = bucketsFor(classes, held.planIds, own !== undefined, holds.planIds)));
		if (buckets.length === 0) return;
		const was = assuming(viewer, assume);
		const stands = becomes ? assuming(becomes, assume) : was;
		const is = own && stands.kind === 'member' ? namedAnew(stands, own) : stands;
		for (const { id, placeIds } of buckets) {
			for (const effect of difference(openIn(before, was, id), openIn(after, is, id), from)) {
				effects.push({ ...effect, placeIds, group });
				happensTo[effect.kind].add(group);
			}
		}
	});
	const count = (kind: EffectKind, of: (group: Group) => number) =>
		groups.reduce((sum, group, n) => (happensTo[kind].has(n) ? sum + of(group) : sum), 0);
	return {
		groups: groups.map(({ viewer, memberIds, devices }) => ({ viewer, memberIds, devices })),
		effects,
		members: byEffect((kind) => count(kind, ({ memberIds }) => memberIds.length)),
		devices: byEffect((kind) => count(kind, ({ devices }) => devices)),
		outsiders: outsiders(
			before,
			after,
			classes,
			isGivenAnew(before, after) ? yield* everywhere(before, after) : classes,
			from
		)
	};
}

/** Whether new accounts are given something else. */
function isGivenAnew(before: Policy, after: Policy): boolean {
	const of = ({ source }: Policy) =>
		JSON.stringify(source.plans.flatMap(({ id, given }) => (given ? [{ id, given }] : [])));
	return of(before) !== of(after);
}

export function byEffect<T>(of: (kind: EffectKind) => T): Record<EffectKind, T> {
	return Object.fromEntries(EFFECTS.map((kind) => [kind, of(kind)])) as Record<EffectKind, T>;
}

/** Whether saving may go ahead without asking: nobody gains, loses or waits, now or later, and nothing becomes public. */
export function changesNothing({ effects, outsiders }: Rehearsal): boolean {
	return effects.length === 0 && outsiders.length === 0;
}

/** Those of the groups who are given something by the change stand apart, each with how they stand then. */
export function becoming(
	groups: readonly MemberGroup[],
	chosen: ReadonlySet<string>,
	become: (member: Member) => Member
): Group[] {
	return groups.flatMap((group): Group[] => {
		const [some, others]: [string[], string[]] = [[], []];
		for (const id of group.memberIds) (chosen.has(id) ? some : others).push(id);
		if (some.length === 0) return [group];
		const given = { ...group, memberIds: some, becomes: become(group.viewer) };
		return others.length === 0 ? [given] : [given, { ...group, memberIds: others }];
	});
}

/** Puts members of equal standing together. @param alone stand alone, whatever they have */
export function groupByStanding(members: readonly Member[], alone: ReadonlySet<string>): MemberGroup[] {
	const groups = new Map<string, MemberGroup>();
	for (const viewer of members) {
		const key = standingKey(viewer, alone);
		const known = groups.get(key);
		if (known) known.memberIds.push(viewer.id);
		else groups.set(key, { viewer, memberIds: [viewer.id], devices: 0 });
	}
	return [...groups.values()];
}

/** Equal for members of whom every rule says the same. */
export function standingKey(viewer: Member, alone: ReadonlySet<string>): string {
	if (alone.has(viewer.id) || viewer.isStaff) return viewer.id;
	let key = String(viewer.since);
	for (const g of viewer.grants) {
		const period = g.period ? `${g.period.count}${g.period.unit}` : '';
		key += `|${g.planId},${g.from},${g.until},${g.revokedAt},${g.renews ? 1 : 0},${period}`;
	}
	for (const t of viewer.tenures) key += `;${t.planId},${t.firstJoinedAt},${t.isSetByHand ? 1 : 0}`;
	for (const r of viewer.redemptions) key += `#${r.batchId},${r.at}`;
	for (const n of viewer.namings) key += `@${n.crossingId},${n.since}`;
	return key;
}

/** Batches that some crossing is for. */
export function batchesIn(...policies: Policy[]): Set<string> {
	return new Set(
		policies.flatMap(({ source }) =>
			source.fences.flatMap(({ crossings }) =>
				crossings.flatMap(({ audience }) => (audience.kind === 'code' ? [audience.batchId] : []))
			)
		)
	);
}

/** Places whose way in changes, those that change alike together. */
interface ChangedClass {
	/** One of them, to compute with. */
	id: string;
	placeIds: string[];
	/** What each plan's holders find, before and after; `null` when more than plans decides. */
	plans: { before: ReadonlyMap<string, string>; after: ReadonlyMap<string, string> } | null;
	/** Both signatures. */
	key: string;
	/** Nothing but who is named there changes: whoever is not named anew finds it as it was. */
	isForNamed: boolean;
}

/** Places that change alike for whoever holds certain plans. */
interface Bucket {
	id: string;
	placeIds: string[];
}

function* changedClasses(
	before: Policy,
	after: Policy,
	addresses: readonly string[],
	crossingIds: ReadonlySet<string>
): Generator<void, ChangedClass[]> {
	const classes = new Map<string, ChangedClass>();
	const ids = new Set([...before.resources.keys(), ...after.resources.keys(), ...addresses]);
	yield* each(ids, PLACES_AT_ONCE, (id) => {
		if (crossingIds.size === 0 && isUntouched(before, after, id)) return;
		const was = signature(before, id, []);
		const is = signature(after, id, []);
		const isForNamed = was === is;
		if (isForNamed && !follows(after, id, crossingIds)) return;
		const key = `${was}→${is}`;
		const known = classes.get(key);
		if (known) known.placeIds.push(id);
		else classes.set(key, { id, placeIds: [id], plans: plansThatDecide(before, after, id), key, isForNamed });
	});
	return [...classes.values()];
}

/** All places, by what decides there: for those to whom something else happens although no place changes. */
function* everywhere(before: Policy, after: Policy): Generator<void, ChangedClass[]> {
	const classes = new Map<string, ChangedClass>();
	const ids = new Set([...before.resources.keys(), ...after.resources.keys()]);
	yield* each(ids, PLACES_AT_ONCE, (id) => {
		const key = `${signature(before, id, [])}→${signature(after, id, [])}`;
		const known = classes.get(key);
		if (known) known.placeIds.push(id);
		else
			classes.set(key, {
				...{ id, placeIds: [id], key, isForNamed: false },
				plans: plansThatDecide(before, after, id)
			});
	});
	return [...classes.values()];
}

/** Whether nothing was filed anew there: a policy that was changed keeps what the change does not touch. */
function isUntouched(before: Policy, after: Policy, id: string): boolean {
	const was = before.place(id);
	const is = after.place(id);
	if (was?.passage !== is?.passage || before.resources.get(id) !== after.resources.get(id)) return false;
	return was?.passage.ways.every(({ crossing }) => crossing.audience.kind !== 'may-open') ?? true;
}

/** Classes that differ only in what other plans find are one for these; where nothing of theirs differs, none. */
function bucketsFor(
	classes: readonly ChangedClass[],
	planIds: readonly string[],
	isNamedAnew = false,
	/** What is held after the change, where that is something else. */
	planIdsAfter: readonly string[] = planIds
): Bucket[] {
	const buckets = new Map<string, Bucket>();
	for (const { id, placeIds, plans, key, isForNamed } of classes) {
		if (isForNamed && !isNamedAnew) continue;
		let name = key;
		if (plans) {
			const was = planIds.map((planId) => plans.before.get(planId) ?? '-').join('|');
			const is = planIdsAfter.map((planId) => plans.after.get(planId) ?? '-').join('|');
			if (was === is && planIds === planIdsAfter) continue;
			name = `${was}→${is}`;
		}
		const known = buckets.get(name);
		if (known) known.placeIds.push(...placeIds);
		else buckets.set(name, { id, placeIds: [...placeIds] });
	}
	return [...buckets.values()];
}

function plansThatDecide(before: Policy, after: Policy, id: string): ChangedClass['plans'] {
	const was = ofPlans(before, id);
	const is = ofPlans(after, id);
	return was && is ? { before: was, after: is } : null;
}

/** Whether one of the crossings counts at a place, or at what it follows the rules of. */
function follows(
	policy: Policy,
	id: string,
	crossingIds: ReadonlySet<string>,
	visited = new Set<string>()
): boolean {
	if (crossingIds.size === 0 || visited.has(id)) return false;
	visited.add(id);
	return (policy.place(id)?.passage.ways ?? []).some(
		({ crossing: { id: crossingId, audience } }) =>
			crossingIds.has(crossingId) ||
			(audience.kind === 'may-open' && follows(policy, audience.resourceId, crossingIds, visited))
	);
}

/** When a place is open to somebody, limits aside. */
export function openIn(policy: Policy, viewer: Viewer, id: string): IntervalSet {
	return setsOf(policy, viewer, id, NO_CONTEXT, []).open;
}

/** What somebody gains and loses first from a moment on, whose open times were one set and will be another. */
export function difference(
	was: IntervalSet,
	is: IntervalSet,
	from: Instant
): { kind: EffectKind; at: Instant; backAt: Instant | null }[] {
	const onwards = between(from, null);
	const gained = intersect(without(is, was), onwards);
	const lost = intersect(without(was, is), onwards);
	const effects: { kind: EffectKind; at: Instant; backAt: Instant | null }[] = [];
	const [firstGain] = gained;
	const [firstLoss] = lost;
	if (firstGain)
		effects.push({
			kind: isIn(gained, from) ? 'gains-now' : 'gains-later',
			at: firstGain.start,
			backAt: null
		});
	if (firstLoss) {
		const back = is.find(({ start }) => start > firstLoss.start);
		const kind = isIn(lost, from) ? 'loses-now' : 'loses-later';
		effects.push({ kind, at: firstLoss.start, backAt: back?.start ?? null });
	}
	return effects;
}

/** Somebody as they would be by the rules of before, and by those of after. */
interface Eyes {
	was: Viewer;
	is: Viewer;
}

/** Strangers, and whoever signs up, joins a plan or redeems a code a day later, and stays. */
function outsiders(
	before: Policy,
	after: Policy,
	classes: readonly ChangedClass[],
	/** Those that are looked at for whoever signs up. */
	ofNew: readonly ChangedClass[],
	from: Instant
): OutsiderEffect[] {
	const start = from + DAY_MS;
	const signsUp: Eyes = { was: signedUp(before.source, start), is: signedUp(after.source, start) };
	const given = (policy: Policy) => givenTo(policy.source, start).map(({ planId }) => planId);
	const found: OutsiderEffect[] = [];
	/** By effect: the places of which it is said already, of those whom all others have part with. */
	const said = new Map<string, Set<string>>();
	const look = (who: Outsider, { was, is }: Eyes, moment: Instant, buckets: readonly Bucket[]) => {
		const lines = new Map<string, { placeIds: string[] }>();
		for (const { id, placeIds } of buckets) {
			for (const effect of difference(openIn(before, was, id), openIn(after, is, id), moment)) {
				const { kind, at, backAt } = effect;
				const name = `${kind} ${kind.endsWith('now') ? '' : at} ${backAt}`;
				const unsaid = placeIds.filter((placeId) => !said.get(name)?.has(placeId));
				if (unsaid.length === 0) continue;
				const line = lines.get(name);
				if (line) line.placeIds.push(...unsaid);
				else {
					const made = { who, kind, at, backAt, placeIds: unsaid };
					lines.set(name, made);
					found.push(made);
				}
			}
		}
		if (who.kind !== 'stranger' && who.kind !== 'signs-up') return;
		for (const [name, { placeIds }] of lines)
			said.set(name, new Set([...(said.get(name) ?? []), ...placeIds]));
	};
	const alike = (viewer: Viewer): Eyes => ({ was: viewer, is: viewer });
	look({ kind: 'stranger' }, alike(STRANGER), from, bucketsFor(classes, []));
	const [held, holds] = [given(before), given(after)];
	look(
		{ kind: 'signs-up' },
		signsUp,
		start,
		bucketsFor(ofNew, held, false, ofNew === classes ? held : holds)
	);
	// What a plan opens that is made by the change itself is what the change is for.
	for (const planId of before.plans.keys())
		look({ kind: 'joins', planId }, alike(newcomer(planId, start)), start, bucketsFor(classes, [planId]));
	for (const batchId of batchesIn(before, after)) {
		const redeems = { ...newcomer('', start), grants: [], redemptions: [{ batchId, at: start }] };
		look({ kind: 'redeems', batchId }, alike(redeems), start, bucketsFor(classes, []));
	}
	return found;
}

/** Whom and what an effect concerns, a row each: as many as members times places. */
export function* rowsOf(
	rehearsal: Rehearsal,
	kind: EffectKind | null
): Generator<{
	memberId: string;
	placeId: string;
	kind: EffectKind;
	at: Instant;
	backAt: Instant | null;
}> {
	for (const effect of rehearsal.effects) {
		if (kind !== null && effect.kind !== kind) continue;
		for (const memberId of rehearsal.groups[effect.group]?.memberIds ?? [])
			for (const placeId of effect.placeIds)
				yield { memberId, placeId, kind: effect.kind, at: effect.at, backAt: effect.backAt };
	}
}
