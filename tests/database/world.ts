/** A Stile on a database of its own, with a processor that lives in this process. */
import { mkdtempSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createConnection } from 'mysql2/promise';
import type { PaymentState } from '$core/billing/payment';
import { compose, type Stile } from '$server/compose';
import { accountByEmail } from '$server/db/queries/members';
import { items, assets, placements } from '$server/db/schema/library';
import type { PaymentFact, Payments } from '$server/ports/payments';
import { readSettings } from '$server/settings';
import { NO_LIMITS } from '$core/access/model';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { saveFence, type FenceWish } from '$server/usecases/fences/save-fence';
import { createPlan } from '$server/usecases/plans/save-plan';
import { advanceClock } from '$server/usecases/running/advance-clock';
import { beginOrder, type BegunOrder } from '$server/usecases/sales/begin-order';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import { transact } from '$server/transact';

/** What the processor knows, for a test to look at and to change. */
export class FakeProcessor implements Payments {
	readonly facts = new Map<string, PaymentFact>();
	readonly keys = new Map<string, string>();
	/** Whether vaulted cards work at renewals. */
	renewalsWork = true;
	calls = 0;

	private once(key: string, make: () => Omit<PaymentFact, 'ref'>): PaymentFact {
		this.calls++;
		const ref = this.keys.get(key) ?? `ref-${this.keys.size + 1}`;
		this.keys.set(key, ref);
		const fact = this.facts.get(ref) ?? { ref, ...make() };
		this.facts.set(ref, fact);
		return { ...fact };
	}

	async openSession(ask: Parameters<Payments['openSession']>[0]) {
		const { ref } = this.once(ask.key, () => ({ state: 'pending', amount: ask.amount, cardRef: null }));
		return { ref, payUrl: `https://till.example/pay/${ref}` };
	}

	async charge(ask: Parameters<Payments['charge']>[0]) {
		const state = this.renewalsWork ? 'captured' : 'declined';
		return this.once(ask.key, () => ({ state, amount: ask.amount, cardRef: ask.cardRef }));
	}

	async refund({ ref }: { key: string; ref: string }) {
		return this.becomes(ref, 'refunded');
	}

	async fetch(ref: string) {
		const fact = this.facts.get(ref);
		if (!fact) throw new Error(`unknown ${ref}`);
		return { ...fact };
	}

	readNotification({ body }: { body: Uint8Array }) {
		const [eventId = '', paymentRef = ''] = new TextDecoder().decode(body).split(' ');
		return { ok: true as const, eventId, paymentRef };
	}

	becomes(ref: string, state: PaymentState): PaymentFact {
		const fact = this.facts.get(ref);
		if (!fact) throw new Error(`unknown ${ref}`);
		const next = { ...fact, state, cardRef: fact.cardRef ?? (state === 'declined' ? null : `card-${ref}`) };
		this.facts.set(ref, next);
		return { ...next };
	}
}

export interface World {
	stile: Stile;
	app: Stile['app'];
	processor: FakeProcessor;
	end(): Promise<void>;
}

let count = 0;

export async function makeWorld(): Promise<World> {
	const base = process.env.STILE_TEST_DATABASE;
	if (!base) throw new Error('Database tests are run by "npm test", which starts MariaDB for them');
	const name = `test_${process.pid}_${++count}`;
	const admin = await createConnection(base);
	await admin.query(`CREATE DATABASE ${name}`);
	const folder = mkdtempSync(join(tmpdir(), 'stile-test-'));
	const stile = await compose(
		readSettings({
			STILE_MODE: 'demo',
			STILE_CLOCK: 'movable',
			STILE_ORIGIN: 'http://127.0.0.1:4999',
			STILE_DATABASE_URL: `${base}${name}`,
			STILE_STORAGE: folder,
			STILE_MASTER_KEY: Buffer.alloc(32, 1).toString('base64'),
			STILE_PAYMENTS_URL: 'http://127.0.0.1:9',
			STILE_PAYMENTS_SECRET: 'secret',
			STILE_SMTP_URL: 'smtp://127.0.0.1:9',
			STILE_LOG_LEVEL: 'silent'
		})
	);
	const processor = new FakeProcessor();
	stile.app.payments = processor;
	stile.app.mailer = { send: async () => {} };
	return {
		stile,
		app: stile.app,
		processor,
		async end() {
			await stile.stop();
			await admin.query(`DROP DATABASE ${name}`);
			await admin.end();
			await rm(folder, { recursive: true });
		}
	};
}

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
	const planId = await createPlan(app, null, {
		name: 'Workshop',
		lines: [],
		price: { minor, currency: 'EUR' },
		unit: 'month',
		isPublic: true,
		isOnSale: true,
		afterLapse: 'on',
		ladder: null,
		rung: 1
	});
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
		const [item] = await work.tx
			.insert(items)
			.values({
				kind: 'video',
				title: 'Wheel',
				description: '',
				address,
				state: 'published',
				base: 'closed',
				showsPoster: true,
				createdAt: work.now,
				changedAt: work.now
			})
			.$returningId();
		if (!asset || !item) throw new Error('nothing was written');
		await work.tx.insert(placements).values({ itemId: item.id, assetId: asset.id });
		work.policyChanged('test');
		return item.id;
	});
}

export async function order(
	{ app }: World,
	slug: string,
	over: Partial<Parameters<typeof beginOrder>[1]> = {}
) {
	const begun: BegunOrder = await beginOrder(app, {
		planSlug: slug,
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

export async function passDays({ app, stile }: World, days: number): Promise<void> {
	const moved = await advanceClock(
		app,
		(queue) => stile.runner.runDue(queue),
		null,
		app.clock.business() + days * 86_400_000
	);
	if (!moved.ok) throw new Error(moved.code);
}
