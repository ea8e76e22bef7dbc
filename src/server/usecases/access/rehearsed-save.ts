/**
 * Saves that move access: first it is worked out what they would do, and when that is anything at all, somebody has to
 * say yes. The yes is to one change: it names the rehearsal, which keeps the digest of the change. What is about to be
 * written is digested again; where it differs, or where something that the rehearsal looked at has moved, it is asked anew.
 */
import { createHash } from 'node:crypto';
import { gunzipSync, gzipSync } from 'node:zlib';
import { setImmediate as pause } from 'node:timers/promises';
import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { comparing, comparingSources, type Delta } from '$core/access/delta';
import type { Member, PolicySource } from '$core/access/model';
import { membersNamedIn, namingsIn, type NamingChange } from '$core/access/namings';
import { hasMoved, lookingAt, type LookedAt } from '$core/access/moved';
import type { Policy } from '$core/access/policy';
import { batchesIn, becoming, changesNothing, rehearsing, type Rehearsal } from '$core/access/rehearse';
import type { Instant } from '$core/time/instant';
import type { Actor, Using } from '../../app';
import { labelLists } from '../../rights/label-lists';
import { policyChangesAfter } from '../../db/queries/policy';
import { rehearsals } from '../../db/schema/access';
import { inPieces } from '../../in-pieces';
import { digestOfDelta, PolicyMoved, transact, type Work, type Transacting } from '../../transact';

/** What a change would do, kept for a while so that somebody can say yes to it, and look at its lists. */
/** What a save needs that is rehearsed before. */
export type Rehearsing = Transacting & Using<'population'>;

export interface KeptRehearsal {
	id: string;
	result: Rehearsal;
}

export type Saved<T> = { kind: 'saved'; value: T } | { kind: 'rehearsed'; rehearsal: KeptRehearsal };

/** Ids and moments of what a change makes: the same at the rehearsal and at the save that it was agreed to for. */
export interface Mint {
	at: Instant;
	/** @param name what the id is for, within this change */
	id(name: string): string;
}

/** What somebody has said yes to, if anything. */
export interface Consent {
	mint: Mint;
	/** Of the rehearsal that is kept if one is needed: the same ids are minted when it comes back. */
	rehearsalId: string;
	agreed: { version: number; digest: string } | null;
}

/** @param agreedTo the rehearsal that a form says yes to */
export async function consentOf(app: Using<'clock' | 'db'>, agreedTo: string | null): Promise<Consent> {
	const [row] =
		agreedTo === null
			? []
			: await app.db
					.select({ version: rehearsals.version, digest: rehearsals.digest, at: rehearsals.mintedAt })
					.from(rehearsals)
					.where(eq(rehearsals.id, agreedTo));
	const seed = row && agreedTo !== null ? agreedTo : uuidv7();
	const at = row?.at ?? app.clock.business();
	return { mint: mintFrom(seed, at), rehearsalId: seed, agreed: row ?? null };
}

function mintFrom(seed: string, at: Instant): Mint {
	return {
		at,
		id(name) {
			const random = createHash('sha256').update(`${seed} ${name}`).digest().subarray(0, 16);
			return uuidv7({ msecs: at, random });
		}
	};
}

/** Saves, and says yes to whatever it would do: for scripts that nobody watches. */
export async function agreeing<T extends { kind: string }>(
	save: (agreedTo: string | null) => Promise<T | { kind: 'rehearsed'; rehearsal: KeptRehearsal }>
): Promise<T> {
	const first = await save(null);
	const last =
		first.kind === 'rehearsed' && 'rehearsal' in first
			? await save((first.rehearsal as KeptRehearsal).id)
			: first;
	if (last.kind === 'rehearsed') throw new Error('The policy changed while it was saved');
	return last as T;
}

/** Looks anew, and tries once more, where somebody else has saved the same in between. */
export async function lookingAnew<T>(app: Using<'rights'>, save: () => Promise<T>): Promise<T> {
	for (let attempt = 1; ; attempt++)
		try {
			return await save();
		} catch (error) {
			if (!(error instanceof PolicyMoved) || attempt === TRIES) throw error;
			await app.rights.refresh();
		}
}

/** Something that the yes was given for has moved. */
class StaleYes extends Error {
	readonly code = 'stale-yes';
}

/** What was about to be written is not what was agreed to. */
class OtherChange extends Error {
	readonly code = 'other-change';
	constructor(readonly delta: Delta) {
		super('What would be written is another change than the one that was agreed to');
	}
}

const TRIES = 5;

/** What a save does besides changing the rules. */
interface BesidesPolicy {
	/** Whom it names, or names no longer. */
	namings?: readonly NamingChange[];
	/** Whom it gives something, and how they stand then. */
	given?: { memberIds: ReadonlySet<string>; become: (member: Member) => Member } | undefined;
	signal?: AbortSignal | undefined;
}

/**
 * `change` says what the save does to the policy, and `namings` whom it names, where it names anybody; `save` does it.
 */
