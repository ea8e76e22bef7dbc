/** The policy as a list of changes: one order for all nodes, nothing lost, and a yes that belongs to one change. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { desc, eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { PolicySource } from '$core/access/model';
import { compose, type Stile } from '$server/compose';
import {
	fenceById,
	keepBase,
	policyAt,
	policyInForce,
	policySource,
	writeBase
} from '$server/db/queries/policy';
import { grants, policyBases, policyChanges, rightsChanges } from '$server/db/schema/access';
import { insertItems } from '$server/db/queries/items';
import { items } from '$server/db/schema/library';
import { signIn } from '$server/usecases/accounts/sign-in';
import { agreeing, type KeptRehearsal } from '$server/usecases/access/rehearsed-save';
import { givePlanItems, takePlanItems } from '$server/usecases/access/give-plan-items';
import { saveReleases } from '$server/usecases/access/save-releases';
import { addMember } from '$server/usecases/accounts/run-members';
import { removeFence, saveFence, type FenceWish } from '$server/usecases/fences/save-fence';
import { createItem, editItem, setState, type ItemWish } from '$server/usecases/library/edit-item';
import { importTable } from '$server/usecases/library/import-table';
import { makeLabel, removeLabel } from '$server/usecases/library/labels';
import { changeMany } from '$server/usecases/library/write-many';
import { editPlan } from '$server/usecases/plans/save-plan';
import { saveSite } from '$server/usecases/running/save-site';
import { transact } from '$server/transact';
import { FENCE, holding, makeShop, makeVideo, makeWorld, PAGE, PLAN, type World } from './world';

let world: World;
/** A second node on the same database. */
let node: Stile;
let shop: Awaited<ReturnType<typeof makeShop>>;
let wren: string;

beforeAll(async () => {
	world = await makeWorld();
	node = await compose(world.app.settings);
	shop = await makeShop(world);
	const added = await addMember(world.app, null, {
		email: 'wren@mail.example',
		name: 'Wren',
		planId: shop.planId,
		until: null
	});
	if (!added.ok) throw new Error(added.code);
	wren = added.memberId;
});
afterAll(async () => {
	await node.stop();
	await world.end();
});

const sorted = (source: PolicySource) => {
	const byId = (a: { id: string }, b: { id: string }) => (a.id < b.id ? -1 : 1);
	const { resources, fences, plans, releases, ...site } = source;
	return {
		...site,
		resources: [...resources].sort(byId),
		fences: [...fences].sort(byId),
		plans: [...plans].sort(byId),
		releases: [...releases].sort(byId)
	};
};
const expectSameAsTables = async () =>
	expect(sorted((await policyInForce(world.app.db)).source)).toEqual(
		sorted(await policySource(world.app.db))
	);
const fence = async () => {
	const { id: _, createdAt: __, ...wish } = (await fenceById(world.app.db, shop.fenceId))!;
	return wish;
};
const memberCalled = async (name: string) => {
	const email = `${name}@mail.example`;
	const added = await addMember(world.app, null, { email, name, planId: null, until: null });
	if (!added.ok) throw new Error(added.code);
	return added.memberId;
};
const publishedPage = async (over: Partial<ItemWish> = {}) => {
	const made = await createItem(world.app, null, { ...PAGE, ...over });
	if (made.kind !== 'saved') throw new Error(made.kind);
	await agreeing((yes) =>
		setState(world.app, null, made.itemId, { state: 'published', publishAt: null }, yes)
	);
	return made.itemId;
};

type Result = { kind: string; rehearsal?: KeptRehearsal };

