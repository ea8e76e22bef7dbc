/** Practising: what is bought there is real in every step, and nothing of the site's own changes by it. */
import { count, eq, sql } from 'drizzle-orm';
import { createConnection, type RowDataPacket } from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { TestCardKind } from '$core/billing/test-cards';
import type { Book } from '$server/app';
import { hasPracticeBook, makePracticeBook, NoPracticeBook, practiceUrl } from '$server/db/practice-book';
import { accountByEmail } from '$server/db/queries/members';
import { lastPracticeMails, practiceCounts } from '$server/db/queries/practice';
import { accounts } from '$server/db/schema/people';
import { agreements, documents, ledgerPostings, orders, payments } from '$server/db/schema/sales';
import { practisedBy } from '$server/http/practised';
import { beginSession } from '$server/people/sessions';
import { documentPage, paperOf } from '$server/reads/front/documents';
import { planNames } from '$server/reads/desk/plans';
import { practiceDoings, practisedMail } from '$server/reads/desk/practice';
import { transact } from '$server/transact';
import { createPlan } from '$server/usecases/plans/save-plan';
import {
	beginPractice,
	bankInPractice,
	deletePractice,
	payInPractice
} from '$server/usecases/practice/practise';
import { advanceClock } from '$server/usecases/running/advance-clock';
import { reconcile } from '$server/usecases/sales/reconcile';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import { makeShop, makeWorld, order, PLAN, redeem, refundWhole, type World } from './world';

let world: World;
let book: Book;
let itemId: string;
let slug: string;
const DAY_MS = 86_400_000;

beforeAll(async () => {
	world = await makeWorld();
	({ itemId, slug } = await makeShop(world));
	book = await world.stile.practice.open();
});
afterAll(async () => {
	const url = world.app.settings.databaseUrl;
	await world.stile.practice.close();
	const admin = await createConnection({ uri: url });
	await admin.query(`DROP DATABASE IF EXISTS \`${practiceUrl(url).split('/').at(-1)}\``);
	await admin.end();
	await world.end();
});

const practising = () => ({ ...world, app: book.app as World['app'] });

/** Buys in the practice book with a test card; gives the order, the payment's reference, and who it is by now. */
async function buys(card: TestCardKind, email: string, later = 1) {
	const begun = await order(practising(), slug, { email, deviceToken: email });
	if (!begun.ok) throw new Error(begun.code);
	const ref = begun.payUrl.split('/').at(-1) ?? '';
	const next = await payInPractice(book.app, null, ref, { card, later, country: null });
	await settleReturn(book.app, begun.orderId, email, null);
	const account = await accountByEmail(book.app.db, email);
	return { ...begun, ref, next, memberId: account?.id ?? '' };
}

/** A checksum of every table of the site, but the list by which nodes hear of changes, and others that may change. */
async function siteAsItIs(...but: string[]): Promise<Record<string, unknown>> {
	const admin = await createConnection({ uri: world.app.settings.databaseUrl });
	const [tables] = await admin.query<RowDataPacket[]>(
		"SELECT table_name AS name FROM information_schema.tables WHERE table_schema = database() AND table_type = 'BASE TABLE'"
	);
	const names = tables
		.map(({ name }) => String(name))
		.filter((name) => ![...but, 'rights_changes'].includes(name));
	const [sums] = await admin.query<RowDataPacket[]>(`CHECKSUM TABLE ${names.join(', ')}`);
	await admin.end();
	return Object.fromEntries(sums.map(({ Table, Checksum }) => [String(Table), Checksum]));
}

async function moveOn(days: number): Promise<void> {
	const to = book.app.clock.business() + days * DAY_MS;
	expect(await advanceClock(book.app, book.runner, null, to)).toMatchObject({ ok: true });
}

const agreementOf = async (memberId: string) =>
	(await book.app.db.select().from(agreements).where(eq(agreements.memberId, memberId)))[0];

