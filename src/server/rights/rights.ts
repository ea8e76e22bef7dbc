/**
 * The policy and the members' standings in memory, kept true by a list of changes in the database.
 *
 * The list is asked for every 250 ms; a node that has been out of touch for over a second asks the database before each
 * decision, and without the database there is no decision at all: it throws, and the answer is 503, never open.
 *
 * Changes get their numbers when they are written and are seen when they are committed, so that a lower number may come
 * after a higher one. Each look therefore goes back for as long as a transaction may take, and leaves out what it has seen.
 */
import { gt, lt, max } from 'drizzle-orm';
import { LRUCache } from 'lru-cache';
import { joined } from '$core/access/delta';
import { decide } from '$core/access/decide/decide';
import type { Decision } from '$core/access/decision';
import { NO_CONTEXT, STRANGER, type Context, type Member, type Viewer } from '$core/access/model';
import { compile, EMPTY_SOURCE, Policy } from '$core/access/policy';
import { NO_PERMISSIONS, type Permissions } from '$core/staff/permissions';
import type { Instant } from '$core/time/instant';
import type { LanguageCode } from '$words/languages';
import type { Db } from '../db/connect';
import {
	accountById,
	type Account,
	grantsOf,
	namingsOf,
	redemptionsOf,
	viewerOfDevice,
	sessionInForce,
	tenuresOf
} from '../db/queries/members';
import { owedBy } from '../db/queries/agreements';
import { factorOf } from '../db/queries/second-factors';
import { siteSettings } from '../db/queries/settings';
import { permissionsOf } from '../db/queries/staff';
import { countedOf, type Counted } from '../db/queries/uses';
import { policyChangesAfter, policyInForce, type PolicyVersion } from '../db/queries/policy';
import { rightsChanges, type RightsChange } from '../db/schema/access';
import type { AccountRole } from '../db/schema/people';
import { businessClock } from '../db/schema/running';
import { inPieces } from '../in-pieces';
import type { Clock } from '../ports/clock';

export type { RightsChange } from '../db/schema/access';

export interface Standing {
	viewer: Member;
	email: string;
	name: string;
	role: AccountRole;
	/** Of pages and mails; `null`: the site's. */
	language: LanguageCode | null;
	permissions: Permissions;
	/** Staff are asked for a code when they sign in, and this one has none yet: until then they may nothing at the Desk. */
	lacksFactor: boolean;
	epoch: number;
	/** What is owed and may be paid by hand: said on each page. */
	owes: { agreementId: string; plan: string } | null;
}

const POLL_MS = 250;
const SESSIONS_KEPT = 20_000;
const STANDINGS_KEPT = 50_000;
const CONTENT_KEPT = 20_000;
const ITEMS_COUNTED = 1000;

/** Longer than any transaction lives. */
const LOOK_BACK_MS = 60_000;
/** How long the database remembers changes; whoever has been away for half of that reads everything again. */
export const CHANGES_KEPT_MS = 60 * 60_000;

/** What is known is older than a second, and the database does not answer: there is no decision. */
export class OutOfTouch extends Error {
	readonly code = 'out-of-touch';
	constructor(cause: unknown) {
		super('The database does not answer, so nothing can be decided', { cause });
	}
}

export class Rights {
	private policyNow: Policy = compile(EMPTY_SOURCE);
	private policyVersion = 0;
	private readonly standings = new LRUCache<string, Promise<Standing | null>>({ max: STANDINGS_KEPT });
	private readonly sessions = new LRUCache<string, Promise<{ accountId: string; expiresAt: number } | null>>({
		max: SESSIONS_KEPT
	});
	/** By member, then by item. */
	private readonly countedNow = new LRUCache<string, LRUCache<string, Promise<Counted>>>({
		max: STANDINGS_KEPT
	});
	private strangers = strangersKept();
	private shown = contentKept();
	/** Changes that were seen, by number, with the moment they were written; older ones than the look back are forgotten. */
	private readonly seen = new Map<number, number>();
	/** No change up to here is looked for any more. */
	private horizon = -1;
	private lastSeen = 0;
	/** Of the last look, if it had one. */
	private lastProblem: unknown = null;
	private readonly listeners: ((members: ReadonlySet<string> | 'all') => void)[] = [];
	private readonly hearers = new Set<(kinds: ReadonlySet<RightsChange>) => void>();
	private refreshing: Promise<void> | null = null;
	private timer: NodeJS.Timeout | null = null;

