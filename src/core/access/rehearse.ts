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
import { decideAddress } from './decide';
import { NO_CONTEXT, type Member, type Viewer } from './model';
import type { Policy } from './policy';
import { assuming, setsOf, type Assumption } from './timeline';
import { drained } from './selector';

export const EFFECTS = ['gains-now', 'loses-now', 'gains-later', 'loses-later'] as const;
export type EffectKind = (typeof EFFECTS)[number];

/** Members of equal standing. */
export interface Group {
	viewer: Member;
	memberIds: string[];
}

export interface RehearsedEffect {
	kind: EffectKind;
	/** When it begins. */
	at: Instant;
	/** For losses: when it opens again; `null` when it does not. */
	backAt: Instant | null;
	/** Resources that it happens to alike. */
	resourceIds: readonly string[];
	/** Index into `groups`. */
	group: number;
}

export interface NewcomerEffect {
	planId: string;
	kind: EffectKind;
	at: Instant;
	backAt: Instant | null;
	resourceIds: readonly string[];
}

export interface Rehearsal {
	groups: readonly Group[];
	effects: RehearsedEffect[];
	/** How many members each happens to, whatever the number of resources. */
	members: Record<EffectKind, number>;
	/** For somebody who joins a plan tomorrow. */
	newcomers: NewcomerEffect[];
	becomesPublic: string[];
	closesToPublic: string[];
	/** Addresses that no resource has, such as the front page: those that open or close to anyone. */
	listsOpen: string[];
	listsClose: string[];
}

const DAY_MS = 86_400_000;

export interface RehearsalAsk {
	before: Policy;
	after: Policy;
	groups: readonly Group[];
	from: Instant;
	assume: Assumption;
	/** Addresses that no resource has, and that are looked at, too: the front page, the lists of labels. */
	addresses?: readonly string[];
}

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
	addresses = []
}: RehearsalAsk): Generator<void, Rehearsal> {
	const classes = changedClasses(before, after);
	const effects: RehearsedEffect[] = [];
	const happensTo: Record<EffectKind, Set<number>> = {
		'gains-now': new Set(),
		'loses-now': new Set(),
		'gains-later': new Set(),
		'loses-later': new Set()
	};
	const byPlans = new Map<string, Bucket[]>();
	for (let group = 0; group < groups.length; group++) {
		if (group % AT_ONCE === AT_ONCE - 1) yield;
		const viewer = groups[group]?.viewer;
		if (!viewer || viewer.isStaff) continue;
		const held = plansOf(viewer);
		let buckets = byPlans.get(held.key);
		if (!buckets) byPlans.set(held.key, (buckets = bucketsFor(classes, held.planIds)));
		if (buckets.length === 0) continue;
		const assumed = assuming(viewer, assume);
		for (const { id, resourceIds } of buckets) {
			for (const effect of compare(before, after, assumed, id, from)) {
				effects.push({ ...effect, resourceIds, group });
				happensTo[effect.kind].add(group);
			}
		}
	}
	const count = (kind: EffectKind) =>
		[...happensTo[kind]].reduce((sum, group) => sum + (groups[group]?.memberIds.length ?? 0), 0);
	return {
		groups,
		effects,
		members: {
			'gains-now': count('gains-now'),
			'loses-now': count('loses-now'),
			'gains-later': count('gains-later'),
			'loses-later': count('loses-later')
		},
		newcomers: newcomers(before, after, classes, from),
		...publicly(before, after, classes, from),
		...listsPublicly(before, after, addresses, from)
	};
}

/** Whether saving may go ahead without asking: nobody gains, loses or waits, and nothing becomes public. */
export function changesNothing(rehearsal: Rehearsal): boolean {
	return (
		rehearsal.effects.length === 0 &&
		rehearsal.newcomers.length === 0 &&
		rehearsal.becomesPublic.length === 0 &&
		rehearsal.closesToPublic.length === 0 &&
		rehearsal.listsOpen.length === 0 &&
		rehearsal.listsClose.length === 0
	);
}

/** Puts members of equal standing together. `isTold` members (named in a crossing) stand alone. */
export function groupByStanding(members: readonly Member[], namedIds: ReadonlySet<string>): Group[] {
	const groups = new Map<string, Group>();
	for (const viewer of members) {
		const key = standingKey(viewer, namedIds);
		const known = groups.get(key);
		if (known) known.memberIds.push(viewer.id);
		else groups.set(key, { viewer, memberIds: [viewer.id] });
	}
	return [...groups.values()];
}

function standingKey(viewer: Member, namedIds: ReadonlySet<string>): string {
	if (namedIds.has(viewer.id) || viewer.isStaff) return viewer.id;
	let key = String(viewer.since);
	for (const g of viewer.grants) {
		const period = g.period ? `${g.period.count}${g.period.unit}` : '';
		key += `|${g.planId},${g.from},${g.until},${g.revokedAt},${g.renews ? 1 : 0},${period}`;
	}
	for (const t of viewer.tenures) key += `;${t.planId},${t.firstJoinedAt}`;
	for (const r of viewer.redemptions) key += `#${r.batchId},${r.at}`;
	return key;
}

/** Members that some crossing names. */
export function namedIn(...policies: Policy[]): Set<string> {
	const named = policies.flatMap(({ source }) =>
		source.fences.flatMap(({ crossings }) =>
			crossings.flatMap(({ audience }) => (audience.kind === 'named' ? audience.members : []))
		)
	);
	return new Set(named.map(({ memberId }) => memberId));
}

/** Resources whose way in changes, those that change alike together. */
interface ChangedClass {
	/** One of them, to compute with. */
	id: string;
	resourceIds: string[];
	/** What each plan's holders find, before and after; `null` when more than plans decides. */
	plans: { before: ReadonlyMap<string, string>; after: ReadonlyMap<string, string> } | null;
	/** Both signatures. */
	key: string;
}

