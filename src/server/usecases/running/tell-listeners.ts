/**
 * Tells programs who joins, who leaves and who buys: what happened is kept as calls, and each program is called by one at a
 * time, in order, whichever node it is.
 *
 * Who joined and left is the difference between who holds what and what was told last, looked for every minute: whatever gave
 * a plan or took it, by hand, by a file or by the passing of time, is found by it, and nothing that happens waits for it.
 */
import { and, eq, inArray, isNotNull, isNull } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { plainAmount } from '$core/billing/money';
import { afterCall, callBody, isToldOf, type CallAnswer, type CallEvent } from '$core/listeners/listening';
import { placeChanges, type Place } from '$core/listeners/places';
import { nextTry } from '$core/time/retry';
import type { Using } from '../../app';
import { DONE, notDone, type Done } from '../../done';
import { giftOfOrder } from '../../db/queries/gifts';
import { accountById } from '../../db/queries/members';
import {
	endTurn,
	forgetCallsAbout,
	heldPlaces,
	idleListeners,
	keepAnswer,
	keepCalls,
	listenerById,
	listening,
	lockPlaces,
	membersMoved,
	nextCall,
	placesOf,
	takeTurn,
	writePlaces,
	type Call,
	type Listener,
	type NewCall
} from '../../db/queries/listeners';
import { linesOfOrder, type Order } from '../../db/queries/sales';
import { calls, listeners } from '../../db/schema/listeners';
import { plans } from '../../db/schema/sales';
import { OutboundError } from '../../ports/outbound';
import { need, type Staff } from '../../people/need';
import { transact, type Transacting, type Work } from '../../transact';
import { secretOfListener } from './listeners';

/** Members that are compared in one transaction. */
const COMPARED_AT_ONCE = 500;
/** A call takes a quarter of that at most. */
const TURN_MS = 60_000;
/** Then others of the lane have their turn. */
const CALLS_A_TURN = 100;

/** One look at who holds what, and a job for each program for which something waits. @returns calls that were made of it */
export async function tellPlaces(app: Transacting): Promise<number> {
	const made = await compareAll(app);
	const idle = await idleListeners(app.db, app.clock.wall());
	if (idle.length > 0)
		await transact(app, null, async (work) => {
			for (const listenerId of idle) await work.queue('call', { listenerId }, { subjectId: listenerId });
		});
	return made;
}

async function compareAll(app: Transacting): Promise<number> {
	if ((await listening(app.db)).length === 0) return 0;
	for (let all = 0; ;) {
		const { members, made } = await transact(app, null, comparePlaces);
		all += made;
		if (members < COMPARED_AT_ONCE) return all;
	}
}

async function comparePlaces(work: Work): Promise<{ members: number; made: number }> {
	if (!(await lockPlaces(work.tx))) return { members: 0, made: 0 };
	const memberIds = await membersMoved(work.tx, work.now, COMPARED_AT_ONCE);
	const held = await heldPlaces(work.tx, memberIds, work.now);
	const { left, joined } = placeChanges(await placesOf(work.tx, memberIds), held);
	await writePlaces(work.tx, left, joined);
	const names = new Map(held.map(({ memberId, name }) => [memberId, name]));
	const made = await tell(work, [
		...left.map((one) => toldOf('left', one, { name: names.get(one.memberId) ?? '' })),
		...joined.map(({ name, isProved, ...one }) => toldOf('joined', one, { name, isProved }))
	]);
	return { members: memberIds.length, made };
}

interface Happened {
	event: CallEvent;
	planId: string;
	memberId: string | null;
	content: Record<string, unknown>;
}

function toldOf(
	event: CallEvent,
	{ memberId, planId, email }: Place,
	more: Record<string, unknown>
): Happened {
	return { event, planId, memberId, content: { member: { id: memberId, email, ...more } } };
}

/** Keeps a call for each program that listens to it. @returns how many */
async function tell(work: Work, happened: readonly Happened[]): Promise<number> {
	if (happened.length === 0) return 0;
	const all = await listening(work.tx);
	if (all.length === 0) return 0;
	const named = await plansNamed(work, [...new Set(happened.map(({ planId }) => planId))]);
	const at = new Date(work.now).toISOString();
	const made = happened.flatMap(({ event, planId, memberId, content }): NewCall[] =>
		all
			.filter((one) => isToldOf(one, event, planId))
			.map(({ id: listenerId, url }) => ({
				...{ id: uuidv7(), listenerId, event, memberId },
				// Nobody is called: it is told by being kept.
				state: url === null ? 'taken' : 'waiting',
				content: { at, plan: named.get(planId) ?? { id: planId }, ...content }
			}))
	);
	await keepCalls(work.tx, made, work.wall);
	return made.length;
}

