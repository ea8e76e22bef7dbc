/** What there is today: of all of it, each sees what they may do something about. */
import { holdersAt, lapsesWithin } from '$core/access/came-and-went';
import type { Finding } from '$core/access/inspect';
import type { Instant } from '$core/time/instant';
import { mayAny, type Permission, type Permissions } from '$core/staff/permissions';
import type { Using } from '../../app';
import { accountNames } from '../../db/queries/members';
import { preparations, recentEvents, stepsDone, troubledJobs, waitingForYes } from '../../db/queries/today';
import { shownPlans } from '../../rights/shown';
import { openDisputes } from './disputes';
import { inspected } from './inspected';
import { labelNames } from './members';

const EVENTS_SHOWN = 15;
const FINDINGS_SHOWN = 5;
const DAY_MS = 86_400_000;
const LAPSES_BACK_MS = 30 * DAY_MS;
const WEEKS = 52;

/** Jobs of the Library; all others are about members and money. */
const TROUBLE_NEEDS: Record<string, readonly Permission[]> = {
	prepare: ['library'],
	'take-in': ['library']
};

export async function today(app: Using<'clock' | 'db' | 'population' | 'rights'>, held: Permissions) {
	const isOwn = (kind: string) => mayAny(held, TROUBLE_NEEDS[kind] ?? ['members', 'sales']);
	const hasLibrary = held.has('library');
	const findings = held.has('fences') ? await wrongOf(app) : [];
	return {
		may: { library: hasLibrary, members: held.has('members'), releases: held.has('releases') },
		steps: mayAny(held, ['library', 'plans', 'fences']) ? await stepsDone(app.db) : null,
		preparations: hasLibrary ? await preparations(app.db) : [],
		asking: hasLibrary ? await waitingForYes(app.db) : [],
		troubles: (await troubledJobs(app.db)).filter(({ kind }) => isOwn(kind)),
		disputes: held.has('sales') ? await openDisputes(app) : [],
		events: held.has('members') ? await cameAndWent(app) : [],
		held: held.has('members') ? await heldOverAYear(app) : null,
		findings: findings.slice(0, FINDINGS_SHOWN),
		moreFindings: Math.max(0, findings.length - FINDINGS_SHOWN)
	};
}

/** What looks wrong about fences; one that is off, or open to anyone, is so on purpose. */
const ON_PURPOSE: ReadonlySet<Finding['code']> = new Set(['is-off', 'open-to-anyone']);

async function wrongOf(app: Using<'clock' | 'db' | 'rights'>): Promise<Finding[]> {
	const policy = await app.rights.policy();
	const { findings } = inspected(policy, app.clock.business());
	const labels = await labelIds(app);
	const off = new Set(policy.source.fences.filter(({ isOn }) => !isOn).map(({ id }) => id));
	return findings.filter(
		(one) =>
			!ON_PURPOSE.has(one.code) &&
			!('fenceId' in one && off.has(one.fenceId)) &&
			!(one.code === 'plan-opens-nothing' && labels.has(one.planId))
	);
}

/** What was told, and whose plan ran out, newest first. */
async function cameAndWent(app: Using<'clock' | 'db' | 'population' | 'rights'>) {
	const now = app.clock.business();
	const told = await recentEvents(app.db, EVENTS_SHOWN);
	const members = await app.population.all();
	const lapses = lapsesWithin(members.values(), await labelIds(app), now - LAPSES_BACK_MS, now);
	const names = await accountNames(
		app.db,
		lapses.slice(0, EVENTS_SHOWN).map(({ memberId }) => memberId)
	);
	const plans = new Map((await shownPlans(app)).map(({ id, name }) => [id, name]));
	const ran = lapses.slice(0, EVENTS_SHOWN).map(({ memberId, planId, at }) => ({
		id: `${memberId} ${planId} ${at}`,
		at,
		action: 'ran-out',
		after: null,
		why: null,
		plan: plans.get(planId) ?? null,
		memberId,
		name: names.get(memberId) ?? null
	}));
	const others = told.map((one) => ({ ...one, plan: plans.get(planIn(one.after)) ?? null }));
	return [...others, ...ran].sort((a, b) => b.at - a.at).slice(0, EVENTS_SHOWN);
}

function planIn(after: unknown): string {
	return typeof after === 'object' && after !== null && 'planId' in after ? String(after.planId) : '';
}

/** How many members held a plan, week by week up to now. */
async function heldOverAYear(
	app: Using<'clock' | 'db' | 'population' | 'rights'>
): Promise<{ at: Instant; count: number }[]> {
	const now = app.clock.business();
	const moments = Array.from({ length: WEEKS + 1 }, (_, n) => now - (WEEKS - n) * 7 * DAY_MS);
	const members = await app.population.all();
	const counts = holdersAt(members.values(), await labelIds(app), moments);
	return moments.map((at, n) => ({ at, count: counts[n] ?? 0 }));
}

async function labelIds(app: Using<'db' | 'rights'>): Promise<ReadonlySet<string>> {
	return new Set((await labelNames(app)).map(({ id }) => id));
}