	constructor(
		private readonly db: Db,
		private readonly clock: Clock,
		/** What is known is believed for so long without a word from the database. */
		private readonly patienceMs: number
	) {}

	async start(): Promise<void> {
		await this.refresh();
		this.timer = setInterval(() => void this.refresh().catch(() => {}), POLL_MS);
	}

	/** Tells whose standing has changed, or that nothing is known any more. */
	tell(listener: (members: ReadonlySet<string> | 'all') => void): void {
		this.listeners.push(listener);
	}

	/** Tells what kinds of things have changed, until it is ended by what this gives. */
	hear(listener: (kinds: ReadonlySet<RightsChange>) => void): () => void {
		this.hearers.add(listener);
		return () => void this.hearers.delete(listener);
	}

	stop(): void {
		if (this.timer) clearInterval(this.timer);
	}

	/** Reads what has changed since the last time. A refresh that began before a change may miss it: begin another. */
	async refresh(): Promise<void> {
		if (this.refreshing) await this.refreshing.catch(() => {});
		this.refreshing ??= this.read()
			.then(
				() => void (this.lastProblem = null),
				(problem: unknown) => {
					this.lastProblem = problem;
					throw problem;
				}
			)
			.finally(() => (this.refreshing = null));
		return this.refreshing;
	}

	/** The policy, no older than a second. */
	async policy(): Promise<Policy> {
		await this.inTouch();
		return this.policyNow;
	}

	/** The policy as this node knows it, whatever has come since: for whoever looks at what has under a lock. */
	known(): PolicyVersion & { policy: Policy } {
		return { version: this.policyVersion, source: this.policyNow.source, policy: this.policyNow };
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
		return isLimited ? { ...place, ...(await this.counted(viewer.id, itemId)) } : place;
	}

	/** A member's uses of an item. */
	async counted(memberId: string, itemId: string): Promise<Counted> {
		await this.inTouch();
		let own = this.countedNow.get(memberId);
		if (!own) this.countedNow.set(memberId, (own = new LRUCache({ max: ITEMS_COUNTED })));
		return remembered(own, itemId, () => countedOf(this.db, memberId, itemId));
	}

	/** A stranger whose device has redeemed codes. */
	async stranger(deviceHash: string | null): Promise<Viewer> {
		if (deviceHash === null) return STRANGER;
		await this.inTouch();
		return remembered(this.strangers, deviceHash, () => viewerOfDevice(this.db, deviceHash));
	}

	/** A member's grants and role; `null` for an account that does not exist or was deleted. */
	async standing(memberId: string): Promise<Standing | null> {
		await this.inTouch();
		return remembered(this.standings, memberId, () => this.loadStanding(memberId));
	}

	/** The account that a session belongs to, by the hash of its token. */
	async sessionAccount(tokenHash: string): Promise<string | null> {
		await this.inTouch();
		const wallNow = this.clock.wall();
		const session = await remembered(this.sessions, tokenHash, () =>
			sessionInForce(this.db, tokenHash, wallNow)
		);
		return session && wallNow < session.expiresAt ? session.accountId : null;
	}

	/** What the front shows again and again (plans, titles): kept until the Library, the plans or the fences change. */
	async content<T>(key: string, ask: () => Promise<T>): Promise<T> {
		await this.inTouch();
		return remembered(this.shown as LRUCache<string, Promise<T>>, key, ask);
	}

	private async inTouch(): Promise<void> {
		const isStale = () => this.clock.wall() - this.lastSeen > this.patienceMs;
		if (!isStale()) return;
		// It is asked four times a second anyhow: whoever comes while it does not answer is told so at once.
		if (this.timer && this.lastProblem) throw new OutOfTouch(this.lastProblem);
		await (this.refreshing ?? this.refresh());
		if (isStale()) await this.refresh();
	}

	private async read(): Promise<void> {
		const asked = this.clock.wall();
		const isFarBehind = this.horizon < 0 || asked - this.lastSeen > CHANGES_KEPT_MS / 2;
		if (isFarBehind) await this.startOver();
		const [clock] = await this.db.select({ offsetMs: businessClock.offsetMs }).from(businessClock);
		if (!clock) throw new Error('The business clock is missing: run the migrations');
		this.clock.setOffset(clock.offsetMs);
		if (!isFarBehind) await this.catchUp();
		this.lastSeen = asked;
	}

