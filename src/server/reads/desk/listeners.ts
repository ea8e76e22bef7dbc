/** Programs that are told, and what they were told. */
import { postalLines, type Postal } from '$core/text/postal';
import { callBody } from '$core/listeners/listening';
import type { Using } from '../../app';
import {
	allListeners,
	callCounts,
	callsAfter,
	callsOf,
	lastTaken,
	listenerById,
	NO_CALLS,
	troubledListeners,
	type Call,
	type Listener
} from '../../db/queries/listeners';
import { CALL_STATES, type CallState } from '../../db/schema/listeners';
import { shownPlans } from '../../rights/shown';

const PAGE_SIZE = 50;

export async function listenerRows(app: Using<'db'>) {
	const [all, counts] = [await allListeners(app.db), await callCounts(app.db)];
	return all.map((one) => ({ ...shown(one), count: counts.get(one.id) ?? NO_CALLS }));
}

/** What its calls are signed with stays where it is. */
function shown({ id, name, url, events, createdAt, endedAt, failures, restsUntil }: Listener) {
	return { id, name, url, events, createdAt, endedAt, failures, restsUntil };
}

/** Plans that it may be told of. */
export async function tellablePlans(app: Using<'db' | 'rights'>) {
	return (await shownPlans(app)).map(({ id, name }) => ({ id, name }));
}

/** `null`: there is none of that id. */
export async function listenerPage(app: Using<'db' | 'rights'>, id: string, url: URL) {
	const listener = await listenerById(app.db, id);
	if (!listener) return null;
	const counts = (await callCounts(app.db, id)).get(id) ?? NO_CALLS;
	const asked = url.searchParams.get('state');
	const state = CALL_STATES.find((one) => one === asked) ?? null;
	const total = state === null ? CALL_STATES.reduce((sum, one) => sum + counts[one], 0) : counts[state];
	const last = Math.max(1, Math.ceil(total / PAGE_SIZE));
	const page = Math.min(last, Math.max(1, Math.floor(Number(url.searchParams.get('page') ?? 1)) || 1));
	const calls = await callsOf(app.db, { listenerId: id, state, page, pageSize: PAGE_SIZE });
	const of = listener.planIds;
	return {
		listener: {
			...shown(listener),
			planNames: of && (await tellablePlans(app)).filter((one) => of.includes(one.id)).map(({ name }) => name)
		},
		counts,
		lastTakenAt: await lastTaken(app.db, id),
		state,
		total,
		pageSize: PAGE_SIZE,
		calls: calls.map(callRow)
	};
}

function callRow(call: Call) {
	const { id, event, state, tries, status, answer, lastTryAt, createdAt } = call;
	const about = aboutOf(call);
	return { id, event, state, tries, status, answer, lastTryAt, createdAt, about, body: callBody(call) };
}

/** Whom and what a call is about, as it says it. */
function aboutOf({ content }: Call): {
	name: string;
	email: string;
	plan: string;
	/** The plan's mailing list. */
	list: string;
	order: string;
	total: string;
	/** In one line; empty where nothing is sent. */
	sentTo: string;
} {
	const of = (key: string) => (content[key] ?? {}) as Record<string, unknown>;
	const text = (value: unknown) => (typeof value === 'string' ? value : '');
	const total = text(of('order').total);
	// As it was kept by the order, in the same words.
	const postal = of('order').postal as Postal | null | undefined;
	return {
		...{ name: text(of('member').name), email: text(of('member').email) },
		...{ plan: text(of('plan').name), list: text(of('plan').mailingList), order: text(of('order').number) },
		total: total === '' ? '' : `${total} ${text(of('order').currency)}`,
		sentTo: postal ? postalLines(postal, postal.country).join(', ') : ''
	};
}

const ROWS_AT_ONCE = 1000;
export const MOST_ROWS = 100_000;

/** Everything that is kept of what it was told, the oldest first, for a table. */
export async function callTable(app: Using<'db'>, id: string) {
	const rows: { at: string; event: string; state: CallState; about: ReturnType<typeof aboutOf> }[] = [];
	for (let after: string | null = null; rows.length < MOST_ROWS;) {
		const next: Call[] = await callsAfter(app.db, id, after, ROWS_AT_ONCE);
		for (const call of next)
			rows.push({
				...{ event: call.event, state: call.state, about: aboutOf(call) },
				at: typeof call.content.at === 'string' ? call.content.at : ''
			});
		after = next.at(-1)?.id ?? null;
		if (next.length < ROWS_AT_ONCE) break;
	}
	return rows;
}

/** Programs that do not answer, or have refused something that nobody has looked at. */
export async function listenersInTrouble(app: Using<'clock' | 'db'>) {
	return troubledListeners(app.db, app.clock.wall());
}