/** Every action that moves access, each with something that it would do. Run in order: each finds what it needs. */
const ACTIONS: Record<string, (yes: string | null) => Promise<Result>> = {};
let page: string;
let film: string;
let label: string;
beforeAll(async () => {
	page = await publishedPage();
	film = await makeVideo(world.app, '/videos/second');
	label = await makeLabel(world.app, null, 'category', 'Tools');
	const labelled = await publishedPage({ title: 'Labelled' });
	const second = await makeLabel(world.app, null, 'category', 'Second');
	const onSecond: FenceWish = {
		...FENCE,
		name: 'Second',
		selector: { kind: 'category', categoryId: second }
	};
	await agreeing((yes) =>
		saveFence(world.app, null, { fenceId: null, revision: 1, wish: onSecond, agreedTo: yes })
	);
	const [linnea, jasper] = [await memberCalled('linnea'), await memberCalled('jasper')];
	const since = world.app.clock.business();
	const naming = async (memberIds: string[], yes: string | null) => {
		const { revision, ...wish } = await fence();
		const named = memberIds.map((memberId) => ({ memberId, since }));
		const line = { ...holding(''), audience: { kind: 'named' as const }, named };
		const changed = { ...wish, crossings: [holding(shop.planId), line] };
		return saveFence(world.app, null, { fenceId: shop.fenceId, revision, wish: changed, agreedTo: yes });
	};
	await agreeing((yes) => changeMany(world.app, null, [page], { categoryId: label }, yes));
	const onTools: FenceWish = { ...FENCE, name: 'Tools', selector: { kind: 'category', categoryId: label } };
	const app = world.app;
	Object.assign(ACTIONS, {
		'a fence that is put up': (yes: string | null) =>
			saveFence(app, null, { fenceId: null, revision: 1, wish: onTools, agreedTo: yes }),
		'a label that is removed': (yes: string | null) => removeLabel(app, null, 'category', label, yes),
		'a fence that is changed': async (yes: string | null) => {
			const { revision, ...wish } = await fence();
			const changed = { ...wish, crossings: [] };
			return saveFence(app, null, { fenceId: shop.fenceId, revision, wish: changed, agreedTo: yes });
		},
		'a fence that is changed back': async (yes: string | null) => {
			const { revision, ...wish } = await fence();
			const changed = { ...wish, crossings: [holding(shop.planId)] };
			return saveFence(app, null, { fenceId: shop.fenceId, revision, wish: changed, agreedTo: yes });
		},
		'a member whom a fence names': (yes: string | null) => naming([linnea], yes),
		'a member whom it names instead': (yes: string | null) => naming([jasper], yes),
		'a member whom it names no longer': (yes: string | null) => naming([], yes),
		'items that get a label with a fence': (yes: string | null) =>
			changeMany(app, null, [labelled], { categoryId: second }, yes),
		'releases that are set': (yes: string | null) =>
			saveReleases(
				app,
				null,
				shop.planId,
				[
					{
						target: { kind: 'resource', id: shop.itemId },
						window: { opens: { kind: 'after', count: 2, unit: 'week' }, closes: { kind: 'never' } }
					}
				],
				yes
			),
		'releases that are taken away': (yes: string | null) =>
			saveReleases(
				app,
				null,
				shop.planId,
				[{ target: { kind: 'resource', id: shop.itemId }, window: null }],
				yes
			),
		'items that a plan is given': (yes: string | null) => givePlanItems(app, null, shop.planId, [film], yes),
		'items that are taken from a plan': (yes: string | null) =>
			takePlanItems(app, null, shop.planId, [film], yes),
		'an item whose base is changed': (yes: string | null) =>
			editItem(app, null, page, { ...PAGE, base: 'closed' }, yes),
		'an item that is archived': (yes: string | null) =>
			setState(app, null, shop.itemId, { state: 'archived', publishAt: null }, yes),
		'many items that are published': (yes: string | null) =>
			changeMany(app, null, [shop.itemId], { state: 'published' }, yes),
		'a table that is brought in': (yes: string | null) =>
			importTable(
				app,
				null,
				'title,address,kind,state,base,shelf,tags,target\nOil,/oil,link,published,open,Wheels/Oil,wet,https://oil.example/\n',
				yes
			),
		'a plan that is changed': (yes: string | null) =>
			editPlan(app, null, shop.planId, { ...PLAN, afterLapse: 'anew' }, yes),
		'an hour of release of the whole site': async (yes: string | null) =>
			saveSite(app, null, 'access', { ...(await app.site()), releaseHour: 5 }, { agreedTo: yes }),
		'the zone of the site': async (yes: string | null) =>
			saveSite(app, null, 'site', { ...(await app.site()), zone: 'Asia/Tokyo' }, { agreedTo: yes }),
		'a fence that is taken down': (yes: string | null) => removeFence(app, null, shop.fenceId, yes)
	});
});

