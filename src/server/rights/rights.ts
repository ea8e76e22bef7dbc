/**
 * The policy and the members' standings in memory, kept true by a counter in the database.
 *
 * The counter is polled every 250 ms; a node that has been out of touch for over a second asks the database before each
 * decision, and without the database there is no decision at all: it throws, and the answer is 503, never open.
 */
import { setImmediate as pause } from 'node:timers/promises';
import { gt, sql } from 'drizzle-orm';
import { decide } from '$core/access/decide';
import type { Decision } from '$core/access/decision';
import { NO_CONTEXT, type Context, type Member, type Viewer } from '$core/access/model';
import { compile, compiling, EMPTY_SOURCE, type Policy } from '$core/access/policy';
import type { Instant } from '$core/time/instant';
import type { Db } from '../db/connect';
import {
	accountById,
	grantsOf,
	redemptionsOf,
	redemptionsOfDevice,
	sessionInForce,
	tenuresOf
} from '../db/queries/members';
import { countedOf, type Counted } from '../db/queries/uses';
import { policyInForce } from '../db/queries/policy';
import { rightsChanges, rightsCounter } from '../db/schema/access';
import { businessClock } from '../db/schema/running';
import type { Clock } from '../ports/clock';

export interface Standing {
	viewer: Member;
	email: string;
	name: string;
	role: 'member' | 'owner';
	epoch: number;
}

export const STRANGER: Viewer = { kind: 'stranger', redemptions: [] };

/** Stands for a member in the list of changes where a device redeemed a code. */
export const DEVICES = '00000000-0000-7000-8000-0000000000d0';

/** Stands for a member in the list of changes where what is shown changed, and nobody's rights. */
export const CONTENT = '00000000-0000-7000-8000-0000000000c0';

const POLL_MS = 250;
const OUT_OF_TOUCH_MS = 1000;
const SESSIONS_KEPT = 20_000;
const STANDINGS_KEPT = 50_000;
const CONTENT_KEPT = 20_000;

/** Steps of the counter that the database remembers; whoever is further behind reads everything again. */
export const CHANGES_KEPT = 10_000;

export class Rights {
	private policyNow: Policy = compile(EMPTY_SOURCE);
	private policyVersion = 0;
	private standings = new Map<string, Promise<Standing | null>>();
	private sessions = new Map<string, Promise<{ accountId: string; expiresAt: number } | null>>();
	private readonly counted = new Map<string, Map<string, Promise<Counted>>>();
	private strangers = new Map<string, Promise<Viewer>>();
	private shown = new Map<string, Promise<unknown>>();
	private counter = -1;
	private lastSeen = 0;
	private refreshing: Promise<void> | null = null;
	private timer: NodeJS.Timeout | null = null;

	constructor(
		private readonly db: Db,
		private readonly clock: Clock
	) {}

	async start(): Promise<void> {
		await this.refresh();
		this.timer = setInterval(() => void this.refresh().catch(() => {}), POLL_MS);
	}

	stop(): void {
		if (this.timer) clearInterval(this.timer);
	}

	/** Reads what has changed since the last time. A refresh that began before a change may miss it: begin another. */
	async refresh(): Promise<void> {
		if (this.refreshing) await this.refreshing.catch(() => {});
		this.refreshing ??= this.read().finally(() => (this.refreshing = null));
		return this.refreshing;
	}

	/** The policy, no older than a second. */
	async policy(): Promise<Policy> {
		await this.inTouch();
		return this.policyNow;
	}

	/** The number of the policy that `policy` gives. */
	async version(): Promise<number> {
		await this.inTouch();
		return this.policyVersion;
	}

	async decide(
		memberId: string | null,
		itemId: string,
		now: Instant = this.clock.business()
	): Promise<Decision> {
		const standing = memberId === null ? null : await this.standing(memberId);
		return this.decideFor(standing?.viewer ?? STRANGER, itemId, null, now);
	}

	/** Like `decide`, for a viewer who is known already; limits look at what they have used. */
	async decideFor(
		viewer: Viewer,
		itemId: string,
		keptOut: Context['keptOut'] = null,
		now: Instant = this.clock.business()
	): Promise<Decision> {
		const policy = await this.policy();
		const context = await this.context(policy, viewer, itemId, keptOut);
		return decide(policy, viewer, itemId, now, context);
	}

	/** The uses that count for a decision: none are read where nothing limits them. */
	async context(
		policy: Policy,
		viewer: Viewer,
		itemId: string,
		keptOut: Context['keptOut'] = null
	): Promise<Context> {
		const place = keptOut === null ? NO_CONTEXT : { ...NO_CONTEXT, keptOut };
		const resource = policy.resources.get(itemId);
		if (viewer.kind === 'stranger' || viewer.id === '' || !resource) return place;
		const isLimited = policy.passage(resource).ways.some((way) => way.limits !== null);
		return isLimited ? { ...place, ...(await this.countedOf(viewer.id, itemId)) } : place;
	}

