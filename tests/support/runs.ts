/**
 * How many examples a property is tried with. While mutants are looked for (`npm run mutants`), each is tried with a part of
 * them: some four thousand changes are tried one by one.
 */
export function runs(count: number): number {
	const share = Number(process.env.STILE_SHARE_OF_RUNS ?? 1);
	return Math.max(Math.min(count, 10), Math.ceil(count * share));
}
