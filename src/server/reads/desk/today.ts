/** What there is today: of all of it, each sees what they may do something about. */
import { holdersAt, lapsesWithin, type Lapse } from '$core/access/came-and-went';
import type { Finding } from '$core/access/inspect';
import type { Member } from '$core/access/model';
import { missingLegal } from '$core/looks/legal';
import { monthsBefore, monthsBeside } from '$core/measure/months-beside';
import type { Instant } from '$core/time/instant';
import { mayAny, type Permissions } from '$core/staff/permissions';
import type { Using } from '../../app';
import { accountNames } from '../../db/queries/members';
import {
	endedPreparations,
	moneySince,
	preparations,
	recentEvents,
	stepsDone,
	troubledJobs,
	waitingForYes
} from '../../db/queries/today';
import { refundsToSend, waitingPayments } from '../../db/queries/waiting';
import { JOBS_OF_LIBRARY } from '../../db/schema/running';
import { shownPlans } from '../../rights/shown';
import { openDisputes } from './disputes';
import { inspected } from './inspected';
import { listenersInTrouble } from './listeners';
import { heldCount } from './mail';
import { labelNames } from './members';
import { senderInTrouble } from './sender';

const EVENTS_SHOWN = 15;
const FINDINGS_SHOWN = 5;
const MINUTE_MS = 60_000;
const DAY_MS = 86_400_000;
const LAPSES_BACK_MS = 30 * DAY_MS;
const WEEKS = 52;

export async function today(
	app: Using<'clock' | 'db' | 'population' | 'rights' | 'site'>,
	held: Permissions
) {
	const isOwn = (kind: string) =>
		mayAny(held, JOBS_OF_LIBRARY.has(kind) ? ['library'] : ['members', 'sales']);
	const hasLibrary = held.has('library');
	const labels = new Set((await labelNames(app)).map(({ id }) => id));
	const findings = held.has('fences') ? await wrongOf(app, labels) : [];
	const ofMembers = held.has('members') ? await heldBy(app, labels) : null;
	return {
		may: { library: hasLibrary, members: held.has('members'), releases: held.has('releases') },
		steps: mayAny(held, ['library', 'plans', 'fences']) ? await stepsDone(app.db) : null,
		unlinked: held.has('settings') ? missingLegal((await app.site()).legal) : [],
		preparations: hasLibrary ? await preparations(app.db) : [],
		asking: hasLibrary ? await waitingForYes(app.db) : [],
		troubles: (await troubledJobs(app.db)).filter(({ kind }) => isOwn(kind)),
		waiting: held.has('payments') ? await paidByHand(app) : NOTHING_BY_HAND,
		programs: held.has('settings') ? await listenersInTrouble(app) : [],
		unreached: held.has('members') ? await heldCount(app) : 0,
		sender: held.has('settings') ? await senderInTrouble(app) : [],
		disputes: held.has('sales') ? await openDisputes(app) : [],
		money: held.has('sales') ? await moneyOfMonths(app) : [],
		events: ofMembers ? await cameAndWent(app, ofMembers.lapses) : [],
		held: ofMembers?.weeks ?? null,
		findings: findings.slice(0, FINDINGS_SHOWN),
		moreFindings: Math.max(0, findings.length - FINDINGS_SHOWN)
	};
}

/** Of each currency in which something moved, the one with the most first; currencies are never added up. */
async function moneyOfMonths(app: Using<'clock' | 'db' | 'site'>) {
	const now = app.clock.business();
	const { zone } = await app.site();
	const rows = await moneySince(app.db, monthsBefore(now, zone).lastMonth);
	const currencies = [...new Set(rows.map(({ currency }) => currency))];
	return currencies
		.map((currency) => ({
			currency,
			...monthsBeside(
				rows.filter((row) => row.currency === currency),
				now,
				zone
			)
		}))
		.sort((a, b) => b.lastMinor + b.thisMinor - (a.lastMinor + a.thisMinor));
}

const NOTHING_BY_HAND = { payments: [], refunds: [], hasMore: false };
const WAITING_SHOWN = 50;

/** What is paid without a card: money that is waited for, and what has to be sent back. */
async function paidByHand(app: Using<'db'>) {
	const payments = await waitingPayments(app.db, WAITING_SHOWN + 1);
	return {
		payments: payments
			.slice(0, WAITING_SHOWN)
			.map(({ plan, line, ...one }) => ({ ...one, plan: plan ?? line, isFirst: one.agreementId === null })),
		refunds: await refundsToSend(app.db, WAITING_SHOWN),
		hasMore: payments.length > WAITING_SHOWN
	};
}

/** Of films that somebody sent and left to be prepared. */
export function preparedOf(app: Using<'db'>, itemIds: readonly string[]) {
	return endedPreparations(app.db, itemIds);
}

/** What looks wrong about fences; one that is off, or open to anyone, is so on purpose. */
const ON_PURPOSE: ReadonlySet<Finding['code']> = new Set(['is-off', 'open-to-anyone']);

async function wrongOf(app: Using<'clock' | 'rights'>, labels: ReadonlySet<string>): Promise<Finding[]> {
	const policy = await app.rights.policy();
	const { findings } = inspected(policy, app.clock.business());
	const off = new Set(policy.source.fences.filter(({ isOn }) => !isOn).map(({ id }) => id));
	return findings.filter(
		(one) =>
			!ON_PURPOSE.has(one.code) &&
			!('fenceId' in one && off.has(one.fenceId)) &&
			!(one.code === 'plan-opens-nothing' && labels.has(one.planId))
	);
}

interface Held {
	minute: number;
	lapses: Lapse[];
	weeks: { at: Instant; count: number }[];
}

/** By the members that it was worked out for: when one changes, they are others. */
const known = new WeakMap<ReadonlyMap<string, Member>, Held>();

/** Whose plan ran out, and how many members held one, week by week up to now. */
async function heldBy(app: Using<'clock' | 'population'>, labels: ReadonlySet<string>): Promise<Held> {
	const now = app.clock.business();
	const minute = Math.floor(now / MINUTE_MS);
	const members = await app.population.all();
	const last = known.get(members);
	if (last?.minute === minute) return last;
	const moments = Array.from({ length: WEEKS + 1 }, (_, n) => now - (WEEKS - n) * 7 * DAY_MS);
	const counts = holdersAt(members.values(), labels, moments);
	const held = {
		minute,
		lapses: lapsesWithin(members.values(), labels, now - LAPSES_BACK_MS, now),
		weeks: moments.map((at, n) => ({ at, count: counts[n] ?? 0 }))
	};
	known.set(members, held);
	return held;
}

/** What was told, and whose plan ran out, newest first. */
async function cameAndWent(app: Using<'db' | 'rights'>, lapses: readonly Lapse[]) {
	const told = await recentEvents(app.db, EVENTS_SHOWN);
	const latest = lapses.slice(0, EVENTS_SHOWN);
	const names = await accountNames(
		app.db,
		latest.map(({ memberId }) => memberId)
	);
	const plans = new Map((await shownPlans(app)).map(({ id, name }) => [id, name]));
	const ran = latest.map(({ memberId, planId, at }) => ({
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