describe('what is bought in the practice book', () => {
	it('opens what it opens, with a document and a mail, and changes no table of the site', async () => {
		const before = await siteAsItIs();
		const { memberId, orderId } = await buys('works', 'pia@practice.example');
		await book.runner.runDue('mail');
		expect((await book.app.rights.decide(memberId, itemId)).verdict).toBe('open');
		expect((await world.app.rights.decide(memberId, itemId)).verdict).not.toBe('open');
		const [placed] = await book.app.db.select().from(orders).where(eq(orders.id, orderId));
		expect(placed).toMatchObject({ number: 'PS-10001', state: 'paid' });
		const [paper] = await book.app.db.select().from(documents);
		expect(paper).toMatchObject({ kind: 'receipt', content: { isPractice: true } });
		expect(paper?.number).toMatch(/^PR-\d{4}-00001$/);
		expect(await siteAsItIs()).toEqual(before);
	});

	it('says on its documents that somebody practised', async () => {
		const [paper] = await book.app.db.select().from(documents);
		const shown = await documentPage(book.app, paper?.number ?? '', {
			id: paper?.memberId ?? '',
			permissions: new Set()
		});
		const printed = shown && (await paperOf(book.app, shown));
		expect(printed?.title).toBe(`Practice: Receipt ${paper?.number}`);
		expect(printed?.notes).toEqual(['Somebody practised. Nothing was sold, and no money moved.']);
	});

	it('sends no mail: it is read at the Desk, with its links', async () => {
		const [mail] = await lastPracticeMails(book.app.db, 10);
		expect(mail).toMatchObject({ to: 'pia@practice.example' });
		expect((await practisedMail(book.app, mail?.id ?? ''))?.links.length).toBeGreaterThan(0);
		expect(world.mails).toEqual([]);
		expect(await practisedMail(book.app, 'no id')).toBeNull();
	});

	it('has numbers of its own: the next order of the site is its first', async () => {
		const begun = await order(world, slug, { email: 'real@mail.example', deviceToken: 'real' });
		if (!begun.ok) throw new Error(begun.code);
		const [placed] = await world.app.db.select().from(orders).where(eq(orders.id, begun.orderId));
		expect(placed?.number).toBe('S-10001');
	});

	it('renews in its own time, and the time of the site stays as it was', async () => {
		const { memberId } = await buys('fails-later', 'rena@practice.example', 1);
		const site = world.app.clock.business();
		await moveOn(31);
		expect(await agreementOf(memberId)).toMatchObject({ state: 'running', period: 1 });
		await moveOn(31);
		expect((await agreementOf(memberId))?.state).toBe('owing');
		await moveOn(60);
		expect((await agreementOf(memberId))?.state).toBe('ended');
		expect((await book.app.rights.decide(memberId, itemId)).verdict).not.toBe('open');
		expect(world.app.clock.business() - site).toBeLessThan(DAY_MS);
	});

	it('is declined by a card that is', async () => {
		const { orderId, next, memberId } = await buys('declined', 'dec@practice.example');
		expect(next).toBe(`${book.app.settings.origin}/checkout/return/${orderId}`);
		expect(memberId).toBe('');
		const [payment] = await book.app.db.select().from(payments).where(eq(payments.orderId, orderId));
		expect(payment?.state).toBe('declined');
	});

	it.each([
		['yes', 'captured'],
		['no', 'declined']
	] as const)('asks for a second step, and with %s it is %s', async (step, state) => {
		const email = `step-${step}@practice.example`;
		const { ref, orderId, next } = await buys('second-step', email);
		expect(next).toBe(`/desk/practice/pay/${ref}`);
		await payInPractice(book.app, null, ref, { step });
		const [payment] = await book.app.db.select().from(payments).where(eq(payments.orderId, orderId));
		expect(payment?.state).toBe(state);
		// Pressed again, it stays as it is.
		await payInPractice(book.app, null, ref, { step: step === 'yes' ? 'no' : 'yes' });
		const [after] = await book.app.db.select().from(payments).where(eq(payments.orderId, orderId));
		expect(after?.state).toBe(state);
	});

	it('takes one card of two presses at once', async () => {
		const begun = await order(practising(), slug, { email: 'two@practice.example', deviceToken: 'two' });
		const ref = (begun.ok ? begun.payUrl : '').split('/').at(-1) ?? '';
		const cards = ['works', 'works', 'declined'] as const;
		await Promise.all(
			cards.map((card) => payInPractice(book.app, null, ref, { card, later: 1, country: 'DE' }))
		);
		const { payments: shown } = await practiceDoings(book.app);
		expect(shown.filter((one) => one.ref === ref)).toHaveLength(1);
		const [kept] = (await book.app.db.execute(
			sql`select count(*) as kept from practice_cards c join practice_payments p on p.card_ref = c.ref where p.ref = ${ref}`
		)) as unknown as [{ kept: number }[]];
		const state = (await book.app.processors.card.fetch(ref))?.state;
		expect(Number(kept[0]?.kept)).toBe(state === 'captured' ? 1 : 0);
	});

	it('is taken back by a bank, won again, and refunded, as at any processor', async () => {
		const { ref, memberId } = await buys('works', 'bank@practice.example');
		const isOpen = async () => (await book.app.rights.decide(memberId, itemId)).verdict === 'open';
		expect(await bankInPractice(book.app, null, ref, 'won')).toBe(false);
		expect(await bankInPractice(book.app, null, ref, 'dispute')).toBe(true);
		expect(await isOpen()).toBe(false);
		expect(await bankInPractice(book.app, null, ref, 'dispute')).toBe(false);
		expect(await bankInPractice(book.app, null, ref, 'won')).toBe(true);
		expect(await isOpen()).toBe(true);
		const [payment] = await book.app.db.select().from(payments).where(eq(payments.memberId, memberId));
		expect(await refundWhole(book.app, null, payment?.id ?? '')).toMatchObject({ ok: true });
		await book.runner.runDue('payments');
		expect(await isOpen()).toBe(false);
		expect(await bankInPractice(book.app, null, ref, 'refund')).toBe(false);
		await reconcile(book.app);
		const [sum] = await book.app.db
			.select({ all: sql<number>`sum(${ledgerPostings.amountMinor})`.mapWith(Number) })
			.from(ledgerPostings);
		expect(sum?.all).toBe(0);
	});

	it('leaves what is sold as it is: a plan is not made there, a code not used up', async () => {
		await expect(createPlan(book.app, null, { ...PLAN, name: 'Made there' })).rejects.toThrow(
			'Leave practice first'
		);
		expect((await planNames(book.app)).map(({ name }) => name)).toEqual(['Workshop']);
		expect(
			await redeem(book.app, { deviceHash: 'd'.repeat(64), email: 'a@practice.example' }, 'ANY')
		).toEqual({
			ok: false,
			code: 'practice'
		});
	});

	it('signs and seals what is good there and nowhere else', () => {
		const { keys } = book.app;
		const signed = keys.signText('reminders', 'member');
		expect(keys.readText('reminders', signed)).toBe('member');
		expect(world.app.keys.readText('reminders', signed)).toBeNull();
		const sealed = keys.seal('waiting', 'wren@mail.example');
		expect(keys.unseal('waiting', sealed)).toBe('wren@mail.example');
		expect(world.app.keys.unseal('waiting', sealed)).toBeNull();
	});

	it('sells what the site sells by then', async () => {
		await createPlan(world.app, null, { ...PLAN, name: 'Brought later', terms: PLAN.terms });
		await book.app.rights.refresh();
		expect((await planNames(book.app)).map(({ name }) => name)).toContain('Brought later');
		const begun = await order(practising(), 'brought-later', { email: 'new@practice.example' });
		expect(begun.ok).toBe(true);
	});
});

