/** Pages whose openings are counted: on which requests they are delivered. */
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { NO_LIMITS } from '$core/access/model';
import { compose, type Stile } from '$server/compose';
import { uses } from '$server/db/schema/access';
import { insertItems } from '$server/db/queries/items';
import { deliverPage } from '$server/http/deliver-page';
import { decideIn, lookOf } from '$server/rights/look';
import { addMember } from '$server/usecases/accounts/run-members';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { saveFence } from '$server/usecases/fences/save-fence';
import { takeUse } from '$server/usecases/library/uses';
import { transact } from '$server/transact';
import { FENCE, holding, makeShop, makeWorld, type World } from './world';

let world: World;
/** A second node on the same database. */
let node: Stile;
let planId: string;
let pageId: string;
let memberId: string;
let members = 0;

beforeAll(async () => {
	world = await makeWorld();
	node = await compose(world.app.settings);
	({ planId } = await makeShop(world));
	pageId = await transact(world.app, null, async (work) => {
		const id = uuidv7();
		const shown = { title: 'Suppliers', address: '/suppliers' };
		await insertItems(work.tx, [
			{ ...shown, id, kind: 'page', state: 'published', base: 'open', createdAt: work.now }
		]);
		work.policyChanged('test', { resources: [id] });
		return id;
	});
	const limits = { ...NO_LIMITS, uses: { count: 1, per: 'grant' as const } };
	await agreeing((agreedTo) =>
		saveFence(world.app, null, {
			fenceId: null,
			revision: 1,
			agreedTo,
			wish: {
				...FENCE,
				selector: { kind: 'items', itemIds: [pageId] },
				crossings: [{ ...holding(planId), limits }]
			}
		})
	);
});
afterAll(async () => {
	await node.stop();
	await world.end();
});
beforeEach(async () => {
	const email = `reader-${++members}@mail.example`;
	const added = await addMember(world.app, null, { email, name: '', planId, until: null });
	if (!added.ok) throw new Error(added.code);
	memberId = added.memberId;
	await node.app.rights.refresh();
});

/** What a request for the page gets; `race` happens after it was decided and before it is delivered. */
async function open(
	over: { method?: string; data?: boolean; purpose?: string; race?: () => Promise<unknown> } = {}
) {
	const { app } = world;
	const standing = await app.rights.standing(memberId);
	const look = await lookOf(app, standing, null, null);
	const locals = { app, look, access: { itemId: pageId, decision: await decideIn(app, look, pageId) } };
	await over.race?.();
	const headers = new Headers(over.purpose ? { 'sec-purpose': over.purpose } : {});
	const request = new Request('http://127.0.0.1/suppliers', { method: over.method ?? 'GET', headers });
	const event = { locals, request, isDataRequest: over.data ?? false };
	const delivery = await deliverPage(event as unknown as Parameters<typeof deliverPage>[0]);
	return { delivery, verdict: locals.access.decision.verdict };
}

const used = async () => (await world.app.db.select().from(uses).where(eq(uses.memberId, memberId))).length;

describe('a page whose openings are counted', () => {
	it.each([
		['HEAD', { method: 'HEAD' }],
		['data for a page that nobody has turned to yet', { data: true }],
		['what is fetched ahead', { purpose: 'prefetch' }]
	])('is neither counted nor delivered to %s', async (_name, over) => {
		expect(await open(over)).toEqual({ delivery: 'held', verdict: 'open' });
		expect(await used()).toBe(0);
	});

	it('is delivered once it is counted, and to everything while that use goes on', async () => {
		expect(await open()).toEqual({ delivery: 'delivered', verdict: 'open' });
		expect(await open({ data: true })).toEqual({ delivery: 'delivered', verdict: 'open' });
		expect(await used()).toBe(1);
	});

	it('is turned away where the last use was taken and ended elsewhere after it was decided', async () => {
		const race = async () => {
			expect(await takeUse(node.app, memberId, pageId)).toEqual({ ok: true });
			// It does not go on here: it is another's.
			await transact(node.app, null, async (work) => {
				await work.tx.update(uses).set({ goesOnUntil: work.now }).where(eq(uses.memberId, memberId));
				work.standingChanged(memberId);
			});
		};
		expect(await open({ race })).toEqual({ delivery: 'turned-away', verdict: 'used-up' });
		expect(await used()).toBe(1);
	});

	it('is taken once by two that come at once on two nodes', async () => {
		const taken = await Promise.all([
			takeUse(world.app, memberId, pageId),
			takeUse(node.app, memberId, pageId),
			takeUse(world.app, memberId, pageId)
		]);
		expect(taken.every(({ ok }) => ok)).toBe(true);
		expect(await used()).toBe(1);
	});
});