	private async catchUp(): Promise<void> {
		const rows = await this.db
			.select()
			.from(rightsChanges)
			.where(gt(rightsChanges.id, this.horizon))
			.orderBy(rightsChanges.id);
		const changes = rows.filter(({ id }) => !this.seen.has(id));
		if (changes.length > 0) {
			await this.forget(changes);
			const kinds = new Set(changes.map(({ kind }) => kind));
			for (const hear of this.hearers) hear(kinds);
		}
		for (const { id, at } of changes) this.seen.set(id, at);
		// Numbers up to one that was written long ago are all committed or lost.
		const before = this.clock.wall() - LOOK_BACK_MS;
		for (const { id, at } of rows) {
			if (at >= before) break;
			this.horizon = id;
			this.seen.delete(id);
		}
	}

	private async forget(changes: readonly { kind: RightsChange; memberId: string | null }[]): Promise<void> {
		const has = (kind: RightsChange) => changes.some((change) => change.kind === kind);
		if (has('policy')) await this.readPolicyOn();
		// A new map, not an emptied one: what is being read now was asked before the change.
		if (has('policy') || has('content')) this.shown = contentKept();
		if (has('devices')) this.strangers = strangersKept();
		const members = new Set(changes.flatMap(({ memberId }) => memberId ?? []));
		for (const id of members) {
			this.standings.delete(id);
			this.countedNow.delete(id);
		}
		if (members.size === 0) return;
		for (const tell of this.listeners) tell(members);
		for (const [hash, session] of this.sessions) {
			const found = await session.catch(() => null);
			if (!found || members.has(found.accountId)) this.sessions.delete(hash);
		}
	}

	private async startOver(): Promise<void> {
		const before = this.clock.wall() - LOOK_BACK_MS;
		const [old] = await this.db
			.select({ id: max(rightsChanges.id) })
			.from(rightsChanges)
			.where(lt(rightsChanges.at, before));
		this.horizon = old?.id ?? 0;
		this.seen.clear();
		const { version, source } = await policyInForce(this.db);
		this.policyNow = await inPieces(Policy.compiling(source));
		this.policyVersion = version;
		this.shown = contentKept();
		this.strangers = strangersKept();
		this.standings.clear();
		this.countedNow.clear();
		this.sessions.clear();
		for (const tell of this.listeners) tell('all');
	}

	private async readPolicyOn(): Promise<void> {
		const steps = await policyChangesAfter(this.db, this.policyVersion);
		const last = steps.at(-1);
		if (!last) return;
		this.policyNow = await inPieces(this.policyNow.refiling(joined(steps.map(({ delta }) => delta))));
		this.policyVersion = last.version;
	}

	private async loadStanding(memberId: string): Promise<Standing | null> {
		const account = await accountById(this.db, memberId);
		if (!account?.email) return null;
		const lacksFactor = await this.lacksFactor(account);
		const permissions = lacksFactor ? NO_PERMISSIONS : await permissionsOf(this.db, account);
		const { email, name, role, language, epoch, createdAt } = account;
		const viewer: Member = {
			kind: 'member',
			id: memberId,
			isStaff: permissions.has('open-all'),
			since: createdAt,
			grants: await grantsOf(this.db, memberId),
			tenures: await tenuresOf(this.db, memberId),
			redemptions: await redemptionsOf(this.db, memberId),
			namings: await namingsOf(this.db, memberId)
		};
		const owes = await owedBy(this.db, memberId);
		return { viewer, email, name, role, language, permissions, lacksFactor, epoch, owes };
	}

	private async lacksFactor({ id, role }: Account): Promise<boolean> {
		if (role === 'member' || !(await siteSettings(this.db)).staffNeedCode) return false;
		return (await factorOf(this.db, id)) === null;
	}
}

/** What was asked before is not asked again; a failed question is forgotten. */
function remembered<T>(kept: LRUCache<string, Promise<T>>, key: string, ask: () => Promise<T>): Promise<T> {
	const known = kept.get(key);
	if (known) return known;
	const asked = ask();
	kept.set(key, asked);
	asked.catch(() => kept.delete(key));
	return asked;
}

function strangersKept() {
	return new LRUCache<string, Promise<Viewer>>({ max: SESSIONS_KEPT });
}

function contentKept() {
	return new LRUCache<string, Promise<unknown>>({ max: CONTENT_KEPT });
}