export async function saveRehearsed<T>(
	app: Rehearsing,
	actor: Actor,
	consent: Consent,
	change: (source: PolicySource) => PolicySource,
	save: (work: Work) => Promise<T>,
	{ namings = [], signal, given }: BesidesPolicy = {}
): Promise<Saved<T>> {
	/** Changes that were looked at and do nothing to anybody. */
	const harmless = new Set<string>();
	for (let attempt = 1; ; attempt++) {
		await app.rights.policy();
		const before = app.rights.known();
		const ofPolicy = await inPieces(comparingSources(before.source, change(before.source)));
		const delta = namings.length === 0 ? ofPolicy : await inPieces(comparing([...ofPolicy, ...namings]));
		const digest = await digestOfDelta(delta);
		const after = await inPieces(before.policy.refiling(delta));
		await pause();
		const looked = await inPieces(lookingAt(before.policy, after, delta, await pagesLookedAt(app)));
		const isAgreed = consent.agreed !== null && !(await isStale(app, consent.agreed.version, looked));
		if (!isAgreed && delta.length > 0 && !harmless.has(digest)) {
			const change = { delta, digest, before, after };
			const rehearsal = await rehearse(app, consent, change, { signal, given });
			if (rehearsal) return { kind: 'rehearsed', rehearsal };
			harmless.add(digest);
		}
		const accepted = new Set([...harmless, await digestOfDelta([])]);
		if (isAgreed && consent.agreed) accepted.add(consent.agreed.digest);
		try {
			const value = await transact(app, actor, save, ({ delta: written, digest, since }) => {
				if (!accepted.has(digest)) throw new OtherChange(written);
				const meanwhile = since.filter(({ version }) => version > before.version);
				if (
					written.length > 0 &&
					hasMoved(
						looked,
						meanwhile.flatMap((one) => one.delta)
					)
				)
					throw new StaleYes('Something has moved since it was agreed to');
			});
			return { kind: 'saved', value };
		} catch (error) {
			if (attempt >= TRIES) throw error;
			if (error instanceof OtherChange) {
				const now = app.rights.known();
				const other = await inPieces(now.policy.refiling(error.delta));
				const digest = await digestOfDelta(error.delta);
				const change = { delta: error.delta, digest, before: now, after: other };
				const rehearsal = await rehearse(app, consent, change, { signal, given });
				if (rehearsal) return { kind: 'rehearsed', rehearsal };
				harmless.add(digest);
			} else if (error instanceof StaleYes) await app.rights.refresh();
			else throw error;
		}
	}
}

/** Whether something that was looked at has moved since a version. */
async function isStale(app: Using<'db' | 'rights'>, version: number, looked: LookedAt): Promise<boolean> {
	const since = await policyChangesAfter(app.db, version);
	return hasMoved(
		looked,
		since.flatMap(({ delta }) => delta)
	);
}

/** What a change would do, without saving anything. */
export async function rehearseChange(
	app: Using<'clock' | 'db' | 'population' | 'rights'>,
	change: (source: PolicySource) => PolicySource,
	signal?: AbortSignal
): Promise<Rehearsal> {
	const before = await app.rights.policy();
	const delta = await inPieces(comparingSources(before.source, change(before.source)));
	const after = await inPieces(before.refiling(delta));
	return workedOut(app, before, after, { signal });
}

interface RehearsedChange {
	delta: Delta;
	digest: string;
	before: { version: number; policy: Policy };
	after: Policy;
}

/** Keeps what a change would do; `null` where that is nothing. */
async function rehearse(
	app: Using<'clock' | 'db' | 'population' | 'rights'>,
	{ rehearsalId, mint }: Consent,
	{ delta, digest, before, after }: RehearsedChange,
	besides: BesidesPolicy
): Promise<KeptRehearsal | null> {
	const result = await workedOut(app, before.policy, after, { ...besides, namings: namingsIn(delta) });
	if (changesNothing(result)) return null;
	return keepRehearsal(app, { rehearsalId, mint }, { version: before.version, digest }, result);
}

/** Keeps what something would do under what it is of, so that somebody can say yes to it and look at all of it. */
export async function keepRehearsal(
	app: Using<'clock' | 'db'>,
	{ rehearsalId, mint }: Pick<Consent, 'rehearsalId' | 'mint'>,
	{ version, digest }: { version: number; digest: string },
	result: Rehearsal
): Promise<KeptRehearsal> {
	const bytes = gzipSync(JSON.stringify(result));
	const row = {
		at: app.clock.wall(),
		version,
		digest,
		mintedAt: mint.at,
		result: bytes.length <= MOST_RESULT_BYTES ? bytes : null
	};
	await app.db
		.insert(rehearsals)
		.values({ id: rehearsalId, ...row })
		.onDuplicateKeyUpdate({ set: row });
	return { id: rehearsalId, result };
}

/** As much as fits into a packet with room to spare. */
const MOST_RESULT_BYTES = 8 * 1024 ** 2;

/** Pages without an item that a rehearsal looks at. */
async function pagesLookedAt(app: Using<'db' | 'rights'>): Promise<string[]> {
	return ['/', ...(await labelLists(app)).map(({ path }) => path)];
}

async function workedOut(
	app: Using<'clock' | 'db' | 'population' | 'rights'>,
	before: Policy,
	after: Policy,
	{ namings = [], signal, given }: BesidesPolicy
): Promise<Rehearsal> {
	const members = await app.population.groups(membersNamedIn(namings));
	const stand = given ? becoming(members, given.memberIds, given.become) : members;
	const groups = [...stand, ...(await app.population.devices(batchesIn(before, after)))];
	const addresses = await pagesLookedAt(app);
	const from = app.clock.business();
	const work = rehearsing({ before, after, groups, from, assume: 'renewals-go-on', namings, addresses });
	return inPieces(work, signal);
}

/** `null`: it is too old, or was too large to be kept. */
export async function keptRehearsal(app: Using<'db'>, id: string): Promise<KeptRehearsal | null> {
	const [row] = await app.db
		.select({ result: rehearsals.result })
		.from(rehearsals)
		.where(eq(rehearsals.id, id));
	if (!row?.result) return null;
	return { id, result: JSON.parse(gunzipSync(row.result).toString('utf8')) as Rehearsal };
}
