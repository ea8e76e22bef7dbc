/** What a use case of the Desk begins with: whether whoever does it may. */
import { mayAny, type Permission, type Permissions } from '$core/staff/permissions';

/** A member of staff with what they may do; `null` is Stile itself, which may everything. */
export type Staff = { id: string; permissions: Permissions } | null;

export class NotAllowed extends Error {
	readonly code = 'not-allowed';
	constructor(readonly needs: readonly Permission[]) {
		super(`Nobody without the permission ${needs.join(' or ')} may do this`);
	}
}

/** Throws unless one of the permissions is held. Pages refuse before: who comes here without has gone past them. */
export function need(actor: Staff, ...anyOf: Permission[]): void {
	if (actor !== null && !mayAny(actor.permissions, anyOf)) throw new NotAllowed(anyOf);
}

/** Who began something that goes on later: whether they may was asked when it began. */
export function askedBefore(id: string | null, ...permissions: Permission[]): Staff {
	return id === null ? null : { id, permissions: new Set(permissions) };
}

/** Nobody gives, or takes from others, what they do not hold themselves. */
export function holdsAll(actor: Staff, permissions: Iterable<Permission>): boolean {
	return actor === null || [...permissions].every((one) => actor.permissions.has(one));
}
