/** The order of what lives in one home, from 0 on. */

export interface Ordered {
	id: string;
	position: number;
}

/**
 * The order with one thing after another: it is taken from where it stands, if it stands there.
 *
 * @param after `null` for the first place; what is not there (any more) stands for the last one
 */
export function placedAfter(order: readonly string[], id: string, after: string | null): string[] {
	const others = order.filter((one) => one !== id);
	const found = after === null ? 0 : others.indexOf(after) + 1;
	const at = after !== null && found === 0 ? others.length : found;
	return [...others.slice(0, at), id, ...others.slice(at)];
}

/** Whose position is another in an order. What is in the order and not known yet is among them. */
export function renumbered(before: readonly Ordered[], order: readonly string[]): Ordered[] {
	const known = new Map(before.map(({ id, position }) => [id, position]));
	return order
		.map((id, position) => ({ id, position }))
		.filter(({ id, position }) => known.get(id) !== position);
}
