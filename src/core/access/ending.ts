/** What the ending of a file has to do with access: fences on a collection can be narrowed to some endings. */
import type { Policy } from './policy';

/** Whether an item would be caught by the same fences with a file of another ending. @param extension lower case, no dot */
export function isCaughtAlike(policy: Policy, itemId: string, extension: string | null): boolean {
	const resource = policy.resources.get(itemId);
	if (!resource || resource.extension === extension) return true;
	const before = policy.caughtBy(resource).map(({ fence }) => fence.id);
	const after = new Set(policy.caughtBy({ ...resource, extension }).map(({ fence }) => fence.id));
	return before.length === after.size && before.every((id) => after.has(id));
}
