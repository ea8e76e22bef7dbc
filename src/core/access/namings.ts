/**
 * Who is named in crossings. Names belong to members and not to the policy, for lists of them may be long; they change with
 * the fence, and are rehearsed, agreed to and undone with it.
 *
 * Example: a crossing that named Wren and now names Jasper is two changes, and the policy stays as it was.
 */
import type { Change, Delta } from './delta';
import type { Member, NamedMember, Naming } from './model';

export type NamingChange = Extract<Change, { kind: 'naming' }>;

/** The changes from one list of named members to another. */
export function namingChanges(was: readonly NamedMember[], is: readonly NamedMember[]): NamingChange[] {
	const [before, after] = [byId(was), byId(is)];
	return [...new Set([...before.keys(), ...after.keys()])].flatMap((id): NamingChange[] => {
		const [old, now] = [before.get(id) ?? null, after.get(id) ?? null];
		return old?.since === now?.since ? [] : [{ kind: 'naming', id, before: old, after: now }];
	});
}

function byId(list: readonly NamedMember[]): Map<string, NamedMember> {
	return new Map(list.map((one) => [`${one.crossingId} ${one.memberId}`, one]));
}

export function namingsIn(delta: Delta): NamingChange[] {
	return delta.filter((one) => one.kind === 'naming');
}

/** Ids of the members that changes are about. */
export function membersNamedIn(changes: readonly NamingChange[]): Set<string> {
	return new Set(changes.flatMap(({ before, after }) => (after ?? before)?.memberId ?? []));
}

/** A member after changes, those of others left aside. The same object where none is theirs. */
export function namedAnew(member: Member, changes: readonly NamingChange[]): Member {
	const own = changes.filter(({ before, after }) => (after ?? before)?.memberId === member.id);
	if (own.length === 0) return member;
	const since = new Map(member.namings.map((one) => [one.crossingId, one.since]));
	for (const { before, after } of own) {
		if (after) since.set(after.crossingId, after.since);
		else if (before) since.delete(before.crossingId);
	}
	const namings = [...since].map(([crossingId, since]): Naming => ({ crossingId, since }));
	return { ...member, namings };
}