async function plansNamed({ tx }: Work, ids: readonly string[]) {
	const { id, name, slug, mailingList } = plans;
	const rows = await tx
		.select({ id, name, slug, mailingList })
		.from(plans)
		.where(inArray(plans.id, [...ids]));
	return new Map(rows.map(({ slug: last, ...row }) => [row.id, { ...row, address: `/plans/${last}` }]));
}

/** In the transaction in which an order is paid, or asks for nothing. */
export async function tellBought(work: Work, order: Order, memberId: string): Promise<void> {
	const all = (await listening(work.tx)).filter(({ events }) => events.includes('bought'));
	if (all.length === 0) return;
	const account = await accountById(work.tx, memberId);
	const lines = await linesOfOrder(work.tx, order.id);
	const [first] = lines;
	if (!account || !first) return;
	const made = await tell(work, [
		{
			...{ event: 'bought', planId: first.planId, memberId },
			content: {
				member: {
					id: memberId,
					email: account.email,
					name: account.name,
					isProved: account.provedAt !== null
				},
				order: {
					number: order.number,
					...{ currency: order.currency, totalMinor: order.totalMinor },
					total: plainAmount({ minor: order.totalMinor, currency: order.currency }),
					isMove: order.movesId !== null,
					isGift: (await giftOfOrder(work.tx, order.id)) !== null,
					/** Where something is sent by post, if its plan asks for that. */
					postal: order.postal,
					lines: lines.map(({ kind, text, planId }) => ({ kind, text, planId }))
				}
			}
		}
	]);
	const called = all.filter((one) => one.url !== null && isToldOf(one, 'bought', first.planId));
	if (made > 0) for (const { id } of called) await work.queue('call', { listenerId: id }, { subjectId: id });
}

/** In the transaction in which somebody's account is deleted: that they left is told, and nothing else of them any more. */
export async function tellDeleted(work: Work, memberId: string): Promise<void> {
	await forgetCallsAbout(work.tx, memberId);
	if (!(await lockPlaces(work.tx))) return;
	const left = await placesOf(work.tx, [memberId]);
	await writePlaces(work.tx, left, []);
	await tell(
		work,
		left.map((one) => ({ ...toldOf('left', one, { name: '' }), memberId: null }))
	);
}

export type Calling = Transacting & Using<'keys' | 'outbound' | 'signatures'>;

/** Calls a program with what waits for it, until one is not answered. Another time for the rest is queued. */
export async function callListener(
	app: Calling,
	listenerId: string,
	token: string,
	signal: AbortSignal
): Promise<void> {
	const wall = () => app.clock.wall();
	const mine = () => takeTurn(app.db, listenerId, token, wall(), wall() + TURN_MS);
	if (!(await mine())) return;
	let failures = (await listenerById(app.db, listenerId))?.failures ?? 0;
	let restsUntil: number | null = null;
	let isCompared = false;
	try {
		for (let n = 0; n < CALLS_A_TURN && !signal.aborted; n++) {
			const call = await nextCall(app.db, listenerId);
			if (!call && (isCompared || n === 0)) break;
			if (!call) {
				// Whoever bought has joined by now.
				isCompared = true;
				await compareAll(app);
				continue;
			}
			// It may have been ended, or be called elsewhere or otherwise by now.
			const listener = (await mine()) ? await listenerById(app.db, listenerId) : null;
			if (!listener) return;
			const isHeard = await callOnce(app, listener, call);
			failures = isHeard ? 0 : failures + 1;
			if (isHeard) continue;
			restsUntil = nextTry({ kind: 'for-ever' }, failures, call.createdAt, wall());
			break;
		}
	} finally {
		await endTurn(app.db, listenerId, token, { failures, restsUntil });
	}
	// What came while the last answer was waited for, or is left, has a turn of its own.
	if (signal.aborted || !(await nextCall(app.db, listenerId))) return;
	const runAt = restsUntil ?? wall();
	await transact(app, null, (work) => work.queue('call', { listenerId }, { runAt, subjectId: listenerId }));
}

