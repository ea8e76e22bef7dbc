/**
 * One transaction of a use case: its rows, its audit, its effects, and what it changed of rights.
 *
 * Effects (mails, charges, preparations) are queued in the same transaction, so that neither happens without the other.
 * Within it there is only `work`: what a use case needs beside its rows is read before.
 */
import { createHash } from 'node:crypto';
import {
	canonical,
	CHANGES_AT_ONCE,
	comparing,
	keyOf,
	siteOf,
	type Change,
	type Delta
} from '$core/access/delta';
import type { Policy } from '$core/access/policy';
import { each } from '$core/pieces';
import type { Actor, Using } from './app';
import { inPieces } from './in-pieces';
import { membersNamedIn, type NamingChange } from '$core/access/namings';
import { isWorthRepeating, TRIES, type Tx } from './db/connect';
import {
	entitiesOf,
	lockPolicy,
	policyChangesAfter,
	writePolicyChange,
	type PolicyStep,
	type PolicyVersion,
	type Touched
} from './db/queries/policy';
import { audit, jobs, onceKeys } from './db/schema/running';
import { rightsChanges, type RightsChange } from './db/schema/access';
import { KINDS, type JobKind, type JobPayloads } from './jobs/kinds';

export interface AuditNote {
	action: string;
	subject: { kind: string; id: string };
	memberId?: string;
	before?: unknown;
	after?: unknown;
	why?: string;
}

export interface Queueing {
	/** Queued once for each key. */
	key?: string;
	/** By the lane's clock; now where it is left out. */
	runAt?: number;
	subjectId?: string;
	/** Whom it is about. */
	memberId?: string;
}

export interface Work {
	/** Whether somebody only practises. */
	isPractice: boolean;
	tx: Tx;
	/** Business time of the whole transaction. */
	now: number;
	/** By the wall clock, for sessions, links and limits. */
	wall: number;
	note(entry: AuditNote): Promise<void>;
	/** The same of many things at once. */
	noteAll(entries: readonly AuditNote[]): Promise<void>;
	queue<K extends JobKind>(kind: K, payload: JobPayloads[K], how?: Queueing): Promise<void>;
	/** Many of a kind at once, due now. */
	queueAll<K extends JobKind>(kind: K, payloads: readonly JobPayloads[K][]): Promise<void>;
	/** The member's grants, account or sessions changed. */
	standingChanged(memberId: string): void;
	/** Items, fences, releases, plans or rules of the site changed: which, so that only they are looked at. */
	policyChanged(cause: string, touched: Touched): void;
	/** Only what is shown changed: titles, pictures, words. */
	contentChanged(): void;
	/** A device that nobody is signed in on redeemed a code. */
	devicesChanged(): void;
}

/** Looks at a change of the policy under the lock, before it is written. Throws to take everything back. */
export type PolicyCheck = (change: { delta: Delta; digest: string; since: readonly PolicyStep[] }) => void;

/** Somebody changed the same meanwhile: what was read is old. */
export class PolicyMoved extends Error {
	readonly code = 'policy-moved';
}

/** What a transaction needs. */
export type Transacting = Using<'clock' | 'db' | 'isPractice' | 'log' | 'rights' | 'wake'>;

/** What is sold and how the site is set is the same for all: whoever practises changes nothing of it. */
export class NotInPractice extends Error {
	readonly code = 'not-in-practice';
	constructor() {
		super('This belongs to the site itself, and nothing was changed. Leave practice first.');
	}
}

const NOTES_AT_ONCE = 1000;

export async function transact<T>(
	app: Transacting,
	actor: Actor,
	work: (work: Work) => Promise<T>,
	check: PolicyCheck | null = null
): Promise<T> {
	for (let attempt = 1; ; attempt++) {
		try {
			return await once(app, actor, work, check);
		} catch (error) {
			const isMoved = error instanceof PolicyMoved;
			if (attempt >= TRIES || !(isMoved || isWorthRepeating(error))) throw error;
			if (isMoved) await app.rights.refresh();
		}
	}
}

