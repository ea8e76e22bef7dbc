/** Where somebody lands who has bought or signed in: never at what is shut for them. */
import { afterEach, beforeEach, expect, it } from 'vitest';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { addMember } from '$server/usecases/accounts/run-members';
import { saveFence } from '$server/usecases/fences/save-fence';
import { plansWithPrices } from '$server/db/queries/sales';
import { createPlan, orderPlans } from '$server/usecases/plans/save-plan';
import { afterSignIn, landingPath } from '$server/usecases/sales/landing';
import { buy, FENCE, holding, makeShop, makeVideo, makeWorld, monthly, PLAN, type World } from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
});
afterEach(() => world.end());

const DAY_MS = 86_400_000;

/** A video that a plan opens, from so many days after now on. */
async function opens(planId: string, address: string, inDays = 0): Promise<void> {
	const itemId = await makeVideo(world.app, address);
	const at = world.app.clock.business() + inDays * DAY_MS;
	const window =
		inDays === 0 ? null : { opens: { kind: 'on' as const, at }, closes: { kind: 'never' as const } };
	const wish = { ...FENCE, name: address, selector: { kind: 'items' as const, itemIds: [itemId] } };
	const crossings = [{ ...holding(planId), window }];
	const saved = await agreeing((agreedTo) =>
		saveFence(world.app, null, { fenceId: null, revision: 1, agreedTo, wish: { ...wish, crossings } })
	);
	if (saved.kind !== 'saved') throw new Error(saved.kind);
}
const landing = (memberId: string, planId: string | null, next: string | null = null) =>
	landingPath(world.app, { memberId, planId, next });

it('is what was wanted where that is open, and else the first open thing of the plan that was joined', async () => {
	await opens(shop.planId, '/videos/second');
	const { memberId } = await buy(world, shop.slug);
	expect(await landing(memberId, shop.planId, '/videos/second')).toBe('/videos/second');
	expect(await landing(memberId, shop.planId, '/videos/second?t=9')).toBe('/videos/second?t=9');
	expect(await landing(memberId, shop.planId)).toBe('/videos/wheel');
	expect(await landing(memberId, shop.planId, '/nowhere')).toBe('/videos/wheel');
});

it('is never what opens later or belongs to another plan', async () => {
	const other = await createPlan(world.app, null, { ...PLAN, name: 'Other' });
	const late = await createPlan(world.app, null, { ...PLAN, name: 'Late' });
	await opens(other, '/videos/other');
	await opens(late, '/videos/late', 3);
	const { memberId } = await buy(world, 'late');
	expect(await landing(memberId, late, '/videos/late')).toBe('/account');
	expect(await landing(memberId, late, '/videos/other')).toBe('/account');
	await opens(late, '/videos/now');
	expect(await landing(memberId, late, '/videos/late')).toBe('/videos/now');
});

it('is of the other plans that are held, in their order, where the one that was joined opens nothing yet', async () => {
	const dear = await createPlan(world.app, null, { ...PLAN, name: 'Dear', terms: monthly(9900) });
	const late = await createPlan(world.app, null, { ...PLAN, name: 'Late', terms: monthly(100) });
	await opens(dear, '/videos/dear');
	await opens(late, '/videos/late', 3);
	const { memberId } = await buy(world, 'dear');
	await buy(world, 'late');
	expect(await landing(memberId, late)).toBe('/videos/dear');
	await buy(world, shop.slug);
	// The cheaper stands before the dearer, until somebody has put them in order.
	expect(await landing(memberId, late)).toBe('/videos/wheel');
	expect(await landing(memberId, null)).toBe('/videos/wheel');
	await orderPlans(world.app, null, [late, dear, shop.planId]);
	await world.app.rights.refresh();
	expect(await landing(memberId, null)).toBe('/videos/dear');
	const made = await createPlan(world.app, null, { ...PLAN, name: 'New', terms: monthly(1) });
	expect((await plansWithPrices(world.app.db)).map(({ id }) => id)).toEqual([late, dear, shop.planId, made]);
	// Who has not seen the new one leaves it where it is.
	await orderPlans(world.app, null, [shop.planId, late, dear]);
	expect((await plansWithPrices(world.app.db)).map(({ id }) => id)).toEqual([shop.planId, late, dear, made]);
});

it('after signing in is the page that was asked for, which says why where it is shut; of staff the Desk', async () => {
	const added = await addMember(world.app, null, {
		email: 'bram@mail.example',
		name: 'Bram',
		planId: null,
		until: null
	});
	if (!added.ok) throw new Error(added.code);
	const member = { memberId: added.memberId, isStaff: false };
	expect(await afterSignIn(world.app, { ...member, next: '/videos/wheel' })).toBe('/videos/wheel');
	expect(await afterSignIn(world.app, { ...member, next: null })).toBe('/account');
	expect(await afterSignIn(world.app, { ...member, isStaff: true, next: '' })).toBe('/desk');
	const { memberId } = await buy(world, shop.slug);
	expect(await afterSignIn(world.app, { memberId, isStaff: false, next: null })).toBe('/videos/wheel');
	expect(await afterSignIn(world.app, { memberId: shop.planId, isStaff: false, next: null })).toBe(
		'/account'
	);
});
