/** What buyers are handed: who sold it, for which time, and that it stays as it was handed out. */
import { afterEach, beforeEach, expect, it } from 'vitest';
import { siteSettings } from '$server/db/queries/settings';
import { documents } from '$server/db/schema/sales';
import { documentPage, paperOf } from '$server/reads/front/documents';
import { createPlan } from '$server/usecases/plans/save-plan';
import { saveSite } from '$server/usecases/running/save-site';
import { buy, makeShop, makeWorld, monthly, passDays, PLAN, type World } from './world';

let world: World;

beforeEach(async () => {
	world = await makeWorld();
});
afterEach(() => world.end());

const SELLER = { name: 'Fernhollow Ltd', address: '3 Escapement Lane\n9130 Fernhollow', taxNumber: '4711' };
const sellBy = async (seller: typeof SELLER) =>
	saveSite(world.app, null, 'money', { ...(await siteSettings(world.app.db)), seller });
const handedOut = async () =>
	(await world.app.db.select().from(documents)).sort((a, b) => a.issuedAt - b.issuedAt);
const day = (at: number | undefined) => (at === undefined ? null : new Date(at).toISOString().slice(0, 10));
const periods = async () =>
	(await handedOut()).map(({ content }) =>
		content.lines.map(({ period }) => period && [day(period.from), day(period.through)])
	);

it('names the seller as it was then, whatever is set afterwards', async () => {
	const { slug } = await makeShop(world);
	await sellBy(SELLER);
	const { memberId } = await buy(world, slug);
	await sellBy({ ...SELLER, address: 'Elsewhere' });
	const [receipt] = await handedOut();
	expect(receipt?.content.seller).toMatchObject(SELLER);
	const reader = { id: memberId, permissions: new Set<'sales'>() };
	const page = await documentPage(world.app, receipt?.number ?? '', reader);
	const paper = page && (await paperOf(world.app, page));
	expect(paper?.from).toEqual({
		name: 'Fernhollow Ltd',
		lines: ['3 Escapement Lane', '9130 Fernhollow', 'Tax number 4711']
	});
	expect(paper?.to).toMatchObject({ name: 'Wren', lines: ['wren@mail.example'] });
	expect(paper?.total).toEqual({ label: 'Paid', amount: '12.00 EUR' });
});

it('is of the site where no seller is set', async () => {
	const { slug } = await makeShop(world);
	await buy(world, slug);
	const { siteName } = await siteSettings(world.app.db);
	expect((await handedOut())[0]?.content.seller.name).toBe(siteName);
});

it('says of each payment for which time it pays, of a fee and of what is for good none', async () => {
	const terms = { ...monthly(1200), feeMinor: 500 };
	await createPlan(world.app, null, { ...PLAN, name: 'Bench', terms });
	const once = { currency: 'EUR', firstMinor: 4900, feeMinor: 0, then: { kind: 'nothing' as const } };
	await createPlan(world.app, null, { ...PLAN, name: 'Film', terms: once, access: { kind: 'for-good' } });
	await buy(world, 'bench');
	await buy(world, 'film', 'jasper@mail.example');
	await passDays(world, 35);
	const [first, film, second] = await periods();
	expect(first).toHaveLength(2);
	expect(first?.[1]).toBeUndefined();
	expect(film).toEqual([undefined]);
	// What the second pays for begins where the first has ended.
	expect(first?.[0]?.[1]).toBe(second?.[0]?.[0]);
	expect(first?.[0]?.[0]).not.toBe(first?.[0]?.[1]);
});