/** Wren held the plan long ago, and has it again since yesterday; what it opens, it opens after a week. */
async function comeBackAfterALapse(): Promise<void> {
	const window = {
		opens: { kind: 'after' as const, count: 1, unit: 'week' as const },
		closes: { kind: 'never' as const }
	};
	const target = { kind: 'resource' as const, id: shop.itemId };
	await agreeing((yes) => saveReleases(world.app, null, shop.planId, [{ target, window }], yes));
	const day = 86_400_000;
	const now = world.app.clock.business();
	await transact(world.app, null, async ({ tx, standingChanged }) => {
		await tx
			.update(grants)
			.set({ from: now - 90 * day, until: now - 80 * day })
			.where(eq(grants.memberId, wren));
		await tx.insert(grants).values({ memberId: wren, planId: shop.planId, from: now - day, source: 'hand' });
		standingChanged(wren);
	});
}

describe('a yes', () => {
	it('to each action that moves access saves that action and no other, and the log says what the tables say', async () => {
		const names = Object.keys(ACTIONS);
		expect(names.length).toBeGreaterThan(12);
		let before: string | null = null;
		for (const name of names) {
			if (name === 'a plan that is changed') await comeBackAfterALapse();
			const act = ACTIONS[name]!;
			const version = (await policyInForce(world.app.db)).version;
			const asked = await act(null);
			expect(asked.kind, name).toBe('rehearsed');
			// A yes that was given to another action, or to nothing, is none.
			for (const wrong of [before, '01a21006-2c70-7388-addc-26aebd2ef8ec']) {
				if (wrong === null) continue;
				const again = await act(wrong);
				expect(again.kind, `${name} with the yes to another`).toBe('rehearsed');
			}
			expect((await policyInForce(world.app.db)).version, name).toBe(version);
			const fresh = await act(null);
			const yes = fresh.rehearsal?.id ?? '';
			// Unchanged, it saves: on the other node, too, since what is kept is kept for both.
			const saved = await act(yes);
			expect(saved.kind, name).toBe('saved');
			before = yes;
			await expectSameAsTables();
			await node.app.rights.refresh();
			expect(sorted(node.app.rights.known().source), name).toEqual(sorted(world.app.rights.known().source));
		}
		await agreeing((yes) =>
			saveFence(world.app, null, {
				fenceId: null,
				revision: 1,
				agreedTo: yes,
				wish: {
					...FENCE,
					selector: { kind: 'items', itemIds: [shop.itemId] },
					crossings: [holding(shop.planId)]
				}
			})
		);
	}, 120_000);

	it('does not let “anyone” in who was added after it was given', async () => {
		const wish: FenceWish = {
			...FENCE,
			name: 'On the page',
			selector: { kind: 'items', itemIds: [page] },
			crossings: [holding(shop.planId)]
		};
		const ask = (crossings: FenceWish['crossings'], yes: string | null) =>
			saveFence(world.app, null, { fenceId: null, revision: 1, wish: { ...wish, crossings }, agreedTo: yes });
		const asked = await ask(wish.crossings, null);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		const anyone = { ...holding(shop.planId), audience: { kind: 'anyone' as const } };
		const sneaked = await ask([...wish.crossings, anyone], asked.rehearsal.id);
		expect(sneaked.kind).toBe('rehearsed');
		expect((await world.app.rights.policy()).source.fences.map(({ name }) => name)).not.toContain(
			'On the page'
		);
		expect((await ask(wish.crossings, null)).kind).toBe('rehearsed');
	});
});

