/** The one line that a measurement prints. */
export function report(bench: string, figures: Record<string, number | object>): void {
	console.log(JSON.stringify({ bench, figures }));
}

/** Two digits after the point are more than these measurements carry. */
export function rounded(value: number): number {
	return value >= 100 ? Math.round(value) : Math.round(value * 100) / 100;
}

export function percentile(values: readonly number[], share: number): number {
	const sorted = [...values].sort((a, b) => a - b);
	return sorted[Math.min(sorted.length - 1, Math.ceil(sorted.length * share) - 1)] ?? 0;
}

/** A small generator with a fixed seed (mulberry32), so that every run measures the same work. */
export function seeded(seed: number): (below: number) => number {
	let state = seed;
	return (below) => {
		state = (state + 0x6d2b79f5) | 0;
		let t = Math.imul(state ^ (state >>> 15), 1 | state);
		t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
		return Math.floor((((t ^ (t >>> 14)) >>> 0) / 4_294_967_296) * below);
	};
}