/** Resources that change alike for whoever holds certain plans. */
interface Bucket {
	id: string;
	resourceIds: string[];
}

function changedClasses(before: Policy, after: Policy): ChangedClass[] {
	const classes = new Map<string, ChangedClass>();
	const ids = new Set([...before.resources.keys(), ...after.resources.keys()]);
	for (const id of ids) {
		const was = signature(before, id, []);
		const is = signature(after, id, []);
		if (was === is) continue;
		const key = `${was}→${is}`;
		const known = classes.get(key);
		if (known) known.resourceIds.push(id);
		else classes.set(key, { id, resourceIds: [id], plans: plansThatDecide(before, after, id), key });
	}
	return [...classes.values()];
}

/** Classes that differ only in what other plans find are one for these; where nothing of theirs differs, none. */
function bucketsFor(classes: readonly ChangedClass[], planIds: readonly string[]): Bucket[] {
	const buckets = new Map<string, Bucket>();
	for (const { id, resourceIds, plans, key } of classes) {
		let name = key;
		if (plans) {
			const was = planIds.map((planId) => plans.before.get(planId) ?? '-').join('|');
			const is = planIds.map((planId) => plans.after.get(planId) ?? '-').join('|');
			if (was === is) continue;
			name = `${was}→${is}`;
		}
		const known = buckets.get(name);
		if (known) known.resourceIds.push(...resourceIds);
		else buckets.set(name, { id, resourceIds: [...resourceIds] });
	}
	return [...buckets.values()];
}

function plansThatDecide(before: Policy, after: Policy, id: string): ChangedClass['plans'] {
	const was = ofPlans(before, id);
	const is = ofPlans(after, id);
	return was && is ? { before: was, after: is } : null;
}

function compare(
	before: Policy,
	after: Policy,
	viewer: Viewer,
	id: string,
	from: Instant
): { kind: EffectKind; at: Instant; backAt: Instant | null }[] {
	const was = setsOf(before, viewer, id, NO_CONTEXT, []).open;
	const is = setsOf(after, viewer, id, NO_CONTEXT, []).open;
	if (isSame(was, is)) return [];
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
		const back = is.find(
			({ start, end }) => start > firstLoss.start || end === null || end > firstLoss.start
		);
		const kind = isIn(lost, from) ? 'loses-now' : 'loses-later';
		effects.push({ kind, at: firstLoss.start, backAt: back ? Math.max(back.start, firstLoss.start) : null });
	}
	return effects;
}

function isSame(a: IntervalSet, b: IntervalSet): boolean {
	return a.length === b.length && a.every(({ start, end }, n) => start === b[n]?.start && end === b[n]?.end);
}

/** Somebody who joins each plan a day later, and stays. */
function newcomers(
	before: Policy,
	after: Policy,
	classes: readonly ChangedClass[],
	from: Instant
): NewcomerEffect[] {
	const start = from + DAY_MS;
	const planIds = new Set([...before.plans.keys(), ...after.plans.keys()]);
	return [...planIds].flatMap((planId) => {
		const viewer = newcomer(planId, start);
		return bucketsFor(classes, [planId]).flatMap(({ id, resourceIds }) =>
			compare(before, after, viewer, id, start).map((effect) => ({ planId, ...effect, resourceIds }))
		);
	});
}

export function newcomer(planId: string, joinedAt: Instant): Member {
	return {
		kind: 'member',
		id: '',
		isStaff: false,
		since: joinedAt,
		grants: [
			{
				id: `newcomer-${planId}`,
				planId,
				from: joinedAt,
				until: null,
				revokedAt: null,
				source: 'order',
				renews: false,
				period: null
			}
		],
		tenures: [],
		redemptions: []
	};
}

function publicly(before: Policy, after: Policy, classes: readonly ChangedClass[], from: Instant) {
	const stranger: Viewer = { kind: 'stranger', redemptions: [] };
	const isOpen = (policy: Policy, { id }: ChangedClass) =>
		isIn(setsOf(policy, stranger, id, NO_CONTEXT, []).open, from);
	const of = (isAsked: (one: ChangedClass) => boolean) =>
		classes.filter(isAsked).flatMap(({ resourceIds }) => resourceIds);
	return {
		becomesPublic: of((one) => isOpen(after, one) && !isOpen(before, one)),
		closesToPublic: of((one) => isOpen(before, one) && !isOpen(after, one))
	};
}

function listsPublicly(before: Policy, after: Policy, addresses: readonly string[], from: Instant) {
	const stranger: Viewer = { kind: 'stranger', redemptions: [] };
	const isOpen = (policy: Policy, path: string) =>
		decideAddress(policy, stranger, path, from).verdict === 'open';
	return {
		listsOpen: addresses.filter((path) => isOpen(after, path) && !isOpen(before, path)),
		listsClose: addresses.filter((path) => isOpen(before, path) && !isOpen(after, path))
	};
}

/** Whom and what an effect concerns, a row each: as many as members times resources. */
export function* rowsOf(
	rehearsal: Rehearsal,
	kind: EffectKind | null
): Generator<{
	memberId: string;
	resourceId: string;
	kind: EffectKind;
	at: Instant;
	backAt: Instant | null;
}> {
	for (const effect of rehearsal.effects) {
		if (kind !== null && effect.kind !== kind) continue;
		for (const memberId of rehearsal.groups[effect.group]?.memberIds ?? [])
			for (const resourceId of effect.resourceIds)
				yield { memberId, resourceId, kind: effect.kind, at: effect.at, backAt: effect.backAt };
	}
}