describe('who practises', () => {
	const sessionAs = async (role: 'member' | 'owner', email: string) => {
		await world.app.db
			.insert(accounts)
			.values({ email, name: role, role, createdAt: world.app.clock.business() });
		const account = await accountByEmail(world.app.db, email);
		const { token } = await transact(world.app, null, (work) =>
			beginSession(work, account?.id ?? '', 'password')
		);
		return { token, id: account?.id ?? '' };
	};

	it('is staff who said so, and nobody else who has the cookie', async () => {
		const owner = await sessionAs('owner', 'ottilie@fernhollow.example');
		const member = await sessionAs('member', 'wren@mail.example');
		const by = (cookie: string) => practisedBy(world.stile, cookie);
		expect(await by('stile_practice=1')).toBeNull();
		expect(await by(`stile_practice=1; stile=${member.token}`)).toBeNull();
		expect(await by(`stile=${owner.token}`)).toBeNull();
		expect((await by(`stile_practice=1; stile=${owner.token}`))?.app.isPractice).toBe(true);
		// Whom they made up is no way to it.
		expect(await by(`stile_practice=1; stile_practised=${owner.token}`)).toBeNull();
	});

	it('bears their name in the practice book, and needs to be allowed', async () => {
		const ottilie = await accountByEmail(world.app.db, 'ottilie@fernhollow.example');
		const actor = { id: ottilie?.id ?? '', permissions: new Set(['members'] as const) };
		await beginPractice(world.app, book.app, actor);
		await beginPractice(world.app, book.app, actor);
		expect(await accountByEmail(book.app.db, 'ottilie@fernhollow.example')).toMatchObject({
			id: actor.id,
			role: 'owner',
			passwordHash: null
		});
		const nobody = { id: actor.id, permissions: new Set(['sales'] as const) };
		await expect(beginPractice(world.app, book.app, nobody)).rejects.toThrow('members');
		await expect(deletePractice(world.app, book.app, nobody)).rejects.toThrow('members');
	});
});

