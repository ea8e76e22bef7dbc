/**
 * What holds of everybody who takes money, whoever it is: the Till over its own protocol, the book of what is paid offline, the one
 * that practising is paid with, and the processor that other tests live with, so that they do not live with a lie.
 */
import { createServer, type AddressInfo } from 'node:net';
import process from 'node:process';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { answerOffline, sentOffline } from '$server/db/queries/offline';
import { tillPayments } from '$server/adapters/till-payments';
import { payPractised } from '$server/usecases/practice/practice-processor';
import { RefundRefused, type Processor } from '$server/ports/payments';
import { FakeProcessor, makeWorld, scratch, type World } from './world';
import { start, until } from '../../scripts/lib/processes.mjs';

/** What is done outside, by a buyer or by whoever sees the account. */
interface Outside {
	processor: Processor;
	pays(ref: string, payUrl: string): Promise<unknown>;
	declines(ref: string, payUrl: string): Promise<unknown>;
	/** Sends what has to be sent by hand. */
	sends(own: string): Promise<unknown>;
}

let world: World;
let till: ReturnType<typeof start>;
const outsides: Record<string, () => Outside> = {};

beforeAll(async () => {
	world = await makeWorld();
	const port = await freePort();
	till = start('The Till', process.execPath, ['--import', 'tsx', 'standins/till/main.ts'], {
		env: {
			TILL_PORT: String(port),
			TILL_SECRET: 'secret',
			TILL_BOOK: scratch('till.json'),
			TILL_NOTIFY_URL: 'http://127.0.0.1:9/'
		},
		log: scratch('till.log')
	});
	const origin = `http://127.0.0.1:${port}`;
	await until(
		() =>
			fetch(origin).then(
				() => true,
				() => false
			),
		till,
		60_000
	);
	const pay = (payUrl: string, card: string) =>
		fetch(payUrl, { method: 'POST', body: new URLSearchParams({ card }), redirect: 'manual' });
	outsides.till = () => ({
		processor: tillPayments(origin, 'secret'),
		pays: (_ref, payUrl) => pay(payUrl, 'works'),
		declines: (_ref, payUrl) => pay(payUrl, 'declined'),
		sends: async () => {}
	});
	outsides.offline = () => ({
		processor: world.app.processors.offline,
		pays: (ref) => world.app.db.transaction((tx) => answerOffline(tx, ref, 'captured', Date.now())),
		declines: (ref) => world.app.db.transaction((tx) => answerOffline(tx, ref, 'declined', Date.now())),
		sends: (own) => world.app.db.transaction((tx) => sentOffline(tx, own, Date.now()))
	});
	const book = await world.stile.practice.open();
	outsides.practice = () => ({
		processor: book.app.processors.card,
		pays: (ref) => payPractised(book.app, ref, { card: 'works', later: 1, country: null }),
		declines: (ref) => payPractised(book.app, ref, { card: 'declined', later: 1, country: null }),
		sends: async () => {}
	});
	outsides.fake = () => {
		const fake = new FakeProcessor();
		return {
			processor: fake,
			pays: async (ref) => fake.becomes(ref, 'captured'),
			declines: async (ref) => fake.becomes(ref, 'declined'),
			sends: async () => {}
		};
	};
}, 120_000);
afterAll(async () => {
	await till.stop();
	await world.end();
});

async function freePort(): Promise<number> {
	const server = createServer();
	await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
	const { port } = server.address() as AddressInfo;
	await new Promise((done) => server.close(done));
	return port;
}

let count = 0;
const EUR = (minor: number) => ({ minor, currency: 'EUR' });
const page = (over: { key?: string; expiresAt?: number } = {}) => ({
	...{ key: `key-${++count}`, amount: EUR(1200), text: 'Workshop', statementName: 'FERN' },
	...{ returnUrl: 'http://127.0.0.1:4999/back', expiresAt: Date.now() + 3_600_000, ...over }
});
const OWN = () => `0198c0de-0000-7000-8000-${String(++count).padStart(12, '0')}`;

