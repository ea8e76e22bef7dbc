/** Programs that are told who joins, leaves and buys. What their calls are signed with is shown once. */
import { and, eq, inArray, isNull } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { CallEvent } from '$core/listeners/listening';
import type { Using } from '../../app';
import { DONE, notDone, type Done } from '../../done';
import {
	forgetPlaces,
	keepsPlaces,
	listenerById,
	listening,
	lockListener,
	lockPlaces,
	takePlaces,
	type Listener
} from '../../db/queries/listeners';
import { planNames } from '../../db/queries/sales';
import { calls, listeners } from '../../db/schema/listeners';
import { newToken } from '../../people/sessions';
import { need, type Staff } from '../../people/need';
import { ChangedMeanwhile, expectRevision } from '../../revision';
import { transact, type Transacting, type Work } from '../../transact';

export interface ListenerWish {
	name: string;
	/** Empty: nobody is called, and what happens is kept as a table. */
	url: string;
	events: CallEvent[];
	/** `null`: all plans. */
	planIds: string[] | null;
}

export type ListenerProblem = 'not-an-address' | 'not-secret' | 'nothing-to-tell' | 'unknown-plan';

type Making = Transacting & Using<'keys' | 'settings'>;

export async function makeListener(
	app: Making,
	actor: Staff,
	wish: ListenerWish
): Promise<{ kind: 'made'; id: string; secret: string } | { kind: 'refused'; code: ListenerProblem }> {
	need(actor, 'settings');
	const problem = await problemOf(app, wish);
	if (problem) return { kind: 'refused', code: problem };
	const [id, secret] = [uuidv7(), newToken()];
	const { keyId, wrapped: sealed } = app.keys.seal(sealedFor(id), secret);
	await transact(app, actor, async (work) => {
		// Whoever holds a plan by now has not joined it since.
		if (!(await lockPlaces(work.tx))) {
			await takePlaces(work.tx, work.now);
			await keepsPlaces(work.tx, true);
		}
		await work.tx.insert(listeners).values({ ...columnsOf(wish), id, keyId, sealed, createdAt: work.wall });
		await work.note({ action: 'made-listener', subject: { kind: 'listener', id }, after: noted(wish) });
	});
	return { kind: 'made', id, secret };
}

export type ListenerChanged =
	| { kind: 'saved' }
	| { kind: 'unknown' }
	| { kind: 'refused'; code: ListenerProblem }
	| { kind: 'changed'; theirs: ListenerWish };

/** What it was told stays as it is; what waits goes to the new address. */
export async function changeListener(
	app: Making,
	actor: Staff,
	id: string,
	wish: ListenerWish,
	revision: string | null
): Promise<ListenerChanged> {
	need(actor, 'settings');
	const problem = await problemOf(app, wish);
	if (problem) return { kind: 'refused', code: problem };
	try {
		return await transact<ListenerChanged>(app, actor, async (work) => {
			const row = await lockListener(work.tx, id);
			if (!row || row.endedAt !== null) return { kind: 'unknown' };
			const before = wishOf(row);
			expectRevision(revision, before);
			await work.tx
				.update(listeners)
				.set({ ...columnsOf(wish), failures: 0, restsUntil: null })
				.where(eq(listeners.id, id));
			// Nobody is called any more: what waits is told by being kept.
			if (wish.url === '')
				await work.tx
					.update(calls)
					.set({ state: 'taken' })
					.where(and(eq(calls.listenerId, id), eq(calls.state, 'waiting')));
			await work.note({
				...{ action: 'changed-listener', subject: { kind: 'listener', id } },
				...{ before: noted(before), after: noted(wish) }
			});
			await work.queue('call', { listenerId: id }, { subjectId: id });
			return { kind: 'saved' };
		});
	} catch (error) {
		const theirs = error instanceof ChangedMeanwhile ? await editableListener(app, id) : null;
		if (!theirs) throw error;
		return { kind: 'changed', theirs };
	}
}

/** Another secret, shown once; `null`: there is none of that id that is told anything. The one before is worth nothing any more. */
export async function renewSecret(
	app: Transacting & Using<'keys'>,
	actor: Staff,
	id: string
): Promise<string | null> {
	need(actor, 'settings');
	const secret = newToken();
	const { keyId, wrapped: sealed } = app.keys.seal(sealedFor(id), secret);
	return transact(app, actor, async (work) => {
		const [renewed] = await work.tx
			.update(listeners)
			.set({ keyId, sealed })
			.where(and(eq(listeners.id, id), isNull(listeners.endedAt)));
		if (renewed.affectedRows === 0) return null;
		await work.note({ action: 'renewed-secret', subject: { kind: 'listener', id } });
		return secret;
	});
}

export async function endListener(app: Transacting, actor: Staff, id: string): Promise<Done> {
	need(actor, 'settings');
	return transact(app, actor, async (work) => {
		await lockPlaces(work.tx);
		const [ended] = await work.tx
			.update(listeners)
			.set({ endedAt: work.wall })
			.where(and(eq(listeners.id, id), isNull(listeners.endedAt)));
		if (ended.affectedRows === 0) return notDone('unknown');
		await work.tx
			.update(calls)
			.set({ state: 'let-go' })
			.where(and(eq(calls.listenerId, id), inArray(calls.state, ['waiting', 'refused'])));
		if ((await listening(work.tx)).length === 0) await endPlaces(work);
		await work.note({ action: 'ended-listener', subject: { kind: 'listener', id } });
		return DONE;
	});
}

async function endPlaces({ tx }: Work): Promise<void> {
	await forgetPlaces(tx);
	await keepsPlaces(tx, false);
}

/** What its calls are signed with; `null`: the master key that it was sealed under is not loaded. */
export function secretOfListener(app: Using<'keys'>, { id, keyId, sealed }: Listener): string | null {
	return app.keys.unseal(sealedFor(id), { keyId, wrapped: sealed });
}

/** What is there to be changed; `null`: there is none, or it is told nothing any more. */
export async function editableListener(app: Using<'db'>, id: string): Promise<ListenerWish | null> {
	const row = await listenerById(app.db, id);
	return row && row.endedAt === null ? wishOf(row) : null;
}

async function problemOf(
	app: Using<'db' | 'settings'>,
	{ url, events, planIds }: ListenerWish
): Promise<ListenerProblem | null> {
	if (url !== '') {
		if (!URL.canParse(url)) return 'not-an-address';
		const { protocol, host, username, password, hash } = new URL(url);
		if (!/^https?:$/.test(protocol) || username !== '' || password !== '' || hash !== '')
			return 'not-an-address';
		// Names and addresses of people travel by it.
		if (protocol === 'http:' && !app.settings.outboundHosts.includes(host)) return 'not-secret';
	}
	if (events.length === 0) return 'nothing-to-tell';
	if (planIds !== null && (await planNames(app.db, planIds)).size < new Set(planIds).size)
		return 'unknown-plan';
	return null;
}

const sealedFor = (id: string) => `listener ${id}`;

function columnsOf({ url, ...wish }: ListenerWish) {
	return { ...wish, url: url === '' ? null : url };
}

function wishOf({ name, url, events, planIds }: Listener): ListenerWish {
	return { name, url: url ?? '', events, planIds };
}

/** An address may carry a key of theirs behind the question mark: it is nobody else's to read. */
function noted({ url, ...wish }: ListenerWish) {
	return { ...wish, url: url.split('?')[0] };
}
