/**
 * What would happen to members whose standings change while the rules stay: a first day that is set, a plan or a label that
 * is given to many, or ended. Members who stand alike before and after are looked at once.
 */
import { drained, each } from '../pieces';
import type { Instant } from '../time/instant';
import { alikeFor, plansOf, type AlikeClass } from './alike';
import type { Grant, Member } from './model';
import type { Policy } from './policy';
import {
	byEffect,
	difference,
	openIn,
	standingKey,
	type EffectKind,
	type MemberGroup,
	type RehearsedEffect,
	type Rehearsal
} from './rehearse';
import { assuming, type Assumption } from './timeline';

export interface MemberEffect {
	kind: EffectKind;
	at: Instant;
	backAt: Instant | null;
	placeIds: readonly string[];
}

/** What happens to one of them. @param classes of places that open alike for whoever has held these plans */
export function rehearseMember(
	policy: Policy,
	before: Member,
	after: Member,
	from: Instant,
	assume: Assumption,
	classes: readonly AlikeClass[] = alikeForBoth(policy, before, after)
): MemberEffect[] {
	const [was, is] = [assuming(before, assume), assuming(after, assume)];
	const found = new Map<string, MemberEffect & { placeIds: string[] }>();
	for (const { id, resourceIds } of classes) {
		for (const effect of difference(openIn(policy, was, id), openIn(policy, is, id), from)) {
			const key = `${effect.kind} ${effect.at} ${effect.backAt}`;
			const known = found.get(key);
			if (known) known.placeIds.push(...resourceIds);
			else found.set(key, { ...effect, placeIds: [...resourceIds] });
		}
	}
	return [...found.values()];
}

/** A member who is given a plan by hand: releases count from the earliest day, unless one was set. */
export function withGiven(
	member: Member,
	{
		planId,
		from,
		until,
		joined = from
	}: {
		planId: string;
		from: Instant;
		until: Instant | null;
		/** The day they first joined, where that was before. */
		joined?: Instant;
	}
): Member {
	const given = {
		...{ id: `given-${planId}-${member.id}`, planId, from, until, revokedAt: null },
		...{ source: 'hand' as const, renews: false, period: null }
	};
	const known = member.tenures.find((one) => one.planId === planId);
	const others = member.tenures.filter((one) => one !== known);
	const firstJoinedAt =
		known && (known.isSetByHand || known.firstJoinedAt < joined) ? known.firstJoinedAt : joined;
	const tenure = { planId, firstJoinedAt, isSetByHand: known?.isSetByHand ?? false };
	return { ...member, grants: [...member.grants, given], tenures: [...others, tenure] };
}

/** Whether a grant still lets in, or will. */
export function goesOn({ until, revokedAt }: Grant, now: Instant): boolean {
	return revokedAt === null && (until === null || until > now);
}

/** A member of whom some grants are ended now; those that are over already stay as they are. */
export function withEnded(member: Member, isMeant: (grant: Grant) => boolean, now: Instant): Member {
	const grants = member.grants.map((one) =>
		isMeant(one) && goesOn(one, now) ? { ...one, revokedAt: now, renews: false } : one
	);
	return { ...member, grants };
}

/** A member as they are, and as they would be. */
export interface ChangedMember {
	before: Member;
	after: Member;
}

/** Groups looked at between two pauses. */
const AT_ONCE = 16;

/** The same for many, told like any other rehearsal. Nobody who is no member is concerned. */
export function* rehearsingMembers(
	policy: Policy,
	changed: readonly ChangedMember[],
	from: Instant,
	assume: Assumption
): Generator<void, Rehearsal> {
	const alike = new Map<string, { group: MemberGroup; after: Member }>();
	for (const { before, after } of changed) {
		const key = `${standingKey(before, NOBODY)}→${standingKey(after, NOBODY)}`;
		const known = alike.get(key);
		if (known) known.group.memberIds.push(before.id);
		else alike.set(key, { group: { viewer: before, memberIds: [before.id], devices: 0 }, after });
	}
	const all = [...alike.values()];
	const effects: RehearsedEffect[] = [];
	const members = byEffect(() => 0);
	const byPlans = new Map<string, AlikeClass[]>();
	const classesFor = (before: Member, after: Member) => {
		const { key } = plansOf(both(before, after));
		let classes = byPlans.get(key);
		if (!classes) byPlans.set(key, (classes = alikeForBoth(policy, before, after)));
		return classes;
	};
	yield* each(all.entries(), AT_ONCE, ([n, { group, after }]) => {
		const own = rehearseMember(policy, group.viewer, after, from, assume, classesFor(group.viewer, after));
		for (const effect of own) effects.push({ ...effect, group: n });
		for (const kind of new Set(own.map((one) => one.kind))) members[kind] += group.memberIds.length;
	});
	return {
		groups: all.map(({ group }) => group),
		effects,
		members,
		devices: byEffect(() => 0),
		outsiders: []
	};
}

/** Places that open alike whichever of the two somebody is. */
function alikeForBoth(policy: Policy, before: Member, after: Member): AlikeClass[] {
	return alikeFor(policy, both(before, after), policy.resources.keys());
}

function both(before: Member, after: Member): Member {
	return { ...after, grants: [...before.grants, ...after.grants] };
}

const NOBODY: ReadonlySet<string> = new Set();

export function rehearseMembers(
	policy: Policy,
	changed: readonly ChangedMember[],
	from: Instant,
	assume: Assumption
): Rehearsal {
	return drained(rehearsingMembers(policy, changed, from, assume));
}