describe('one order', () => {
	it('keeps a fence that was saved while an upload that had begun earlier was being written', async () => {
		let fenced: string | undefined;
		const fileId = await transact(world.app, null, async (work) => {
			const made = { id: uuidv7() };
			const page = { kind: 'page', title: 'Came in', address: '/came-in' } as const;
			await insertItems(work.tx, [{ ...page, ...made, state: 'draft', base: 'open', createdAt: work.now }]);
			// Between two statements: another save comes and is done.
			const saved = await agreeing((yes) =>
				saveFence(node.app, null, {
					fenceId: null,
					revision: 1,
					agreedTo: yes,
					wish: { ...FENCE, name: 'Meanwhile', selector: { kind: 'path', path: '/elsewhere' } }
				})
			);
			fenced = saved.kind === 'saved' ? saved.fenceId : undefined;
			work.policyChanged('test', { resources: [made!.id] });
			return made!.id;
		});
		const { source } = await policyInForce(world.app.db);
		expect(source.fences.map(({ id }) => id)).toContain(fenced);
		expect(source.resources.map(({ id }) => id)).toContain(fileId);
		await expectSameAsTables();
	});

	it('gives every version one number, however many save at once on two nodes', async () => {
		const first = (await policyInForce(world.app.db)).version;
		await Promise.all(
			Array.from({ length: 8 }, (_, n) =>
				createItem(n % 2 ? world.app : node.app, null, { ...PAGE, title: `At once ${n}` })
			)
		);
		const rows = await world.app.db.select().from(policyChanges).orderBy(policyChanges.version);
		expect(rows.map(({ version }) => version).filter((version) => version > first)).toEqual(
			Array.from({ length: 8 }, (_, n) => first + 1 + n)
		);
		await expectSameAsTables();
	});

	it('lets somebody sign in while a save that is not finished holds its rows', async () => {
		const order: string[] = [];
		let signingIn: Promise<void> = Promise.resolve();
		await transact(world.app, null, async (work) => {
			await work.tx.update(items).set({ base: 'open' }).where(eq(items.id, page));
			work.policyChanged('test', { resources: [page] });
			work.standingChanged(wren);
			signingIn = signIn(world.app, { email: 'wren@mail.example', password: 'x', client: 'c' }).then(() => {
				order.push('signed in');
			});
			await signingIn;
			order.push('saved');
		});
		expect(order).toEqual(['signed in', 'saved']);
	});

	it('is seen by a node although a lower number was committed after a higher one', async () => {
		const { app } = node;
		await app.rights.standing(wren);
		const connection = await world.app.pool.getConnection();
		try {
			await connection.beginTransaction();
			await connection.query("UPDATE accounts SET name = 'Wren, renamed' WHERE id = ?", [wren]);
			await connection.query("INSERT INTO rights_changes (kind, member_id, at) VALUES ('standing', ?, ?)", [
				wren,
				new Date(app.clock.wall()).toISOString().replace('T', ' ').replace('Z', '')
			]);
			await transact(world.app, null, async (work) => work.contentChanged());
			await app.rights.refresh();
			expect((await app.rights.standing(wren))?.name).toBe('Wren');
			await connection.commit();
		} finally {
			connection.release();
		}
		await app.rights.refresh();
		expect((await app.rights.standing(wren))?.name).toBe('Wren, renamed');
		const kinds = await world.app.db.select().from(rightsChanges).orderBy(desc(rightsChanges.id)).limit(2);
		expect(kinds.map(({ kind }) => kind).sort()).toEqual(['content', 'standing']);
	});
});

describe('what is kept', () => {
	it('costs what changed, and is never changed', async () => {
		const { itemId } = (await createItem(world.app, null, { ...PAGE, title: 'Small' })) as { itemId: string };
		const [last] = await world.app.db
			.select()
			.from(policyChanges)
			.orderBy(desc(policyChanges.version))
			.limit(1);
		expect(last?.delta.map(({ kind, id, before }) => ({ kind, id, before }))).toEqual([
			{ kind: 'resource', id: itemId, before: null }
		]);
		await expect(world.app.pool.query('UPDATE policy_changes SET cause = cause')).rejects.toThrow(
			/never changed/
		);
	});

	it('says the rules of then, from the newest base before that moment on', async () => {
		const then = world.app.clock.business();
		const before = await policyInForce(world.app.db);
		await writeBase(world.app.db, before, then);
		await new Promise((resolve) => setTimeout(resolve, 5));
		await createItem(world.app, null, { ...PAGE, title: 'Later' });
		expect(sorted((await policyAt(world.app.db, then)).source)).toEqual(sorted(before.source));
		expect((await policyAt(world.app.db, 1)).source.fences).toEqual([]);
		expect((await policyInForce(world.app.db)).version).toBe(before.version + 1);
		await keepBase(world.app.db, then);
		expect((await world.app.db.select().from(policyBases)).length).toBeGreaterThan(1);
	});
});