describe.each(['till', 'offline', 'practice', 'fake'])('%s', (name) => {
	let outside: Outside;
	let processor: Processor;
	beforeAll(() => {
		const made = outsides[name];
		if (!made) throw new Error(`There is no ${name}`);
		outside = made();
		processor = outside.processor;
	});
	const paid = async () => {
		const { ref, payUrl } = await processor.openSession(page());
		await outside.pays(ref, payUrl);
		return ref;
	};

	it('opens one page for one key, and another for another', async () => {
		const asked = page();
		const first = await processor.openSession(asked);
		expect(await processor.openSession(asked)).toEqual(first);
		expect((await processor.openSession(page())).ref).not.toBe(first.ref);
		const many = page();
		const refs = await Promise.all(Array.from({ length: 6 }, () => processor.openSession(many)));
		expect(new Set(refs.map(({ ref }) => ref)).size).toBe(1);
	});

	it('waits until it is paid, and says so with the amount that was asked for', async () => {
		const { ref, payUrl } = await processor.openSession(page());
		expect(await processor.fetch(ref)).toMatchObject({ ref, state: 'pending', amount: EUR(1200) });
		await outside.pays(ref, payUrl);
		const fact = await processor.fetch(ref);
		expect(fact).toMatchObject({ state: 'captured', amount: EUR(1200), refunds: [], disputes: [] });
	});

	it('says that it was declined, and keeps to it', async () => {
		const { ref, payUrl } = await processor.openSession(page());
		await outside.declines(ref, payUrl);
		expect((await processor.fetch(ref))?.state).toBe('declined');
		await processor.endSession(ref);
		expect((await processor.fetch(ref))?.state).toBe('declined');
	});

	it('ends a page on which nobody has paid, and leaves one that was paid', async () => {
		const { ref, payUrl } = await processor.openSession(page());
		await processor.endSession(ref);
		expect((await processor.fetch(ref))?.state).toBe('expired');
		const other = await paid();
		await processor.endSession(other);
		expect((await processor.fetch(other))?.state).toBe('captured');
		if (name === 'fake') return;
		// Nobody pays on a page that has ended.
		await outside.pays(ref, payUrl);
		expect((await processor.fetch(ref))?.state).toBe('expired');
	});

	it('knows nothing of what it was never asked for, and is not put out by it', async () => {
		expect(await processor.fetch('nothing-of-ours')).toBeNull();
		expect(await processor.findCharge('nothing-of-ours')).toBeNull();
		await processor.endSession('nothing-of-ours');
	});

	it('asks for what is due once for a key, and finds it again by that', async () => {
		const { cardRef } = await cardOf(processor, outside);
		const ask = { key: `due-${++count}`, cardRef, amount: EUR(900), text: 'Workshop' };
		const facts = await Promise.all([processor.charge(ask), processor.charge(ask), processor.charge(ask)]);
		expect(new Set(facts.map(({ ref }) => ref)).size).toBe(1);
		expect(facts[0]?.amount).toEqual(EUR(900));
		expect(await processor.findCharge(ask.key)).toEqual(await processor.fetch(facts[0]?.ref ?? ''));
		expect(facts[0]?.state).toBe(processor.vault ? 'captured' : 'pending');
	});

	it('refunds parts, each once, and never more than came in', async () => {
		const ref = await paid();
		const first = OWN();
		const back = async (own: string, amountMinor: number) => {
			await processor.refund({ own, ref, amountMinor });
			await outside.sends(own);
			return (await processor.fetch(ref))?.refunds ?? [];
		};
		expect(await back(first, 500)).toMatchObject([{ own: first, amountMinor: 500 }]);
		expect(await back(first, 500)).toHaveLength(1);
		await expect(processor.refund({ own: OWN(), ref, amountMinor: 701 })).rejects.toThrow(RefundRefused);
		const all = await back(OWN(), 700);
		expect(all.map(({ amountMinor }) => amountMinor).sort()).toEqual([500, 700]);
		expect(new Set(all.map((one) => one.ref)).size).toBe(2);
		await expect(processor.refund({ own: OWN(), ref, amountMinor: 1 })).rejects.toThrow(RefundRefused);
	});

	it('refunds nothing of what never came in', async () => {
		const { ref } = await processor.openSession(page());
		await expect(processor.refund({ own: OWN(), ref, amountMinor: 1 })).rejects.toThrow(RefundRefused);
	});

	it('tells what changed from where it was left, and comes to an end', async () => {
		const ref = await paid();
		const seen = new Set<string>();
		let cursor: string | null = null;
		let isOver = false;
		for (let n = 0; n < 500 && !isOver; n++) {
			const read = await processor.changedSince(cursor);
			for (const fact of read.facts) seen.add(fact.ref);
			isOver = read.cursor === null || read.cursor === cursor;
			cursor = read.cursor;
		}
		expect(isOver).toBe(true);
		// Whoever answers for what is paid offline settles it in the same breath.
		expect(seen.has(ref)).toBe(name !== 'offline');
	});

	it('believes no notification that it has not signed', () => {
		if (name === 'fake') return;
		const body = new TextEncoder().encode('{"eventId":"e","paymentRef":"p"}');
		const told = { method: 'POST', path: '/', header: () => null, body };
		expect(processor.readNotification(told, Date.now())).toMatchObject({ ok: false });
	});

	it('keeps cards on a page of their own, once for a key, or keeps none', async () => {
		const { vault } = processor;
		if (!vault) return expect(name).toBe('offline');
		const asked = page();
		const { ref } = await vault.openSession(asked);
		expect((await vault.openSession(asked)).ref).toBe(ref);
		expect(await vault.fetch(ref)).toMatchObject({ state: 'pending', card: null });
		expect(await vault.fetch('nothing-of-ours')).toBeNull();
		await processor.endSession(ref);
		expect((await vault.fetch(ref))?.state).toBe('expired');
	});
});

/** A card to charge, where there is one. */
async function cardOf(processor: Processor, outside: Outside): Promise<{ cardRef: string | null }> {
	if (!processor.vault) return { cardRef: null };
	const { ref, payUrl } = await processor.openSession(page());
	await outside.pays(ref, payUrl);
	return { cardRef: (await processor.fetch(ref))?.card?.ref ?? null };
}
