/**
 * Splitting an amount so that the parts add up to it.
 *
 * By the largest remainder (Hamilton's method): each part gets its share rounded down, and what is left goes, a minor unit each,
 * to those whose shares were cut most, the earlier first. Example: 1.00 over three equal parts is 0.34, 0.33, 0.33.
 */

/**
 * @param amountMinor in minor units, not below 0
 * @param weights whole numbers, not below 0; where all are 0, everything goes to the first
 */
export function split(amountMinor: number, weights: readonly number[]): number[] {
	for (const value of [amountMinor, ...weights])
		if (!Number.isSafeInteger(value) || value < 0)
			throw new RangeError(`An amount is split by whole numbers, not ${value}`);
	const total = weights.reduce((sum, weight) => sum + BigInt(weight), 0n);
	if (total === 0n) return weights.map((_, n) => (n === 0 ? amountMinor : 0));
	const shares = weights.map((weight, n) => {
		// Amounts times amounts pass what a double holds exactly.
		const exact = BigInt(amountMinor) * BigInt(weight);
		return { n, part: Number(exact / total), cut: exact % total };
	});
	const left = amountMinor - shares.reduce((sum, { part }) => sum + part, 0);
	const first = [...shares].sort((a, b) => (a.cut === b.cut ? a.n - b.n : a.cut < b.cut ? 1 : -1));
	const more = new Set(first.slice(0, left).map(({ n }) => n));
	return shares.map(({ n, part }) => (more.has(n) ? part + 1 : part));
}

/** What a payment is for: its amount over the lines that it pays, in proportion to what each asks for. */
export function allocate<L extends { totalMinor: number }>(
	amountMinor: number,
	lines: readonly L[]
): (L & { paidMinor: number })[] {
	const parts = split(
		amountMinor,
		lines.map(({ totalMinor }) => totalMinor)
	);
	return lines.map((line, n) => ({ ...line, paidMinor: parts[n] ?? 0 }));
}

/** A line, as far as a part of it was paid; amounts in minor units. */
export interface PartOf<L> {
	line: L;
	paidMinor: number;
	/** What of any other amount of the line goes with that part: over all parts, the whole of it. */
	portion(minor: number): number;
}

/**
 * What a part of what lines ask for pays, where they are paid one after the other. Lines that it does not reach are left out.
 * Example: of 12.00 and 30.00, the second 20.00 pay 2.00 of the first, where 10.00 came before, and 18.00 of the other.
 * @param beforeMinor what came in before
 */
export function partsOf<L extends { totalMinor: number }>(
	lines: readonly L[],
	beforeMinor: number,
	amountMinor: number
): PartOf<L>[] {
	const parts: PartOf<L>[] = [];
	let begins = 0;
	for (const line of lines) {
		const total = line.totalMinor;
		const within = (minor: number) => Math.min(Math.max(minor - begins, 0), total);
		const [from, to] = [within(beforeMinor), within(beforeMinor + amountMinor)];
		begins += total;
		if (to === from) continue;
		const upTo = (minor: number, at: number) => Math.floor((minor * at) / total);
		parts.push({ line, paidMinor: to - from, portion: (minor) => upTo(minor, to) - upTo(minor, from) });
	}
	return parts;
}