	private async countedOf(memberId: string, itemId: string): Promise<Counted> {
		await this.inTouch();
		let own = this.counted.get(memberId);
		if (!own) this.counted.set(memberId, (own = new Map()));
		if (this.counted.size > STANDINGS_KEPT) this.counted.clear();
		return remembered(own, itemId, CONTENT_KEPT, () => countedOf(this.db, memberId, itemId));
	}

	/** A stranger whose device has redeemed codes. */
	async stranger(deviceHash: string | null): Promise<Viewer> {
		if (deviceHash === null) return STRANGER;
		await this.inTouch();
		return remembered(this.strangers, deviceHash, SESSIONS_KEPT, async () => ({
			kind: 'stranger',
			redemptions: await redemptionsOfDevice(this.db, deviceHash)
		}));
	}

	/** A member's grants and role; `null` for an account that does not exist or was deleted. */
	async standing(memberId: string): Promise<Standing | null> {
		await this.inTouch();
		return remembered(this.standings, memberId, STANDINGS_KEPT, () => this.loadStanding(memberId));
	}

	/** The account that a session belongs to, by the hash of its token. */
	async sessionAccount(tokenHash: string): Promise<string | null> {
		await this.inTouch();
		const wallNow = this.clock.wall();
		const session = await remembered(this.sessions, tokenHash, SESSIONS_KEPT, () =>
			sessionInForce(this.db, tokenHash, wallNow)
		);
		return session && wallNow < session.expiresAt ? session.accountId : null;
	}

	/** What the front shows again and again (plans, titles): kept until the Library, the plans or the fences change. */
	async content<T>(key: string, ask: () => Promise<T>): Promise<T> {
		await this.inTouch();
		return remembered(this.shown as Map<string, Promise<T>>, key, CONTENT_KEPT, ask);
	}

	private async inTouch(): Promise<void> {
		if (this.clock.wall() - this.lastSeen > OUT_OF_TOUCH_MS) await this.refresh();
	}

	private async read(): Promise<void> {
		const asked = this.clock.wall();
		const [row] = await this.db
			.select({ value: rightsCounter.value, offsetMs: businessClock.offsetMs })
			.from(rightsCounter)
			.innerJoin(businessClock, sql`true`);
		if (!row) throw new Error('The counter of rights is missing: run the migrations');
		this.clock.setOffset(row.offsetMs);
		if (row.value !== this.counter) await this.catchUp(row.value);
		this.lastSeen = asked;
	}

	private async catchUp(value: number): Promise<void> {
		const isFarBehind = this.counter < 0 || value - this.counter > CHANGES_KEPT;
		if (isFarBehind) return this.startOver(value);
		const changes = await this.db.select().from(rightsChanges).where(gt(rightsChanges.value, this.counter));
		if (changes.some((change) => change.memberId === null)) await this.loadPolicy();
		// A new map, not an emptied one: what is being read now was asked before the change.
		if (changes.some(({ memberId }) => memberId === null || memberId === CONTENT)) this.shown = new Map();
		if (changes.some(({ memberId }) => memberId === DEVICES)) this.strangers = new Map();
		const members = new Set(changes.map((change) => change.memberId));
		for (const id of members) {
			if (id === null) continue;
			this.standings.delete(id);
			this.counted.delete(id);
		}
		for (const [hash, session] of this.sessions) {
			const found = await session.catch(() => null);
			if (!found || members.has(found.accountId)) this.sessions.delete(hash);
		}
		this.counter = value;
	}

	private async startOver(value: number): Promise<void> {
		await this.loadPolicy();
		this.shown = new Map();
		this.strangers = new Map();
		this.standings.clear();
		this.counted.clear();
		this.sessions.clear();
		this.counter = value;
	}

	private async loadPolicy(): Promise<void> {
		const { version, source } = await policyInForce(this.db);
		const work = compiling(source);
		let step = work.next();
		for (; !step.done; step = work.next()) await pause();
		this.policyNow = step.value;
		this.policyVersion = version;
	}

	private async loadStanding(memberId: string): Promise<Standing | null> {
		const account = await accountById(this.db, memberId);
		if (!account?.email) return null;
		const isStaff = account.role === 'owner';
		const { email, name, role, epoch, createdAt } = account;
		const viewer: Member = {
			kind: 'member',
			id: memberId,
			isStaff,
			since: createdAt,
			grants: await grantsOf(this.db, memberId),
			tenures: await tenuresOf(this.db, memberId),
			redemptions: await redemptionsOf(this.db, memberId)
		};
		return { viewer, email, name, role, epoch };
	}
}

/** A map of what was asked, the oldest dropped at `limit`; a failed question is forgotten. */
function remembered<T>(
	map: Map<string, Promise<T>>,
	key: string,
	limit: number,
	ask: () => Promise<T>
): Promise<T> {
	const known = map.get(key);
	if (known) return known;
	const asked = ask();
	map.set(key, asked);
	asked.catch(() => map.delete(key));
	const oldest = map.size > limit ? map.keys().next().value : undefined;
	if (oldest !== undefined) map.delete(oldest);
	return asked;
}