async function once<T>(
	app: Transacting,
	actor: Actor,
	body: (work: Work) => Promise<T>,
	check: PolicyCheck | null
): Promise<T> {
	const now = app.clock.business();
	const wall = app.clock.wall();
	const known = app.rights.known();
	const changed = new Map<string, { kind: RightsChange; memberId: string | null }>();
	const change = (kind: RightsChange, memberId: string | null = null) =>
		void changed.set(`${kind} ${memberId}`, { kind, memberId });
	let hasQueued = false;
	const result = await app.db.transaction(async (tx) => {
		const policy = new PolicyTouches();
		const noteAll = async (entries: readonly AuditNote[]) => {
			for (let n = 0; n < entries.length; n += NOTES_AT_ONCE)
				await tx.insert(audit).values(
					entries.slice(n, n + NOTES_AT_ONCE).map(({ action, subject, memberId, before, after, why }) => ({
						wallAt: wall,
						businessAt: now,
						actorId: actor?.id ?? null,
						action,
						subjectKind: subject.kind,
						subjectId: subject.id,
						memberId: memberId ?? null,
						before: before ?? null,
						after: after ?? null,
						why: why ?? null
					}))
				);
		};
		const queueAll = async <K extends JobKind>(
			kind: K,
			payloads: readonly JobPayloads[K][],
			{ runAt, subjectId, memberId }: Queueing = {}
		) => {
			if (payloads.length === 0) return;
			hasQueued = true;
			const { lane } = KINDS[kind];
			const waiting = {
				lane,
				kind,
				runAt: runAt ?? (lane === 'billing' ? now : wall),
				state: 'waiting' as const,
				subjectId: subjectId ?? null,
				memberId: memberId ?? null,
				createdAt: wall
			};
			await tx
				.insert(jobs)
				.values(payloads.map((one) => ({ ...waiting, payload: one as unknown as Record<string, unknown> })));
		};
		const ofSite = () => {
			if (app.isPractice) throw new NotInPractice();
		};
		const done = await body({
			isPractice: app.isPractice,
			tx,
			now,
			wall,
			note: (entry) => noteAll([entry]),
			noteAll,
			async queue(kind, payload, how = {}) {
				if (how.key !== undefined) {
					const [first] = await tx.insert(onceKeys).ignore().values({ key: how.key, at: wall });
					if (first.affectedRows === 0) return;
				}
				await queueAll(kind, [payload], how);
			},
			queueAll: (kind, payloads) => queueAll(kind, payloads),
			standingChanged: (memberId) => change('standing', memberId),
			policyChanged(cause, touched) {
				ofSite();
				policy.add(cause, touched);
				for (const memberId of membersNamedIn(touched.namings ?? [])) change('standing', memberId);
			},
			contentChanged() {
				ofSite();
				change('content');
			},
			devicesChanged: () => change('devices')
		});
		if (policy.cause !== null) {
			const isWritten = await policy.write(tx, known, { at: now, actorId: actor?.id ?? null }, check);
			change(isWritten ? 'policy' : 'content');
		}
		if (changed.size > 0) {
			// The moment of the writing, not of the beginning: the look back counts from it.
			const at = app.clock.wall();
			await tx.insert(rightsChanges).values([...changed.values()].map((one) => ({ ...one, at })));
		}
		return done;
	});
	// It is saved by now, whatever comes: this node hears of it a little later where it cannot be told at once.
	if (changed.size > 0)
		await app.rights
			.refresh()
			.catch((error: unknown) => app.log.warn({ err: error }, 'what was saved is heard of later'));
	if (hasQueued) app.wake();
	return result;
}

/** What one transaction touches of the policy. */
class PolicyTouches {
	cause: string | null = null;
	private readonly ids = {
		resources: new Set<string>(),
		fences: new Set<string>(),
		plans: new Set<string>(),
		releases: new Set<string>()
	};
	private readonly namings: NamingChange[] = [];
	private site = false;

	add(
		cause: string,
		{ resources = [], fences = [], plans = [], releases = [], namings = [], site = false }: Touched
	): void {
		this.cause ??= cause;
		for (const id of resources) this.ids.resources.add(id);
		for (const id of fences) this.ids.fences.add(id);
		for (const id of plans) this.ids.plans.add(id);
		for (const id of releases) this.ids.releases.add(id);
		this.namings.push(...namings);
		this.site ||= site;
	}

	/**
	 * Writes the change behind everything that came before it. What is touched is read before the lock is taken, for its rows
	 * are this transaction's; under the lock it is compared with what others have written meanwhile. `false`: nothing changed.
	 */
	async write(
		tx: Tx,
		known: PolicyVersion & { policy: Policy },
		{ at, actorId }: { at: number; actorId: string | null },
		check: PolicyCheck | null
	): Promise<boolean> {
		const { resources, fences, plans, releases } = this.ids;
		const entities = await entitiesOf(tx, {
			resources: [...resources],
			fences: [...fences],
			plans: [...plans],
			releases: [...releases],
			site: this.site
		});
		const before = finderIn(known.policy);
		const changes = [...entities.map((one) => ({ ...one, before: before(one) }) as Change), ...this.namings];
		const delta = await inPieces(comparing(changes));
		const digest = check ? await digestOfDelta(delta) : '';
		const version = await lockPolicy(tx);
		const since = version === known.version ? [] : await policyChangesAfter(tx, known.version);
		const touched = new Set(entities.map(keyOf));
		if (since.some(({ delta }) => delta.some((one) => touched.has(keyOf(one)))))
			throw new PolicyMoved('Somebody else has changed the same');
		check?.({ delta, digest, since });
		if (delta.length === 0) return false;
		await writePolicyChange(tx, { version: version + 1, at, cause: this.cause ?? '', actorId, delta });
		return true;
	}
}

/** Finds things as they are known; whether anybody has touched them since is found out under the lock. */
function finderIn({
	source,
	resources,
	plans
}: Policy): (one: Pick<Change, 'kind' | 'id'>) => Change['before'] {
	const lists = {
		resource: resources,
		fence: new Map(source.fences.map((one) => [one.id, one])),
		plan: plans,
		release: new Map(source.releases.map((one) => [one.id, one]))
	};
	return ({ kind, id }) => {
		if (kind === 'site') return siteOf(source);
		return kind === 'naming' ? null : (lists[kind].get(id) ?? null);
	};
}

/** The digest of a change: the same wherever it is worked out. In pieces, so that requests go on. */
export async function digestOfDelta(delta: Delta): Promise<string> {
	const hash = createHash('sha256');
	const spelling = each(delta, CHANGES_AT_ONCE, (change) => hash.update(`${canonical(change)}\n`));
	await inPieces(spelling);
	return hash.digest('hex');
}

export function digestOf(value: unknown): string {
	return createHash('sha256').update(canonical(value)).digest('hex');
}