describe('the practice book', () => {
	it('is emptied in one step, and nothing else is', async () => {
		const people = await book.app.db.select({ id: accounts.id }).from(accounts);
		expect(await book.app.rights.standing(people[0]?.id ?? '')).not.toBeNull();
		const before = await siteAsItIs('audit');
		const { buyers } = await practiceCounts(book.app.db);
		expect(await deletePractice(world.app, book.app, null)).toMatchObject({ buyers });
		expect(await practiceCounts(book.app.db)).toEqual({ buyers: 0, orders: 0, mails: 0 });
		await book.app.rights.refresh();
		expect(await book.app.rights.standing(people[0]?.id ?? '')).toBeNull();
		expect(await siteAsItIs('audit')).toEqual(before);
		expect(book.app.clock.business() - world.app.clock.business()).toBeLessThan(DAY_MS);
		const { orderId } = await buys('works', 'again@practice.example');
		const [placed] = await book.app.db.select().from(orders).where(eq(orders.id, orderId));
		expect(placed?.number).toBe('PS-10001');
	});

	it('is made once by those who open it at the same time, and again after the tables became others', async () => {
		const url = world.app.settings.databaseUrl;
		await Promise.all([makePracticeBook(url), makePracticeBook(url), makePracticeBook(url)]);
		expect(await practiceCounts(book.app.db)).toMatchObject({ buyers: 1 });
		await world.app.db.execute(sql`alter table tell_rounds add column another int`);
		expect(await hasPracticeBook(url)).toBe(false);
		await makePracticeBook(url);
		const [made] = await book.app.db.select({ count: count() }).from(accounts);
		expect(made?.count).toBe(0);
		await world.app.db.execute(sql`alter table tell_rounds drop column another`);
		await makePracticeBook(url);
	});

	it('says so where the user of the database may not make it', async () => {
		const url = world.app.settings.databaseUrl;
		const admin = await createConnection({ uri: url });
		await admin.query("CREATE OR REPLACE USER narrow@'127.0.0.1' IDENTIFIED BY 'narrow'");
		const narrow = new URL(url);
		[narrow.username, narrow.password] = ['narrow', 'narrow'];
		await expect(makePracticeBook(narrow.toString())).rejects.toThrow(NoPracticeBook);
		await admin.query("DROP USER narrow@'127.0.0.1'");
		await admin.end();
	});
});
