/** One more or one less of a number that somebody has typed. */

/**
 * @param typed what stands in the field; what is no number counts from the lowest, or from nothing
 * @param by how far, with its direction
 */
export function stepped(
	typed: string,
	by: number,
	{ min, max }: { min: number | null; max: number | null }
): string {
	const now = Number(typed.trim().replace(',', '.'));
	const isNumber = typed.trim() !== '' && Number.isFinite(now);
	const wanted = isNumber ? now + by : (min ?? 0);
	const held = Math.min(max ?? Infinity, Math.max(min ?? -Infinity, wanted));
	return String(Number(held.toFixed(decimalsOf(by))));
}

function decimalsOf(step: number): number {
	return String(step).split('.')[1]?.length ?? 0;
}
