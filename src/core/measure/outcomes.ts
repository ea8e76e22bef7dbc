/**
 * What became of what began in each month: of first stretches, whether they were paid for after; of declined cards, whether what
 * was due came in after all. What is not settled is still open.
 */
export interface Outcome {
	/** Such as 2026-05: when it began. */
	month: string;
	/** What became of it. */
	end: 'won' | 'lost' | 'open';
	/** What it is about, in minor units of one currency. */
	minor: number;
}

export interface OutcomeMonth {
	month: string;
	begun: number;
	won: number;
	lost: number;
	open: number;
	wonMinor: number;
	/** Of those that are settled the part that was won; `null`: none is. */
	share: number | null;
}

export function outcomesByMonth(all: readonly Outcome[], months: readonly string[]): OutcomeMonth[] {
	return months.map((month) => {
		const own = all.filter((one) => one.month === month);
		const of = (end: Outcome['end']) => own.filter((one) => one.end === end);
		const [won, lost] = [of('won'), of('lost')];
		const settled = won.length + lost.length;
		return {
			...{ month, begun: own.length, won: won.length, lost: lost.length, open: of('open').length },
			wonMinor: won.reduce((sum, { minor }) => sum + minor, 0),
			share: settled === 0 ? null : won.length / settled
		};
	});
}
