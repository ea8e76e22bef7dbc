/** How it goes: recurring income and what moved it, what earns, who stays, and what became of what began. */
import { earnedBy } from '$core/measure/earned';
import { incomeSheet } from '$core/measure/income-sheet';
import { outcomesByMonth, type Outcome } from '$core/measure/outcomes';
import { WHYS, type Why } from '$core/measure/recurring';
import { dayAfter, monthAfter, monthsIn, readSpan, type Span } from '$core/measure/spans';
import { whoStays } from '$core/measure/stays';
import { dayStart, localDay } from '$core/time/calendar';
import type { Using } from '../../app';
import {
	bookedBy,
	bookedRows,
	declinedDues,
	soldCurrencies,
	EARNERS,
	earnerNames,
	firstStretches,
	type Earner
} from '../../db/queries/earned';
import { incomeBefore, incomeChanges, stepRows, stepSums } from '../../db/queries/income';
import { accountNames } from '../../db/queries/members';
import { planNames } from '../../db/queries/sales';

type Reading = Using<'clock' | 'db' | 'site'>;

/** What a page of Insight is asked for by its address. */
export interface Asked {
	span: Span;
	today: string;
	currency: string;
	/** Those that there is something in; never added up. */
	currencies: string[];
}

export const ROWS_ON_PAGE = 50;

export async function askedOf(app: Reading, url: URL): Promise<Asked> {
	const site = await app.site();
	const today = localDay(app.clock.business(), site.zone);
	// The site's own first.
	const currencies = [...new Set([site.currency, ...(await soldCurrencies(app.db))])];
	const asked = url.searchParams.get('currency');
	return {
		span: readSpan(url.searchParams.get('from'), url.searchParams.get('to'), today),
		...{ today, currencies },
		currency: currencies.find((one) => one === asked) ?? site.currency
	};
}

/** When days begin, and end, in the publisher's zone. */
async function momentsOf(app: Reading, { from, to }: Span) {
	const { zone } = await app.site();
	const begin = (day: string) => dayStart(day, zone);
	return { from: begin(from), before: begin(dayAfter(to)), begin, zone };
}

export async function incomePage(app: Reading, { span, currency }: Asked) {
	const now = app.clock.business();
	const start = await incomeBefore(app.db, { currency, before: span.from, now });
	const sums = await stepSums(app.db, { currency, now, from: span.from, before: dayAfter(span.to) });
	return { months: incomeSheet(start, monthsIn(span), sums) };
}

/** What moved recurring income, one by one. */
export async function movedPage(app: Reading, { span, currency }: Asked, url: URL) {
	const why: Why | null = WHYS.find((one) => one === url.searchParams.get('why')) ?? null;
	const asked = { currency, now: app.clock.business(), from: span.from, before: dayAfter(span.to), why };
	const { rows, total } = await stepRows(app.db, asked, pieceOf(url));
	const names = await planNames(
		app.db,
		rows.flatMap(({ step }) => [step.planId, ...(step.fromPlanId ? [step.fromPlanId] : [])])
	);
	return {
		...{ why, total, pageSize: ROWS_ON_PAGE },
		rows: rows.map(({ step, name, orderId }) => ({
			...{
				id: step.id,
				at: step.at,
				why: step.why,
				memberId: step.memberId,
				name,
				orderId
			},
			...{ beforeMinor: step.beforeMinor, afterMinor: step.afterMinor },
			plan: names.get(step.planId) ?? '',
			fromPlan: step.fromPlanId === null ? null : (names.get(step.fromPlanId) ?? '')
		}))
	};
}

function pieceOf(url: URL): { limit: number; skip: number } {
	const page = Number(url.searchParams.get('page') ?? 1);
	return {
		limit: ROWS_ON_PAGE,
		skip: (Number.isSafeInteger(page) && page > 1 ? page - 1 : 0) * ROWS_ON_PAGE
	};
}

export function earnerAsked(url: URL): Earner {
	return EARNERS.find((one) => one === url.searchParams.get('by')) ?? 'plan';
}

