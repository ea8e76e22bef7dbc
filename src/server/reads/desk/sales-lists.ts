/** What is sold, in three lists: payments, subscriptions and orders. Each is narrowed, paged and given as a table alike. */
import type { Using } from '../../app';
import { PAGE_SIZE } from '../../db/queries/lists';
import {
	AGREEMENTS_SHOWN,
	agreementList,
	agreementRows,
	orderList,
	orderRows,
	ORDERS_SHOWN,
	paymentList,
	paymentRows,
	PAYMENTS_SHOWN,
	type AgreementsAsk,
	type OrdersAsk,
	type PaymentsAsk,
	type SalesAsk
} from '../../db/queries/sales-lists';
import { daysAsked, idAsked, listAsk } from './list-ask';

/** More rows than that are asked for by a narrower search. */
const ROWS_AT_MOST = 100_000;

/** What a list is asked for by its address. */
async function salesAsk<Shown extends string>(
	app: Using<'site'>,
	url: URL,
	states: readonly Shown[]
): Promise<SalesAsk<Shown>> {
	const { zone } = await app.site();
	const state = url.searchParams.get('state');
	return {
		...listAsk(url),
		shown: states.find((one) => one === state) ?? null,
		planId: idAsked(url, 'plan'),
		days: daysAsked(url, 'from', zone)
	};
}

const paymentsAsk = (app: Using<'site'>, url: URL): Promise<PaymentsAsk> =>
	salesAsk(app, url, PAYMENTS_SHOWN);
const agreementsAsk = (app: Using<'site'>, url: URL): Promise<AgreementsAsk> =>
	salesAsk(app, url, AGREEMENTS_SHOWN);
const ordersAsk = (app: Using<'site'>, url: URL): Promise<OrdersAsk> => salesAsk(app, url, ORDERS_SHOWN);

export async function paymentsPage(app: Using<'db' | 'site'>, url: URL) {
	const ask = await paymentsAsk(app, url);
	return { ...(await paymentList(app.db, ask)), pageSize: PAGE_SIZE, shown: ask.shown };
}

export async function agreementsPage(app: Using<'db' | 'site'>, url: URL) {
	const ask = await agreementsAsk(app, url);
	const { rows, total } = await agreementList(app.db, ask);
	return { rows: rows.map(shownOf), total, pageSize: PAGE_SIZE, shown: ask.shown };
}

export async function ordersPage(app: Using<'db' | 'site'>, url: URL) {
	const ask = await ordersAsk(app, url);
	return { ...(await orderList(app.db, ask)), pageSize: PAGE_SIZE, shown: ask.shown };
}

/** All of a list, for a table. */
export async function paymentsAsTable(app: Using<'db' | 'site'>, url: URL) {
	return paymentRows(app.db, await paymentsAsk(app, url), ROWS_AT_MOST);
}

export async function agreementsAsTable(app: Using<'db' | 'site'>, url: URL) {
	return (await agreementRows(app.db, await agreementsAsk(app, url), ROWS_AT_MOST)).map(shownOf);
}

export async function ordersAsTable(app: Using<'db' | 'site'>, url: URL) {
	return orderRows(app.db, await ordersAsk(app, url), ROWS_AT_MOST);
}

/** Ids of all of a list that something is to be done to, and one more where they are too many. */
export async function paymentIds(app: Using<'db' | 'site'>, url: URL, most: number): Promise<string[]> {
	const rows = await paymentRows(app.db, await paymentsAsk(app, url), most + 1);
	return rows.map(({ id }) => id);
}

export async function agreementIds(app: Using<'db' | 'site'>, url: URL, most: number): Promise<string[]> {
	const rows = await agreementRows(app.db, await agreementsAsk(app, url), most + 1);
	return rows.map(({ id }) => id);
}

function shownOf({ agreed, ...row }: Awaited<ReturnType<typeof agreementRows>>[number]) {
	const { currency, then } = agreed.terms;
	/** How many payments there are in all; `null`: it goes on until it is ended. */
	const payments = then.kind === 'more' && then.times !== null ? then.times + 1 : null;
	return { ...row, currency, payments };
}
