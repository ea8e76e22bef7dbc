/**
 * Mails staff what happened, as each wishes it: at once (what came within a round in one mail), or once a day.
 *
 * What happened is looked for where it is written anyway, so that nothing that happens waits for its being told; each is
 * found once, whichever node looks, and an hour is looked back, for what was begun before and written after.
 */
import { v7 as uuidv7 } from 'uuid';
import { lapsesWithin } from '$core/access/came-and-went';
import { isToldTo, lastDaily, tellKind } from '$core/staff/telling';
import type { Permissions } from '$core/staff/permissions';
import type { Using } from '../../app';
import { allLabels } from '../../db/queries/member-list';
import { accountById, lockAccount } from '../../db/queries/members';
import { allStaff, permissionsOf } from '../../db/queries/staff';
import {
	beginRounds,
	endRound,
	failedJobs,
	keepTellings,
	lockRound,
	takeBatch,
	tellRound,
	toldInAudit,
	wishesOf,
	writeWishes,
	type NewTelling,
	type Told,
	type Wishes
} from '../../db/queries/telling';
import { JOBS_OF_LIBRARY } from '../../db/schema/running';
import type { Staff } from '../../people/need';
import { ChangedMeanwhile, expectRevision } from '../../revision';
import { transact, type Transacting, type Work } from '../../transact';

const MINUTE_MS = 60_000;
const LOOK_BACK_MS = 60 * MINUTE_MS;

interface Reader {
	id: string;
	permissions: Permissions;
	wishes: Wishes;
}

/** One round. @returns how many mails were queued */
export async function tellStaff(app: Transacting & Using<'population' | 'site'>): Promise<number> {
	const { zone } = await app.site();
	const [wall, now] = [app.clock.wall(), app.clock.business()];
	const round = await tellRound(app.db);
	if (round === null) {
		await transact(app, null, ({ tx }) =>
			beginRounds(tx, { lookedAt: wall, beganAt: wall, lapsesUntil: now, dailyAt: lastDaily(now, zone) })
		);
		return 0;
	}
	const labels = new Set((await allLabels(app.db)).map(({ id }) => id));
	// Whoever pays in the last moment is heard of a little later.
	const lapsesUntil = Math.max(round.lapsesUntil, now - MINUTE_MS);
	const found = [
		...(await toldInAudit(app.db, Math.max(round.beganAt, round.lookedAt - LOOK_BACK_MS))),
		...(await failedJobs(app.db, round.beganAt, now)),
		...(await lapses(app, labels, round.lapsesUntil, lapsesUntil))
	].filter(({ planId }) => !planId || !labels.has(planId));
	const readers = await readersOf(app);
	return transact(app, null, async (work) => {
		const before = await lockRound(work.tx);
		if (before === null || before.lapsesUntil > lapsesUntil) return 0;
		await keepTellings(work.tx, found, wall);
		const due = lastDaily(now, zone);
		const mails =
			(await mail(work, readers, 'at-once')) +
			(due > before.dailyAt ? await mail(work, readers, 'daily') : 0);
		await endRound(work.tx, {
			lookedAt: Math.max(before.lookedAt, wall),
			lapsesUntil,
			dailyAt: Math.max(before.dailyAt, due)
		});
		return mails;
	});
}

async function lapses(
	app: Using<'population'>,
	labels: ReadonlySet<string>,
	from: number,
	to: number
): Promise<NewTelling[]> {
	const members = await app.population.all();
	return lapsesWithin(members.values(), labels, from, to).map(({ memberId, planId, at }) => ({
		source: `lapse ${memberId} ${planId} ${at}`,
		action: 'ran-out',
		hasEnded: true,
		memberId,
		planId,
		at
	}));
}

async function readersOf(app: Using<'db'>): Promise<Reader[]> {
	const staff = await allStaff(app.db);
	return Promise.all(
		staff.map(async (one) => ({
			id: one.id,
			permissions: await permissionsOf(app.db, one),
			wishes: await wishesOf(app.db, one.id, one.role === 'owner')
		}))
	);
}

async function mail(work: Work, readers: readonly Reader[], how: 'at-once' | 'daily'): Promise<number> {
	const batch = uuidv7();
	const told = await takeBatch(work.tx, how, batch);
	const wanting = readers.filter((reader) => toldTo(told, reader, how).length > 0);
	for (const { id } of wanting)
		await work.queue('mail', { occasion: 'told', accountId: id, batch, how }, { memberId: id });
	return wanting.length;
}

/** What of a batch somebody is told of. */
export function toldTo(told: readonly Told[], reader: Reader, how: 'at-once' | 'daily'): Told[] {
	return told.filter(({ action, actorId, jobKind }) => {
		const kind = tellKind(action);
		const isOfLibrary = jobKind !== null && JOBS_OF_LIBRARY.has(jobKind);
		return kind !== null && reader.wishes[kind] === how && isToldTo({ action, actorId, isOfLibrary }, reader);
	});
}

/** How somebody is told of what they may see: everybody chooses for themselves. */
export async function saveWishes(
	app: Transacting,
	actor: NonNullable<Staff>,
	wish: Wishes,
	revision: string | null
): Promise<{ kind: 'saved' } | { kind: 'changed'; theirs: Wishes }> {
	const isOwner = (await accountById(app.db, actor.id))?.role === 'owner';
	try {
		await transact(app, actor, async (work) => {
			await lockAccount(work.tx, actor.id);
			const before = await wishesOf(work.tx, actor.id, isOwner);
			expectRevision(revision, before);
			await writeWishes(work.tx, actor.id, wish);
			const subject = { kind: 'account', id: actor.id };
			await work.note({ action: 'chose-mails', subject, before, after: wish });
		});
		return { kind: 'saved' };
	} catch (error) {
		if (!(error instanceof ChangedMeanwhile)) throw error;
		return { kind: 'changed', theirs: await wishesOf(app.db, actor.id, isOwner) };
	}
}