/** @returns whether the program is there: what it makes of the call is its own affair */
async function callOnce(app: Calling, listener: Listener, call: Call): Promise<boolean> {
	const at = app.clock.wall();
	const waitsSince = call.dueAt ?? at;
	if (call.dueAt === null) await app.db.update(calls).set({ dueAt: at }).where(eq(calls.id, call.id));
	const { answer, words } = await post(app, listener, call);
	const end = afterCall(answer, waitsSince, app.clock.wall());
	await keepAnswer(app.db, call.id, {
		state: end === 'again' ? 'waiting' : end,
		status: answer.kind === 'answered' ? answer.status : null,
		...{ answer: words, at: app.clock.wall() }
	});
	return end !== 'again';
}

async function post(
	app: Calling,
	listener: Listener,
	call: Call
): Promise<{ answer: CallAnswer; words: string }> {
	const url = listener.url ?? '';
	const body = new TextEncoder().encode(callBody(call));
	const secret = secretOfListener(app, listener);
	if (secret === null) return { answer: { kind: 'silent' }, words: NO_SECRET };
	const message = { method: 'POST', path: new URL(url).pathname, body };
	const seconds = Math.floor(app.clock.wall() / 1000);
	const signed = app.signatures.sign(message, secret, seconds, listener.id);
	try {
		const { status, answer } = await app.outbound.post(url, body, {
			'content-type': 'application/json',
			...signed
		});
		return { answer: { kind: 'answered', status }, words: answer };
	} catch (error) {
		if (!(error instanceof OutboundError)) throw error;
		return { answer: { kind: 'silent' }, words: error.message };
	}
}

const NO_SECRET = 'Its secret cannot be opened with the master keys that are loaded. Give it a new one.';

/** A call that says nothing but that it is one. */
export async function tryListener(app: Transacting, actor: Staff, listenerId: string): Promise<Done> {
	need(actor, 'settings');
	return transact(app, actor, async (work) => {
		if (!(await wake(work, listenerId))) return notDone('unknown');
		const content = { at: new Date(work.now).toISOString() };
		await keepCalls(
			work.tx,
			[{ id: uuidv7(), listenerId, event: 'trial', memberId: null, state: 'waiting', content }],
			work.wall
		);
		await work.note({ action: 'tried-listener', subject: { kind: 'listener', id: listenerId } });
		return DONE;
	});
}

/** Calls that were refused, or taken and lost there, wait again, before all that came later. */
export async function callAgain(
	app: Transacting,
	actor: Staff,
	listenerId: string,
	which: { callId: string } | 'all-refused'
): Promise<Done> {
	need(actor, 'settings');
	return transact(app, actor, async (work) => {
		if (!(await wake(work, listenerId))) return notDone('unknown');
		const meant =
			which === 'all-refused'
				? eq(calls.state, 'refused')
				: and(eq(calls.id, which.callId), inArray(calls.state, ['taken', 'refused', 'let-go']));
		const [again] = await work.tx
			.update(calls)
			.set({ state: 'waiting', dueAt: null })
			.where(and(eq(calls.listenerId, listenerId), meant));
		if (again.affectedRows === 0) return notDone('unknown');
		const after = { count: again.affectedRows };
		await work.note({ action: 'called-again', subject: { kind: 'listener', id: listenerId }, after });
		return DONE;
	});
}

/** What was refused is seen, and stays so. */
export async function letGo(app: Transacting, actor: Staff, listenerId: string): Promise<Done> {
	need(actor, 'settings');
	return transact(app, actor, async (work) => {
		const [gone] = await work.tx
			.update(calls)
			.set({ state: 'let-go' })
			.where(and(eq(calls.listenerId, listenerId), eq(calls.state, 'refused')));
		if (gone.affectedRows === 0) return notDone('unknown');
		const after = { count: gone.affectedRows };
		await work.note({ action: 'let-calls-go', subject: { kind: 'listener', id: listenerId }, after });
		return DONE;
	});
}

/** It is called now, however long it was to be let alone. */
export async function callNow(app: Transacting, actor: Staff, listenerId: string): Promise<Done> {
	need(actor, 'settings');
	return transact(app, actor, async (work) => ((await wake(work, listenerId)) ? DONE : notDone('unknown')));
}

async function wake(work: Work, listenerId: string): Promise<boolean> {
	const [woken] = await work.tx
		.update(listeners)
		.set({ restsUntil: null })
		.where(and(eq(listeners.id, listenerId), isNull(listeners.endedAt), isNotNull(listeners.url)));
	if (woken.affectedRows === 0) return false;
	await work.queue('call', { listenerId }, { subjectId: listenerId });
	return true;
}