export async function earnedPage(app: Reading, { span }: Asked, by: Earner) {
	const rows = earnedBy(await bookedBy(app.db, by, await momentsOf(app, span)));
	const names = await earnerNames(app.db, by);
	return { by, rows: rows.map((row) => ({ ...row, name: names.get(row.key) ?? 'Gone' })) };
}

/** What a figure of the earnings is made of. */
export async function earnedRows(app: Reading, { span, currency }: Asked, url: URL) {
	const by = earnerAsked(url);
	const key = url.searchParams.get('key') ?? '';
	if (!/^[0-9a-f-]{36}$/.test(key)) return null;
	const { from, before } = await momentsOf(app, span);
	const { rows, total } = await bookedRows(app.db, { by, key, currency, from, before }, pieceOf(url));
	const names = await accountNames(
		app.db,
		rows.flatMap(({ memberId }) => (memberId === null ? [] : [memberId]))
	);
	return {
		...{ by, key, total, pageSize: ROWS_ON_PAGE },
		name: (await earnerNames(app.db, by)).get(key) ?? 'Gone',
		rows: rows.map(({ memberId, ...row }) => ({
			...row,
			memberId,
			who: (memberId && names.get(memberId)) ?? ''
		}))
	};
}

async function joinedIn(app: Reading, { span, currency }: Asked) {
	const now = app.clock.business();
	const months = monthsIn(span);
	const { begin } = await momentsOf(app, span);
	const ends = months.map((month) => ({ month, end: Math.min(begin(`${monthAfter(month)}-01`), now + 1) }));
	return whoStays(await incomeChanges(app.db, currency, now), ends, begin(`${months[0] ?? ''}-01`));
}

export async function staysPage(app: Reading, asked: Asked) {
	const all = await joinedIn(app, asked);
	return {
		months: all.map(({ month, members, staying }) => ({
			...{ month, joined: members.length },
			staying: staying.map((ids) => ids.length)
		}))
	};
}

/** Who came in a month, and who of them still paid at the end of another. */
export async function staysRows(app: Reading, asked: Asked, url: URL) {
	const all = await joinedIn(app, asked);
	const of = all.find(({ month }) => month === url.searchParams.get('month'));
	const after = Number(url.searchParams.get('after') ?? 0);
	const staying = of?.staying[after];
	if (!of || !staying) return null;
	const stay = new Set(staying);
	const { skip, limit } = pieceOf(url);
	const page = of.members.slice(skip, skip + limit);
	const names = await accountNames(app.db, page);
	return {
		...{ month: of.month, after, total: of.members.length, pageSize: ROWS_ON_PAGE, stayed: stay.size },
		rows: page.map((id) => ({ id, name: names.get(id) ?? '', stays: stay.has(id) }))
	};
}

export async function outcomesPage(app: Reading, { span, currency }: Asked) {
	const { from, before, zone } = await momentsOf(app, span);
	const months = monthsIn(span);
	const monthOf = (at: number) => localDay(at, zone).slice(0, 7);
	const stretches = (await firstStretches(app.db, { from, before }))
		.filter((one) => one.currency === currency)
		.map(({ at, isPaid, state, minor }): Outcome => {
			const isOver = state === 'ended' || state === 'finished';
			return { month: monthOf(at), end: isPaid ? 'won' : isOver ? 'lost' : 'open', minor };
		});
	const declined = (await declinedDues(app.db, { from, before }))
		.filter((one) => one.currency === currency)
		.map(({ at, isPaid, state, period, now, minor }): Outcome => {
			const isAsked = (state === 'owing' || state === 'renewing') && now === period;
			// A move to another plan has paid for it.
			const isMoved = state !== 'ended' && !isAsked;
			return { month: monthOf(at), end: isPaid || isMoved ? 'won' : isAsked ? 'open' : 'lost', minor };
		});
	return {
		stretches: outcomesByMonth(stretches, months),
		declined: outcomesByMonth(declined, months)
	};
}
