/** A Stile on a database of its own, with a processor that lives in this process. */
import type { Admitted } from '$server/usecases/accounts/admit';
import { renewingTerms } from '$core/billing/terms';
import { mkdtempSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { DisputeState, PaymentState } from '$core/billing/payment';
import { compose, type Stile } from '$server/compose';
import { accountByEmail } from '$server/db/queries/members';
import { paymentById } from '$server/db/queries/sales';
import { insertItems } from '$server/db/queries/items';
import { grants } from '$server/db/schema/access';
import { assets, placements } from '$server/db/schema/library';
import type { Staff } from '$server/people/need';
import type { Mail } from '$server/ports/mail';
import {
	RefundRefused,
	type Card,
	type CardFact,
	type PaymentFact,
	type Processor
} from '$server/ports/payments';
import { readSettings } from '$server/settings';
import { NO_LIMITS } from '$core/access/model';
import { fromPlain } from '$core/text/rich-text';
import {
	endRehearsed,
	giveRehearsed,
	type EndRehearsed,
	type GaveRehearsed,
	type GrantWish
} from '$server/usecases/accounts/run-members';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { redeemCode, type Redeemed } from '$server/usecases/codes/codes';
import { saveFence, type FenceWish } from '$server/usecases/fences/save-fence';
import type { ItemWish } from '$server/usecases/library/edit-item';
import { createPlan, type PlanWish, SOLD_HERE } from '$server/usecases/plans/save-plan';
import { advanceClock } from '$server/usecases/running/advance-clock';
import { beginOrder, type BegunOrder } from '$server/usecases/sales/begin-order';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import { refundPayment, type Refunded } from '$server/usecases/sales/refund-payment';
import { transact } from '$server/transact';
import { lendDatabase } from './pristine';

/** What the processor knows, for a test to look at and to change. */
export class FakeProcessor implements Processor {
	readonly payOrigins = ['https://till.example'];
	readonly facts = new Map<string, PaymentFact>();
	readonly keys = new Map<string, string>();
	/** Whether vaulted cards work at renewals, or the bank answers later. */
	renewalsWork: boolean | 'later' = true;
	calls = 0;

	private once(key: string, make: () => Pick<PaymentFact, 'state' | 'amount' | 'card'>): PaymentFact {
		this.answering();
		this.calls++;
		const ref = this.keys.get(key) ?? `ref-${this.keys.size + 1}`;
		this.keys.set(key, ref);
		const fact = this.facts.get(ref) ?? { ref, settledAt: null, refunds: [], disputes: [], ...make() };
		this.facts.set(ref, fact);
		return { ...fact };
	}

	async openSession(ask: Parameters<Processor['openSession']>[0]) {
		const { ref } = this.once(ask.key, () => ({ state: 'pending', amount: ask.amount, card: null }));
		return { ref, payUrl: `https://till.example/pay/${ref}` };
	}

	/** What is known of cards beyond what all have. */
	readonly cards = new Map<string, Partial<Card>>();
	readonly cardPages = new Map<string, CardFact>();

	readonly vault = {
		openSession: async ({ key }: { key: string }) => {
			this.answering();
			const ref = `page-${key}`;
			if (!this.cardPages.has(ref)) this.cardPages.set(ref, { ref, state: 'pending', card: null });
			return { ref, payUrl: `https://till.example/card/${ref}` };
		},
		fetch: async (ref: string) => {
			this.answering();
			return this.cardPages.get(ref) ?? null;
		}
	};

	/** A member gives a card on the page. */
	givesCard(ref: string, card: Card): void {
		this.cardPages.set(ref, { ref, state: 'captured', card });
		this.changes.push(ref);
	}

	async charge(ask: Parameters<Processor['charge']>[0]) {
		if (ask.cardRef === null) throw new Error('There is no card to charge');
		const state = this.renewalsWork === 'later' ? 'pending' : this.renewalsWork ? 'captured' : 'declined';
		const card = { ...testCard(ask.cardRef), ...this.cards.get(ask.cardRef) };
		return this.once(ask.key, () => ({ state, amount: ask.amount, card }));
	}

	async findCharge(key: string) {
		this.answering();
		const fact = this.facts.get(this.keys.get(key) ?? '');
		return fact ? { ...fact } : null;
	}

	async refund({ own, ref, amountMinor }: Parameters<Processor['refund']>[0]) {
		this.answering();
		const fact = this.known(ref);
		if (fact.refunds.some((one) => one.own === own)) return { ...fact };
		if (amountMinor > leftOf(fact)) throw new RefundRefused('So much is not there');
		return this.gives(ref, amountMinor, own);
	}

	/** Money goes back; where Stile did not ask for it, somebody did it at the processor. */
	gives(ref: string, amountMinor: number, own: string | null = null, at: number | null = null): PaymentFact {
		const { refunds } = this.known(ref);
		const refund = { ref: `${ref}-refund-${refunds.length + 1}`, own, amountMinor, at };
		return this.changed(ref, { refunds: [...refunds, refund] });
	}

	async fetch(ref: string) {
		this.answering();
		const fact = this.facts.get(ref);
		return fact ? { ...fact } : null;
	}

	async endSession(ref: string) {
		this.answering();
		if (this.facts.get(ref)?.state === 'pending') this.becomes(ref, 'expired');
		if (this.cardPages.get(ref)?.state === 'pending')
			this.cardPages.set(ref, { ref, state: 'expired', card: null });
	}

	/** All changes in their order; the cursor is a number of them. */
	private readonly changes: string[] = [];

	async changedSince(cursor: string | null) {
		this.answering();
		const from = Number(cursor ?? 0);
		const next = this.changes.slice(from, from + 2);
		const facts = next.flatMap((ref) => this.facts.get(ref) ?? []);
		const cards = next.flatMap((ref) => this.cardPages.get(ref) ?? []);
		return { facts, cards, cursor: String(from + next.length) };
	}

	/** Set while it is down. */
	isAway = false;
	private answering() {
		if (this.isAway) throw new Error('the processor is away');
	}

	readNotification({ body }: { body: Uint8Array }) {
		const [eventId = '', paymentRef = ''] = new TextDecoder().decode(body).split(' ');
		return { ok: true as const, eventId, paymentRef };
	}

	/**
	 * `refunded` and `disputed`: all that is there.
	 * @param at when it came to that, by the wall clock, as far as the processor says it
	 */
	becomes(
		ref: string,
		what: PaymentState | 'refunded' | DisputeState,
		at: number | null = null
	): PaymentFact {
		const fact = this.known(ref);
		if (what === 'refunded') return this.gives(ref, leftOf(fact), null, at);
		if (what === 'open') {
			const dispute = { ref: `${ref}-dispute-${fact.disputes.length + 1}`, amountMinor: leftOf(fact) };
			const open = { ...dispute, state: 'open' as const, openedAt: at, closedAt: null };
			return this.changed(ref, { disputes: [...fact.disputes, open] });
		}
		if (what === 'won' || what === 'lost') {
			const disputes = fact.disputes.map((one) =>
				one.state === 'open' ? { ...one, state: what, closedAt: at } : one
			);
			return this.changed(ref, { disputes });
		}
		const isUnpaid = what === 'declined' || what === 'expired';
		const card = fact.card ?? (isUnpaid ? null : testCard(`card-${ref}`));
		return this.changed(ref, { state: what, settledAt: at, card });
	}

	private known(ref: string): PaymentFact {
		const fact = this.facts.get(ref);
		if (!fact) throw new Error(`unknown ${ref}`);
		return fact;
	}

	private changed(ref: string, what: Partial<PaymentFact>): PaymentFact {
		const next = { ...this.known(ref), ...what };
		this.facts.set(ref, next);
		this.changes.push(ref);
		return { ...next };
	}
}

export function testCard(ref: string): Card {
	return { ref, ending: '4242', expires: '2099-12' };
}

function leftOf({ state, amount, refunds, disputes }: PaymentFact): number {
	if (state !== 'captured') return 0;
	if (disputes.some(({ state }) => state !== 'won')) return 0;
	return amount.minor - refunds.reduce((sum, { amountMinor }) => sum + amountMinor, 0);
}

/** Of all that is left of a payment, ending what it paid for. */
export async function refundWhole(
	app: World['app'],
	actor: Staff,
	paymentId: string,
	why = ''
): Promise<Refunded> {
	const payment = await paymentById(app.db, paymentId);
	if (!payment) return { ok: false, code: 'unknown' };
	const amountMinor = payment.amountMinor - payment.refundedMinor;
	return refundPayment(app, actor, { id: uuidv7(), paymentId, amountMinor, endsAccess: true, why });
}

/** Where a test may put a file of that name: a folder of its own, gone when the tests are over. */
export function scratch(name: string): string {
	return join(mkdtempSync(join(process.env.STILE_TEST_SCRATCH ?? tmpdir(), 'file-')), name);
}

/** Types a code, signed in or on a device. */
export function redeem(
	app: Stile['app'],
	who: { memberId: string } | { deviceHash: string; email?: string },
	typed: string,
	client = '198.51.100.7'
): Promise<Redeemed> {
	const redeemer = 'memberId' in who ? { ...who, deviceHash: null } : { email: '', ...who };
	return redeemCode(app, redeemer, { typed, next: '', client });
}

export interface World {
	stile: Stile;
	app: Stile['app'];
	processor: FakeProcessor;
	/** What was sent, oldest first. */
	mails: Mail[];
	end(): Promise<void>;
}

/** @param patienceMs of decisions with the database: machines that run tests stand still now and then */
export async function makeWorld(patienceMs = 5000): Promise<World> {
	const base = process.env.STILE_TEST_DATABASE;
	if (!base) throw new Error('Database tests are run by "npm test", which starts MariaDB for them');
	const database = await lendDatabase(base);
	const folder = mkdtempSync(join(tmpdir(), 'stile-test-'));
	const stile = await compose(
		readSettings({
			STILE_PATIENCE_MS: String(patienceMs),
			STILE_MODE: 'demo',
			STILE_CLOCK: 'movable',
			STILE_ORIGIN: 'http://127.0.0.1:4999',
			STILE_DATABASE_URL: database.url,
			STILE_STORAGE: folder,
			STILE_MASTER_KEY: Buffer.alloc(32, 1).toString('base64'),
			STILE_PAYMENTS_URL: 'http://127.0.0.1:9',
			STILE_PAYMENTS_SECRET: 'secret',
			STILE_SMTP_URL: 'smtp://127.0.0.1:9',
			STILE_LOG_LEVEL: 'silent'
		})
	);
	const processor = new FakeProcessor();
	const mails: Mail[] = [];
	stile.app.processors = { ...stile.app.processors, card: processor };
	stile.app.mailer = { send: async (_from, mail) => void mails.push(mail) };
	return {
		stile,
		mails,
		app: stile.app,
		processor,
		async end() {
			await stile.stop();
			await database.giveBack();
			await rm(folder, { recursive: true });
		}
	};
}

/** Euro cents a month. */
export const monthly = (minor: number) =>
	renewingTerms({ minor, currency: 'EUR' }, { count: 1, unit: 'month' });

export const PLAN: PlanWish = {
	name: 'Workshop',
	lines: [],
	note: '',
	lessFor: null,
	priceName: '',
	terms: monthly(1200),
	payBy: null,
	isOpenAtOnce: true,
	...SOLD_HERE,
	access: { kind: 'while-paid' },
	isPublic: true,
	isOnSale: true,
	afterLapse: 'on',
	ladder: null,
	rung: 1
};

export const PAGE: ItemWish = {
	kind: 'page',
	title: 'Suppliers',
	text: fromPlain('Brass'),
	address: '',
	homeId: null,
	categoryId: null,
	tagIds: [],
	base: 'open',
	extension: null,
	target: null,
	showsPoster: false
};

export const FENCE: FenceWish = {
	name: 'Wheel',
	isOn: true,
	mode: 'replaces',
	selector: { kind: 'everything' },
	crossings: [],
	turnAway: null,
	listing: 'shown'
};

export const holding = (planId: string): FenceWish['crossings'][number] => ({
	audience: { kind: 'holders', planIds: [planId] },
	window: null,
	limits: NO_LIMITS,
	isThroughout: false
});

/** A published video behind a fence that one plan crosses. */
export async function makeShop({ app }: World, { minor = 1200 } = {}) {
	const planId = await createPlan(app, null, { ...PLAN, terms: monthly(minor) });
	const itemId = await makeVideo(app, '/videos/wheel');
	const saved = await agreeing((agreedTo) =>
		saveFence(app, null, {
			fenceId: null,
			revision: 1,
			agreedTo,
			wish: { ...FENCE, selector: { kind: 'items', itemIds: [itemId] }, crossings: [holding(planId)] }
		})
	);
	if (saved.kind !== 'saved') throw new Error(saved.kind);
	return { planId, itemId, fenceId: saved.fenceId, slug: 'workshop' };
}

export async function makeVideo(app: Stile['app'], address: string): Promise<string> {
	return transact(app, null, async (work) => {
		const [asset] = await work.tx
			.insert(assets)
			.values({
				kind: 'video',
				fileName: 'wheel.mp4',
				originalKey: 'originals/wheel',
				bytes: 1,
				seconds: 10,
				width: 640,
				height: 360,
				hasSound: true,
				state: 'ready',
				createdAt: work.now
			})
			.$returningId();
		if (!asset) throw new Error('nothing was written');
		const id = uuidv7();
		const shown = { title: 'Wheel', showsPoster: true };
		await insertItems(work.tx, [
			{ ...shown, id, kind: 'video', address, state: 'published', base: 'closed', createdAt: work.now }
		]);
		await work.tx.insert(placements).values({ itemId: id, assetId: asset.id });
		work.policyChanged('test', { resources: [id] });
		return id;
	});
}

export async function order(
	{ app }: World,
	slug: string,
	over: Partial<Parameters<typeof beginOrder>[1]> = {}
) {
	const begun: BegunOrder = await beginOrder(app, {
		planSlug: slug,
		priceId: null,
		payBy: null,
		code: '',
		...{ country: '', taxId: '' },
		seenMinor: null,
		memberId: null,
		email: 'wren@mail.example',
		name: 'Wren',
		password: '',
		deviceToken: 'device',
		next: null,
		client: '127.0.0.1',
		...over
	});
	return begun;
}

/** Orders and pays; gives the member's id. */
export async function buy(world: World, slug: string, email = 'wren@mail.example') {
	const begun = await order(world, slug, { email, deviceToken: email });
	if (!begun.ok) throw new Error(begun.code);
	const ref = begun.payUrl.split('/').at(-1) ?? '';
	world.processor.becomes(ref, 'captured');
	await settleReturn(world.app, begun.orderId, email, null);
	const account = await accountByEmail(world.app.db, email);
	if (!account) throw new Error('no account');
	return { memberId: account.id, orderId: begun.orderId, ref };
}

/** Sends what is to be sent; gives the token of the latest link that signs an address in. */
export async function mailedToken({ stile, mails }: World, email: string): Promise<string> {
	await stile.runner.runDue('sign-in');
	await stile.runner.runDue('mail');
	const token = mails
		.filter(({ to }) => to === email)
		.flatMap(({ text }) => [...text.matchAll(/\/enter\/([\w-]+)/g)])
		.at(-1)?.[1];
	if (!token) throw new Error(`no link was mailed to ${email}`);
	return token;
}

/** The session of whoever is in without a code. */
export function sessionOf(admitted: Admitted) {
	if (admitted.kind === 'asks') throw new Error('A code is asked for');
	return admitted.session;
}

/** A device that has nothing to show. */
export const NEW_DEVICE = { orderToken: null, sessionToken: null };

/** Gives a plan and says yes to whatever that does. */
export async function giveGrant(app: Stile['app'], actor: Staff, wish: GrantWish): Promise<GaveRehearsed> {
	const asked = await giveRehearsed(app, actor, wish, null);
	return asked.ok || asked.code !== 'rehearsed' ? asked : giveRehearsed(app, actor, wish, asked.digest);
}

/** Ends a grant and says yes to whatever that does. */
export async function endGrant(
	app: Stile['app'],
	actor: Staff,
	grantId: string,
	why: string
): Promise<EndRehearsed> {
	const [grant] = await app.db.select().from(grants).where(eq(grants.id, grantId));
	const wish = { memberId: grant?.memberId ?? grantId, grantId, why };
	const asked = await endRehearsed(app, actor, wish, null);
	return asked.ok || asked.code !== 'rehearsed' ? asked : endRehearsed(app, actor, wish, asked.digest);
}

export async function passDays({ app, stile }: World, days: number): Promise<void> {
	const moved = await advanceClock(app, stile.runner, null, app.clock.business() + days * 86_400_000);
	if (!moved.ok) throw new Error(moved.code);
}
