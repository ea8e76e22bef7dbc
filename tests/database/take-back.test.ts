/** Changes of access that are taken back: as they were written, and only while nobody has changed the same. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { itemById } from '$server/db/queries/items';
import { planById } from '$server/db/queries/sales';
import { fenceById } from '$server/db/queries/policy';
import { accessChanges } from '$server/reads/desk/changes';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { saveReleases } from '$server/usecases/access/save-releases';
import { changeAgreedTo, takeBack, whyNotTakenBack } from '$server/usecases/access/take-back';
import { addMember } from '$server/usecases/accounts/run-members';
import { removeFence, saveFence, type FenceWish } from '$server/usecases/fences/save-fence';
import { createItem, editItem, setState, type ItemWish } from '$server/usecases/library/edit-item';
import { editPlan } from '$server/usecases/plans/save-plan';
import { saveSite } from '$server/usecases/running/save-site';
import { buy, FENCE, holding, makeShop, makeWorld, PAGE, PLAN, type World } from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
let wren: string;

beforeAll(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	wren = (await buy(world, shop.slug)).memberId;
});
afterAll(async () => world.end());

const verdict = async (memberId: string | null) =>
	(await world.app.rights.decide(memberId, shop.itemId)).verdict;
const newest = async () => (await accessChanges(world.app, null)).changes[0]!;
const back = (version: number) => agreeing((agreedTo) => takeBack(world.app, null, version, agreedTo));
const save = (wish: FenceWish, fenceId: string | null, revision: number, agreedTo: string | null) =>
	saveFence(world.app, null, { fenceId, revision, wish, agreedTo });

describe('taking back', () => {
	it('is rehearsed, writes nothing before a yes, and is a change of its own', async () => {
		const fence = (await fenceById(world.app.db, shop.fenceId))!;
		const wish: FenceWish = { ...FENCE, selector: fence.selector, crossings: [] };
		const asked = await save(wish, fence.id, fence.revision, null);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		expect(await changeAgreedTo(world.app, asked.rehearsal.id)).toBeNull();
		await save(wish, fence.id, fence.revision, asked.rehearsal.id);
		expect(await verdict(wren)).toBe('shut');
		const { version, about, by } = await newest();
		expect(await changeAgreedTo(world.app, asked.rehearsal.id)).toBe(version);
		expect([about, by]).toEqual([[{ kind: 'fence', names: ['Wheel'], count: 1 }], null]);

		const first = await takeBack(world.app, null, version, null);
		if (first.kind !== 'rehearsed') throw new Error(first.kind);
		expect(first.rehearsal.result.members['gains-now']).toBe(1);
		expect(await verdict(wren)).toBe('shut');
		expect(await takeBack(world.app, null, version, first.rehearsal.id)).toEqual({ kind: 'saved' });
		expect(await verdict(wren)).toBe('open');
		expect((await newest()).version).toBe(version + 1);
		expect(await whyNotTakenBack(world.app, version)).toBe('changed-since');
		// What took it back can be taken back.
		await back(version + 1);
		expect(await verdict(wren)).toBe('shut');
		await back(version + 2);
		expect(await verdict(wren)).toBe('open');
	});

	it('brings back a fence that was taken down, with whom it names', async () => {
		const added = await addMember(world.app, null, {
			email: 'bram@mail.example',
			name: 'Bram',
			planId: null,
			until: null
		});
		if (!added.ok) throw new Error(added.code);
		const { memberId } = added;
		const named: FenceWish['crossings'][number] = {
			...holding(shop.planId),
			audience: { kind: 'named' },
			named: [{ memberId, since: world.app.clock.business() }]
		};
		const selector = { kind: 'items' as const, itemIds: [shop.itemId] };
		const wish: FenceWish = { ...FENCE, mode: 'adds', selector, crossings: [named] };
		const saved = await agreeing((agreedTo) => save(wish, null, 1, agreedTo));
		if (saved.kind !== 'saved') throw new Error(saved.kind);
		expect(await verdict(memberId)).toBe('open');
		await agreeing((agreedTo) => removeFence(world.app, null, saved.fenceId, agreedTo));
		expect(await verdict(memberId)).toBe('shut');
		await back((await newest()).version);
		expect(await verdict(memberId)).toBe('open');
		expect((await fenceById(world.app.db, saved.fenceId))?.named.map((one) => one.memberId)).toEqual([
			memberId
		]);
		// And takes it down again, and whom it named with it.
		await back((await newest()).version);
		expect(await verdict(memberId)).toBe('shut');
	});

	it('takes back releases, and the state of an item', async () => {
		const target = { kind: 'resource' as const, id: shop.itemId };
		const window = {
			opens: { kind: 'after' as const, count: 4, unit: 'week' as const },
			closes: { kind: 'never' as const }
		};
		await agreeing((agreedTo) => saveReleases(world.app, null, shop.planId, [{ target, window }], agreedTo));
		expect(await verdict(wren)).toBe('opens-later');
		await back((await newest()).version);
		expect(await verdict(wren)).toBe('open');
		await agreeing((agreedTo) =>
			setState(world.app, null, shop.itemId, { state: 'archived', publishAt: null }, agreedTo)
		);
		expect(await verdict(wren)).toBe('shut');
		await back((await newest()).version);
		expect(await verdict(wren)).toBe('open');
	});

	it('happens once, however many say yes at once', async () => {
		const fence = (await fenceById(world.app.db, shop.fenceId))!;
		const { id: _, createdAt: __, revision, ...wish } = fence;
		await agreeing((agreedTo) => save({ ...wish, crossings: [] }, fence.id, revision, agreedTo));
		const { version } = await newest();
		const asked = await takeBack(world.app, null, version, null);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		const yes = async () => {
			const said = await takeBack(world.app, null, version, asked.rehearsal.id);
			// Whoever comes once it is saved is shown anew what it would do, and says yes to that.
			return said.kind === 'rehearsed' ? takeBack(world.app, null, version, said.rehearsal.id) : said;
		};
		const all = await Promise.all(Array.from({ length: 4 }, yes));
		expect(all.map((one) => (one.kind === 'refused' ? one.code : one.kind)).sort()).toEqual([
			'changed-since',
			'changed-since',
			'changed-since',
			'saved'
		]);
		expect((await newest()).version).toBe(version + 1);
		expect(await verdict(wren)).toBe('open');
	});

	it('is refused to whoever may not write what it is about, and of what there is not', async () => {
		const releases = { id: wren, permissions: new Set(['releases' as const]) };
		const { changes } = await accessChanges(world.app, null);
		const ofFence = changes.find(({ about }) => about[0]?.kind === 'fence' && about[0].names[0] === 'Wheel')!;
		expect(await takeBack(world.app, releases, 999_999, null)).toEqual({ kind: 'refused', code: 'unknown' });
		const fence = (await fenceById(world.app.db, shop.fenceId))!;
		const { id: _, createdAt: __, revision, ...wish } = fence;
		await agreeing((agreedTo) => save({ ...wish, name: 'Wheel, again' }, fence.id, revision, agreedTo));
		await expect(takeBack(world.app, releases, (await newest()).version, null)).rejects.toThrow();
		expect(ofFence.version).toBeLessThan((await newest()).version);
	});

	it('tells changes in pages, the newest first', async () => {
		const { changes } = await accessChanges(world.app, null);
		const versions = changes.map(({ version }) => version);
		expect(versions).toEqual(versions.toSorted((a, b) => b - a));
		const older = await accessChanges(world.app, versions[1]!);
		expect(older.changes[0]?.version).toBe(versions[2]);
	});

	it('puts back a plan, the rules of the site and an address, each where it was', async () => {
		const before = await world.app.site();
		const plan = (await planById(world.app.db, shop.planId))!;
		const item = (await itemById(world.app.db, shop.itemId))!;
		const edit = (over: Partial<ItemWish>) =>
			agreeing((agreedTo) =>
				editItem(
					world.app,
					null,
					shop.itemId,
					{ ...PAGE, ...item, kind: item.kind, address: item.address ?? '', tagIds: [], ...over } as ItemWish,
					agreedTo
				)
			);
		await agreeing((agreedTo) =>
			saveSite(
				world.app,
				null,
				'access',
				{ ...before, releaseHour: 6, limits: { ...before.limits, uses: { count: 3, per: 'grant' } } },
				{ agreedTo }
			)
		);
		const ofSite = (await newest()).version;
		const edited = await agreeing((agreedTo) =>
			editPlan(world.app, null, shop.planId, { ...PLAN, afterLapse: 'anew', isPublic: false }, agreedTo)
		);
		expect(edited.kind).toBe('saved');
		const ofPlan = (await newest()).version;
		expect((await edit({ address: '/elsewhere' })).kind).toBe('saved');
		const ofAddress = (await newest()).version;

		expect(await back(ofAddress)).toEqual({ kind: 'saved' });
		expect((await itemById(world.app.db, shop.itemId))?.address).toBe(item.address);
		expect(await back(ofPlan)).toEqual({ kind: 'saved' });
		const now = (await planById(world.app.db, shop.planId))!;
		expect([now.afterLapse, now.isPublic, now.isOnSale]).toEqual([
			plan.afterLapse,
			plan.isPublic,
			plan.isOnSale
		]);
		expect(await back(ofSite)).toEqual({ kind: 'saved' });
		expect(await world.app.site()).toEqual(before);
		expect(await whyNotTakenBack(world.app, ofSite)).toBe('changed-since');
	});

	it('of an address is refused where another has it by now, also where it was faster', async () => {
		const item = (await itemById(world.app.db, shop.itemId))!;
		const wish = { ...PAGE, ...item, kind: item.kind, tagIds: [], address: '/moved-on' } as ItemWish;
		await agreeing((agreedTo) => editItem(world.app, null, shop.itemId, wish, agreedTo));
		const { version } = await newest();
		const made = await createItem(world.app, null, { ...PAGE, title: 'Other', address: item.address ?? '' });
		expect(made.kind).toBe('saved');
		await world.app.rights.refresh();
		expect(await takeBack(world.app, null, version, null)).toEqual({ kind: 'refused', code: 'address' });
	});

	it('needs what the change itself needed', async () => {
		const archive = { state: 'archived', publishAt: null } as const;
		await agreeing((agreedTo) => setState(world.app, null, shop.itemId, archive, agreedTo));
		const { version } = await newest();
		const staff = { id: wren, permissions: new Set(['releases'] as const) };
		await expect(takeBack(world.app, staff, version, null)).rejects.toThrow(/permission/);
	});
});
