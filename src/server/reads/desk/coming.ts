/** What opens by itself in the next time, and for how many: worked out in pieces, and kept while nobody's standing changes. */
import { setImmediate as pause } from 'node:timers/promises';
import { comingReleasesInPieces, type ComingRelease } from '$core/access/next-changes';
import type { Policy } from '$core/access/policy';
import type { MemberGroup } from '$core/access/rehearse';
import type { Instant } from '$core/time/instant';
import type { Using } from '../../app';

const DAY_MS = 86_400_000;
export const AHEAD_DAYS = 60;
const MOST = 40;

/** By the groups that it was worked out for: when a member changes, they are others. */
const known = new WeakMap<MemberGroup[], Map<string, Promise<ComingRelease[]>>>();
const policies = new WeakMap<Policy, number>();
let policyCount = 0;

/** Within a collection, or everywhere; a minute more or less makes no difference. */
export async function coming(
	app: Using<'population'>,
	policy: Policy,
	at: Instant,
	withinId: string | null
): Promise<ComingRelease[]> {
	const groups = await app.population.groups();
	const from = Math.floor(at / 60_000) * 60_000;
	if (!policies.has(policy)) policies.set(policy, ++policyCount);
	const key = `${policies.get(policy)} ${from} ${withinId}`;
	let of = known.get(groups);
	if (!of) known.set(groups, (of = new Map()));
	let found = of.get(key);
	if (!found) {
		of.clear();
		of.set(key, (found = workedOut(policy, groups, from, withinId)));
	}
	return found;
}

async function workedOut(policy: Policy, groups: MemberGroup[], from: Instant, withinId: string | null) {
	const ids = policy.source.resources
		.filter((one) => one.address !== null)
		.filter((one) => withinId === null || one.id === withinId || policy.homesOf(one).includes(withinId))
		.map(({ id }) => id);
	const dayOf = (at: number) => new Date(at).toISOString().slice(0, 10);
	const work = comingReleasesInPieces(policy, groups, ids, from, from + AHEAD_DAYS * DAY_MS, dayOf, MOST);
	let step = work.next();
	for (; !step.done; step = work.next()) await pause();
	return step.value;
}
