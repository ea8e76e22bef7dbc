/** What the why says of fences and crossings. */
import type { CrossingFact, Step } from '../decision';
import type { Grant } from '../model';
import type { Passage, PlanWay, Way } from '../walk';

/** Whom a crossing lets in without a grant. */
export type By =
	| { by: 'anyone' | 'signed-in' | 'named' }
	| { by: 'code'; batchId: string }
	| { by: 'may-open'; resourceId: string };

export function factOf(way: Way, by: By): CrossingFact {
	return { fenceId: way.fence.id, crossingId: way.crossing.id, isThroughout: way.isThroughout, ...by };
}

export function grantFact(way: Way, planWay: PlanWay, grant: Grant): CrossingFact {
	const { id: crossingId } = way.crossing;
	const { planId, releaseId } = planWay;
	const { fence, isThroughout } = way;
	return { fenceId: fence.id, crossingId, isThroughout, by: 'grant', planId, grantId: grant.id, releaseId };
}

const MET = { adds: 'fence-adds', replaces: 'fence-replaces', seals: 'fence-seals' } as const;

/** The fences up to the one that the way belongs to, each with what it does. `lastId`: the one written down last. */
export function met(passage: Passage, way: Way, lastId: string): Step[] {
	if (way.isThroughout) return [];
	const from = passage.met.findIndex(({ id }) => id === lastId) + 1;
	const to = passage.met.findIndex(({ id }) => id === way.fence.id) + 1;
	return passage.met
		.slice(from, to)
		.flatMap(({ id, mode, crossings }): Step[] => [
			{ code: MET[mode], fenceId: id },
			...(crossings.length === 0 ? [{ code: 'no-crossing' as const, fenceId: id }] : [])
		]);
}

/** Fences after the last crossing, and those that were not reached. */
export function unmet(passage: Passage): Step[] {
	const own = passage.ways.findLast((way) => !way.isThroughout);
	const from = own ? passage.met.findIndex(({ id }) => id === own.fence.id) + 1 : 0;
	const last = passage.met.slice(from).flatMap(({ id, mode }): Step[] => [
		{ code: MET[mode], fenceId: id },
		{ code: 'no-crossing', fenceId: id }
	]);
	const beyond = passage.beyond.map(({ fence, endedBy }): Step => ({
		code: 'fence-beyond',
		fenceId: fence.id,
		endedBy: endedBy.id,
		isSealed: endedBy.mode === 'seals'
	}));
	return [...last, ...beyond];
}
