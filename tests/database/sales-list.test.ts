/** What the Desk lists of sales, and gives as a table. */
import { afterAll, beforeAll, expect, it, test } from 'vitest';
import { eq } from 'drizzle-orm';
import { localDay } from '$core/time/calendar';
import { payments, plans } from '$server/db/schema/sales';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { saveSite, sitePart } from '$server/usecases/running/save-site';
import { pressLink } from '$server/usecases/accounts/sign-in-link';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import { refundPayment } from '$server/usecases/sales/refund-payment';
import { reconcile } from '$server/usecases/sales/reconcile';
import { agreementsPage, ordersPage, paymentsAsTable, paymentsPage } from '$server/reads/desk/sales-lists';
import { orderPage } from '$server/reads/desk/sales';
import { mailedToken, makeShop, makeWorld, NEW_DEVICE, order, refundWhole, type World } from './world';

let world: World;

const url = (query: string) => new URL(`http://127.0.0.1/desk/sales?${query}`);
const names = async (query: string) =>
	(await paymentsPage(world.app, url(query))).rows.map(({ name }) => name).sort();

beforeAll(async () => {
	world = await makeWorld();
	const { slug } = await makeShop(world);
	const bought = async (name: string) => {
		const begun = await order(world, slug, { email: `${name}@mail.example`, name, deviceToken: name });
		if (!begun.ok) throw new Error(begun.code);
		const ref = begun.payUrl.split('/').at(-1) ?? '';
		world.processor.becomes(ref, 'captured');
		await settleReturn(world.app, begun.orderId, name, null);
		const [payment] = await world.app.db.select().from(payments).where(eq(payments.processorRef, ref));
		if (!payment) throw new Error('no payment');
		return { ref, payment };
	};
	await bought('paid');
	const part = await bought('part');
	const wish = { id: part.payment.orderId, paymentId: part.payment.id, amountMinor: 200, why: '' };
	await refundPayment(world.app, null, { ...wish, endsAccess: false });
	await refundWhole(world.app, null, (await bought('back')).payment.id);
	world.processor.becomes((await bought('bank')).ref, 'open');
	await reconcile(world.app);
	// A member whose second order is declined.
	const { payment: first } = await bought('twice');
	await refundWhole(world.app, null, first.id);
	const member = first.memberId;
	const declined = await order(world, slug, { memberId: member, email: '', deviceToken: 'd' });
	if (!declined.ok) throw new Error(declined.code);
	world.processor.becomes(declined.payUrl.split('/').at(-1) ?? '', 'declined');
	await settleReturn(world.app, declined.orderId, 'd', member);
	const money = sitePart('money', await world.app.site());
	const offline = { payBy: ['card', 'offline'] as const, offline: { name: '', how: 'To 4711' } };
	await agreeing((yes) => saveSite(world.app, null, 'money', { ...money, ...offline }, { agreedTo: yes }));
	await order(world, slug, {
		email: 'waits@mail.example',
		name: 'waits',
		payBy: 'offline',
		deviceToken: 'w'
	});
	await pressLink(world.app, await mailedToken(world, 'waits@mail.example'), NEW_DEVICE, true);
	// Nobody has stood by this one: it is no order yet.
	await order(world, slug, { email: 'typed@mail.example', payBy: 'offline', deviceToken: 't' });
}, 60_000);
afterAll(() => world.end());

test.each([
	['', ['back', 'bank', 'paid', 'part', 'twice', 'twice']],
	['state=waiting', ['waits']],
	['state=paid', ['back', 'bank', 'paid', 'part', 'twice']],
	['state=declined', ['twice']],
	['state=refunded', ['back', 'part', 'twice']],
	['state=disputed', ['bank']],
	['state=refunded&q=part', ['part']],
	['state=nothing-of-ours', ['back', 'bank', 'paid', 'part', 'twice', 'twice']]
])('by %j it lists %j', async (query, expected) => {
	expect(await names(query)).toEqual(expected);
	expect((await paymentsPage(world.app, url(query))).total).toBe(expected.length);
});

it('narrows payments by plan and days', async () => {
	const [plan] = await world.app.db.select({ id: plans.id }).from(plans);
	expect(await names(`plan=${plan?.id}&state=paid`)).toHaveLength(5);
	expect(await names('plan=00000000-0000-4000-8000-000000000000')).toEqual([]);
	const now = world.app.clock.business();
	const day = (days: number) => localDay(now + days * 86_400_000, 'Europe/Vienna');
	expect(await names(`state=paid&from=${day(-1)}&from-to=${day(1)}`)).toHaveLength(5);
	expect(await names(`state=paid&from=${day(1)}`)).toEqual([]);
	expect(await names(`state=paid&from-to=${day(-1)}`)).toEqual([]);
});

test.each([
	['', 5],
	['state=running', 2],
	['state=ended', 3],
	['state=owing', 0],
	['q=bank', 1]
])('lists subscriptions by %j: %i of them', async (query, count) => {
	const { rows, total } = await agreementsPage(world.app, url(query));
	expect(rows).toHaveLength(count);
	expect(total).toBe(count);
	for (const row of rows) expect(row).toMatchObject({ plan: 'Workshop', currency: 'EUR', payments: null });
});

test.each([
	['state=paid', ['back', 'bank', 'paid', 'part', 'twice']],
	['state=waiting', ['waits']],
	['state=open', ['twice']],
	['q=waits', ['waits']],
	['', ['back', 'bank', 'paid', 'part', 'twice', 'twice', 'waits']]
])('lists orders by %j, and none that a stranger has only begun', async (query, expected) => {
	const { rows, total } = await ordersPage(world.app, url(query));
	expect(rows.map(({ name }) => name).toSorted()).toEqual(expected);
	expect(total).toBe(expected.length);
});

it('leads from each order to what it has given, ended or not', async () => {
	const { rows } = await ordersPage(world.app, url('state=paid'));
	const given = new Map<string, (boolean | undefined)[]>();
	for (const { id, name } of rows) {
		const page = await orderPage(world.app, id);
		given.set(name, page?.things[0]?.grants.map(({ revokedAt }) => revokedAt === null) ?? []);
	}
	expect(given.get('paid')).toEqual([true]);
	expect(given.get('back')).toEqual([false]);
});

it('gives as a table what it lists, in the order that was asked for', async () => {
	const rows = await paymentsAsTable(world.app, url('state=paid&order=name&page=7'));
	expect(rows.map(({ name }) => name)).toEqual([...rows.map(({ name }) => name)].sort());
	expect(rows).toHaveLength(5);
	expect(rows.map(({ standing }) => standing).sort()).toEqual([
		'captured',
		'disputed',
		'part-refunded',
		'refunded',
		'refunded'
	]);
});
