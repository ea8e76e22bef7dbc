/** What the command field and the pickers find by a part of a name. */
import type { Using } from '../../app';
import { findAnything, type FindKind, type Found } from '../../db/queries/find';

export { ANYTHING, FIND_KINDS, type FindKind, type Found } from '../../db/queries/find';

export function findByName(app: Using<'db'>, text: string, kinds: readonly FindKind[]): Promise<Found[]> {
	return findAnything(app.db, text, kinds);
}
