/** Members as the Desk lists them, what is done for many of them at once, and the labels that only staff give. */
import { eq, inArray } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { decide } from '$core/access/decide/decide';
import { totalsOf } from '$core/access/totals';
import {
	countedLabels,
	MEMBER_STATES,
	memberIds,
	memberList,
	memberRows,
	type MemberAsk
} from '$server/db/queries/member-list';
import { accountById, grantsOf } from '$server/db/queries/members';
import { agreementsOf } from '$server/db/queries/agreements';
import { recentEvents } from '$server/db/queries/today';
import { audit } from '$server/db/schema/running';
import { accounts } from '$server/db/schema/people';
import { deskNames } from '$server/reads/desk/names';
import { codesOf, codesOfBatches, codesPage, type CodesAsk } from '$server/reads/desk/codes';
import { planList, planNames } from '$server/reads/desk/plans';
import { findAnything } from '$server/db/queries/find';
import { memberLabelOf, removeMemberLabel, renameMemberLabel } from '$server/usecases/accounts/member-labels';
import { runMany, type ManyDone, type ManyWish } from '$server/usecases/accounts/run-many';
import { addMember } from '$server/usecases/accounts/run-members';
import { endBatches, makeBatch } from '$server/usecases/codes/codes';
import { saveFence } from '$server/usecases/fences/save-fence';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { createPlan } from '$server/usecases/plans/save-plan';
import { EVERYBODY } from '../support/members';
import { holdAfter } from './interleave';
import {
	buy,
	endGrant,
	FENCE,
	giveGrant,
	holding,
	makeShop,
	makeWorld,
	passDays,
	PLAN,
	redeem,
	type World
} from './world';

const DAY = 86_400_000;

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
let patronId: string;
const ids: Record<string, string> = {};

async function add(name: string): Promise<string> {
	const email = `${name.toLowerCase()}@mail.example`;
	const added = await addMember(world.app, null, { email, name, planId: null, until: null });
	if (!added.ok) throw new Error(added.code);
	return (ids[name] = added.memberId);
}
const give = (name: string, planId: string, from: number, until: number | null) =>
	giveGrant(world.app, null, { memberId: ids[name] ?? '', planId, from, until, why: '' });
const now = () => world.app.clock.business();
const found = async (over: Partial<MemberAsk>) => {
	const names = Object.fromEntries(Object.entries(ids).map(([name, id]) => [id, name]));
	const list = await memberList(world.app.db, { ...EVERYBODY, order: 'name', ...over }, now());
	const all = await memberIds(world.app.db, { ...EVERYBODY, ...over }, now());
	expect(new Set(all)).toEqual(new Set(list.rows.map(({ id }) => id)));
	expect(list.total).toBe(all.length);
	return list.rows.map(({ id }) => names[id]);
};
const opens = async (name: string) => {
	await world.app.rights.refresh();
	const standing = await world.app.rights.standing(ids[name] ?? '');
	const policy = await world.app.rights.policy();
	return standing && decide(policy, standing.viewer, shop.itemId, now()).verdict;
};

async function run(names: readonly string[], wish: ManyWish, agreedTo: string | null = null) {
	await world.app.rights.refresh();
	return runMany(
		world.app,
		null,
		names.map((name) => ids[name] ?? ''),
		wish,
		agreedTo
	);
}
function rehearsed(done: ManyDone) {
	if (done.kind !== 'rehearsed') throw new Error(JSON.stringify(done));
	return done;
}

beforeAll(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	patronId = await createPlan(world.app, null, { ...PLAN, name: 'Patron' });
	for (const name of ['Alder', 'Birch', 'Cedar', 'Elder', 'Hazel', 'Rowan']) await add(name);
	ids.Wren = (await buy(world, shop.slug)).memberId;
	await passDays(world, 10);
	await give('Birch', shop.planId, now() - 9 * DAY, now() - 2 * DAY);
	await give('Cedar', shop.planId, now() - 9 * DAY, now() + 5 * DAY);
	await give('Elder', patronId, now() - 3 * DAY, null);
	await give('Hazel', patronId, now() + 3 * DAY, null);
	await give('Rowan', patronId, now() - 9 * DAY, now() - DAY);
	await give('Rowan', shop.planId, now() - DAY, null);
	await came('Alder', now() - 4 * DAY);
});
afterAll(() => world.end());

async function came(name: string, createdAt: number) {
	await world.app.db
		.update(accounts)
		.set({ createdAt })
		.where(eq(accounts.id, ids[name] ?? ''));
}

describe('the list of members', () => {
	const span = (from: number | null, to: number | null) => ({
		from: from === null ? null : now() + from * DAY,
		to: to === null ? null : now() + to * DAY
	});
	it.each([
		['everybody', () => ({}), ['Alder', 'Birch', 'Cedar', 'Elder', 'Hazel', 'Rowan', 'Wren']],
		['by a part of an address', () => ({ search: 'der@' }), ['Alder', 'Elder']],
		['who holds a plan', () => ({ state: 'holds' as const }), ['Cedar', 'Elder', 'Rowan', 'Wren']],
		['who holds one that runs out', () => ({ state: 'runs-out' as const }), ['Cedar']],
		['who held one before', () => ({ state: 'lapsed' as const }), ['Birch']],
		['who never held one', () => ({ state: 'never' as const }), ['Alder', 'Hazel']],
		['who holds this plan', () => ({ planId: shop.planId }), ['Cedar', 'Rowan', 'Wren']],
		['who held this plan before', () => ({ planId: patronId, state: 'lapsed' as const }), ['Rowan']],
		[
			'who never held this plan',
			() => ({ planId: shop.planId, state: 'never' as const }),
			['Alder', 'Elder', 'Hazel']
		],
		['who came then', () => ({ joined: span(-5, -3) }), ['Alder']],
		['whose plan ended then', () => ({ ended: span(-3, null) }), ['Birch', 'Rowan']],
		['whose plan ended until then', () => ({ ended: span(null, -1.5) }), ['Birch']],
		['whose plan of this name ended', () => ({ planId: patronId, ended: span(-30, 30) }), ['Rowan']]
	])('finds %s', async (_, ask, names) => {
		expect(await found(ask())).toEqual(names);
	});

	it('says of each what they hold, and until when', async () => {
		const rows = await memberRows(world.app.db, Object.values(ids), now());
		expect(rows.filter(({ renews }) => renews).map(({ name }) => name)).toEqual(['Wren']);
		const told = Object.fromEntries(
			rows.map(({ name, plans, labels, endsAt }) => [
				name,
				[plans, labels, endsAt && Math.round((endsAt - now()) / DAY)]
			])
		);
		expect(told).toMatchObject({
			Alder: [null, null, null],
			Birch: [null, null, -2],
			Cedar: ['Workshop', null, 5],
			Elder: ['Patron', null, null],
			Rowan: ['Workshop', null, null]
		});
	});

	it('counts by state as the totals beside it do', async () => {
		const members = await world.app.population.all();
		const totals = totalsOf(members.values(), new Set(), now());
		for (const state of MEMBER_STATES.filter((one) => one !== 'runs-out'))
			expect(await found({ state })).toHaveLength(totals[state]);
		expect(totals.all).toBe(7);
	});
});

describe('many at once', () => {
	it('are given a plan by the yes to what it would do, and those who hold it for as long are left as they are', async () => {
		const wish = { kind: 'give', planId: shop.planId, until: null } as const;
		const asked = rehearsed(await run(['Alder', 'Birch', 'Cedar', 'Rowan'], wish));
		expect(asked.rehearsal.result.members).toMatchObject({ 'gains-now': 2, 'gains-later': 1 });
		expect(await opens('Alder')).toBe('shut');
		const done = await run(['Alder', 'Birch', 'Cedar', 'Rowan'], wish, asked.rehearsal.id);
		expect(done).toEqual({ kind: 'saved', count: 3 });
		expect(await Promise.all(['Alder', 'Birch', 'Cedar', 'Rowan'].map(opens))).toEqual(Array(4).fill('open'));
		expect(await grantsOf(world.app.db, ids.Rowan ?? '')).toHaveLength(2);
		const notes = await world.app.db
			.select({ memberId: audit.memberId })
			.from(audit)
			.where(inArray(audit.memberId, [ids.Alder ?? '', ids.Birch ?? '', ids.Cedar ?? '']));
		expect(new Set(notes.map(({ memberId }) => memberId)).size).toBe(3);
		expect(await run(['Alder'], wish)).toEqual({ kind: 'saved', count: 0 });
	});

	it('lose one at once, with what is charged for it', async () => {
		const wish = { kind: 'end', planId: shop.planId } as const;
		const asked = rehearsed(await run(['Alder', 'Wren'], wish));
		expect(asked.paying).toBe(1);
		expect(asked.rehearsal.result.members['loses-now']).toBe(2);
		const [before] = await Promise.all(
			[ids.Wren ?? ''].map((id) => accountById(world.app.db, id).then((one) => one?.epoch ?? 0))
		);
		expect(await run(['Alder', 'Wren'], wish, asked.rehearsal.id)).toEqual({ kind: 'saved', count: 2 });
		expect([await opens('Alder'), await opens('Wren')]).toEqual(['shut', 'shut']);
		const [paid] = await agreementsOf(world.app.db, ids.Wren ?? '');
		expect(paid?.state).toBe('ended');
		expect((await accountById(world.app.db, ids.Wren ?? ''))?.epoch).toBeGreaterThan(before ?? 0);
	});

	it('are asked about where some have not shown that the mailbox is theirs, and these come in by mail', async () => {
		ids.Swift = (await buy(world, shop.slug, 'swift@mail.example')).memberId;
		const wish = { kind: 'give', planId: patronId, until: null } as const;
		const asked = rehearsed(await run(['Swift'], wish));
		expect(asked.rehearsal.result.effects).toEqual([]);
		expect(asked).toMatchObject({ paying: 0, unproved: 1 });
		const before = await accountById(world.app.db, ids.Swift);
		expect(await run(['Swift'], wish, asked.rehearsal.id)).toEqual({ kind: 'saved', count: 1 });
		expect((await accountById(world.app.db, ids.Swift))?.epoch).toBe((before?.epoch ?? 0) + 1);
		await world.stile.runner.runDue('mail');
		await world.stile.runner.runDue('sign-in');
		expect(world.mails.filter(({ to }) => to === 'swift@mail.example').at(-1)?.text).toMatch(/\/enter\//);
		// Those who were added by hand, and have paid nothing, lose nothing by it.
		expect(await run(['Hazel'], wish)).toMatchObject({ kind: 'saved' });
	});

	it.each([
		['to other members', ['Alder', 'Elder'], {}],
		['to another end', ['Alder'], { until: Date.parse('2030-01-01') }]
	])('are asked anew where the yes was to something else: %s', async (_, names, over) => {
		const wish = { kind: 'give', planId: shop.planId, until: null } as const;
		const asked = rehearsed(await run(['Alder'], wish));
		rehearsed(await run(names, { ...wish, ...over }, asked.rehearsal.id));
		rehearsed(await run(['Elder'], { ...wish, planId: shop.planId }, asked.rehearsal.id));
		expect(await opens('Alder')).toBe('shut');
	});

	it('are asked anew where one of them was given it meanwhile', async () => {
		const wish = { kind: 'give', planId: shop.planId, until: null } as const;
		const asked = rehearsed(await run(['Alder', 'Hazel'], wish));
		await give('Hazel', shop.planId, now(), null);
		rehearsed(await run(['Alder', 'Hazel'], wish, asked.rehearsal.id));
		expect(await opens('Alder')).toBe('shut');
	});

	it('are looked at anew where one changes between the looking and the writing', async () => {
		const wish = { kind: 'give', planId: shop.planId, until: null } as const;
		const asked = rehearsed(await run(['Alder', 'Elder'], wish));
		const held = holdAfter(world.app.db, /^begin|^start transaction/i, () =>
			give('Elder', shop.planId, now() - DAY, now() + 9 * DAY)
		);
		const done = await run(['Alder', 'Elder'], wish, asked.rehearsal.id);
		held.end();
		expect(held.wasMet()).toBe(true);
		rehearsed(done);
		expect(await opens('Alder')).toBe('shut');
	});

	it('finish, however many do it at once, and give it once', async () => {
		const wish = { kind: 'give', planId: shop.planId, until: null } as const;
		const asked = rehearsed(await run(['Alder'], wish));
		const done = await Promise.all(
			Array.from({ length: 12 }, () => runMany(world.app, null, [ids.Alder ?? ''], wish, asked.rehearsal.id))
		);
		expect(done.filter((one) => one.kind === 'saved' && one.count === 1)).toHaveLength(1);
		const running = (await grantsOf(world.app.db, ids.Alder ?? '')).filter(
			({ planId, until, revokedAt }) => planId === shop.planId && until === null && revokedAt === null
		);
		expect(running).toHaveLength(1);
		for (const { id } of running) await endGrant(world.app, null, id, '');
	});

	it.each([
		[
			'to a plan that is not there',
			{ kind: 'end', planId: '01a21006-0000-7000-8000-000000000000' },
			'unknown-plan'
		],
		['until a day that is over', { kind: 'give', planId: '', until: 1 }, 'ends-before-it-begins']
	] as const)('are refused %s', async (_, wish, code) => {
		const done = await run(['Alder'], { ...wish, planId: wish.planId || shop.planId });
		expect(done).toEqual({ kind: 'refused', code });
	});
});

describe('labels on members', () => {
	let labelId: string;

	it('are made once, however many make one of that name at once', async () => {
		const made = await Promise.all(
			['Bench crew', 'bench crew', 'Bench Crew'].flatMap((name) => [
				memberLabelOf(world.app, null, name),
				memberLabelOf(world.app, null, name)
			])
		);
		expect(new Set(made).size).toBe(1);
		labelId = made[0] ?? '';
	});

	it('are on no list of plans, and found by nobody who looks for a plan', async () => {
		await world.app.rights.refresh();
		expect((await planNames(world.app)).map(({ name }) => name)).not.toContain('Bench crew');
		expect((await planList(world.app)).plans.map(({ id }) => id)).not.toContain(labelId);
		expect(await findAnything(world.app.db, 'bench', ['plan'])).toEqual([]);
		expect((await deskNames(world.app)).labels[labelId]).toMatch(/bench crew/i);
	});

	it('open what a fence lets them into, and are rehearsed like any plan from then on', async () => {
		expect(await run(['Alder'], { kind: 'give', planId: labelId, until: null })).toEqual({
			kind: 'saved',
			count: 1
		});
		const events = await recentEvents(world.app.db, 50);
		expect(events.filter(({ after }) => JSON.stringify(after).includes(labelId))).toEqual([]);
		expect(await opens('Alder')).toBe('shut');
		const wish = {
			...FENCE,
			selector: { kind: 'items' as const, itemIds: [shop.itemId] },
			crossings: [holding(shop.planId), holding(labelId)]
		};
		const ask = { fenceId: shop.fenceId, revision: 1, wish };
		const saved = await agreeing((agreedTo) => saveFence(world.app, null, { ...ask, agreedTo }));
		expect(saved.kind).toBe('saved');
		expect(await opens('Alder')).toBe('open');
		const asked = rehearsed(await run(['Elder'], { kind: 'give', planId: labelId, until: null }));
		await run(['Elder'], { kind: 'give', planId: labelId, until: null }, asked.rehearsal.id);
		expect(await opens('Elder')).toBe('open');
		expect(await found({ labelId })).toEqual(['Alder', 'Elder']);
		// It is no plan, whatever it opens.
		expect(await found({ labelId, state: 'never' })).toEqual([]);
		expect(await countedLabels(world.app.db, now())).toEqual([
			{ id: labelId, name: expect.stringMatching(/bench crew/i) as string, members: 2 }
		]);
	});

	it('are called otherwise, but not like another', async () => {
		const otherId = await memberLabelOf(world.app, null, 'At the fair');
		expect(await renameMemberLabel(world.app, null, otherId, 'BENCH CREW')).toEqual({
			ok: false,
			code: 'taken'
		});
		expect(await renameMemberLabel(world.app, null, otherId, 'At the fair of 2026')).toEqual({ ok: true });
		expect(await renameMemberLabel(world.app, null, shop.planId, 'A plan')).toEqual({
			ok: false,
			code: 'unknown'
		});
		expect(await memberLabelOf(world.app, null, 'at the fair of 2026')).toBe(otherId);
		expect(await removeMemberLabel(world.app, null, otherId)).toEqual({ ok: true });
	});

	it('that are taken away while they are given are given to nobody', async () => {
		const passingId = await memberLabelOf(world.app, null, 'Passing');
		await world.app.rights.refresh();
		const held = holdAfter(world.app.db, /^begin|^start transaction/i, () =>
			removeMemberLabel(world.app, null, passingId)
		);
		const done = await runMany(
			world.app,
			null,
			[ids.Alder ?? ''],
			{ kind: 'give', planId: passingId, until: null },
			null
		);
		held.end();
		expect(done).toEqual({ kind: 'refused', code: 'unknown-plan' });
		const given = await grantsOf(world.app.db, ids.Alder ?? '');
		expect(given.filter(({ planId }) => planId === passingId)).toEqual([]);
	});

	it('that a fence lets in stay; others go, and nobody has them any more', async () => {
		await world.app.rights.refresh();
		expect(await removeMemberLabel(world.app, null, labelId)).toEqual({
			ok: false,
			code: 'let-in',
			fences: ['Wheel']
		});
		expect(await removeMemberLabel(world.app, null, shop.planId)).toMatchObject({ ok: false });
		const ask = {
			fenceId: shop.fenceId,
			revision: 2,
			wish: {
				...FENCE,
				selector: { kind: 'items' as const, itemIds: [shop.itemId] },
				crossings: [holding(shop.planId)]
			}
		};
		await agreeing((agreedTo) => saveFence(world.app, null, { ...ask, agreedTo }));
		await world.app.rights.refresh();
		expect(await removeMemberLabel(world.app, null, labelId)).toEqual({ ok: true });
		const left = (await grantsOf(world.app.db, ids.Alder ?? '')).filter(
			({ planId, revokedAt }) => planId === labelId && revokedAt === null
		);
		expect(left).toEqual([]);
		expect(await countedLabels(world.app.db, now())).toEqual([]);
	});
});

describe('codes', () => {
	const batch = (over: object) => ({
		...{ name: 'Fair', code: null, count: 3, does: { kind: 'opens' as const }, startsAt: null, endsAt: null },
		...{ usesPerCode: 1, ...over }
	});
	const made: Record<string, string> = {};
	const names = async (over: Partial<CodesAsk> = {}) => {
		const ask = { search: '', gives: null, state: null, order: '', page: 1, ...over };
		return (await codesPage(world.app, ask)).rows.map(({ name }) => name);
	};

	it('are found by name, by what they give and by whether they can be redeemed', async () => {
		for (const [name, over] of [
			['Fair', { does: { kind: 'gives', planId: shop.planId, days: null } }],
			['Bench night', { endsAt: now() - DAY, count: 5 }],
			['Spring', { startsAt: now() + DAY, endsAt: now() + 9 * DAY }]
		] as const) {
			const done = await makeBatch(world.app, null, batch({ name, ...over }));
			if (!done.ok) throw new Error(done.code);
			made[name] = done.batchId;
		}
		expect(await names({ order: 'name' })).toEqual(['Bench night', 'Fair', 'Spring']);
		expect(await names({ order: '-codes', search: 'N' })).toEqual(['Bench night', 'Spring']);
		expect(await names({ order: 'ends' })).toEqual(['Bench night', 'Spring', 'Fair']);
		expect(await names({ gives: shop.planId })).toEqual(['Fair']);
		expect(new Set(await names({ gives: 'none' }))).toEqual(new Set(['Bench night', 'Spring']));
		expect(await names({ state: 'over' })).toEqual(['Bench night']);
		expect(await names({ state: 'early' })).toEqual(['Spring']);
		const { totals } = await codesPage(world.app, {
			search: 'x',
			gives: null,
			state: null,
			order: '',
			page: 1
		});
		expect(totals).toEqual({
			codes: 11,
			uses: 0,
			states: { running: 1, early: 1, 'used-up': 0, over: 1 }
		});
	});

	it('end at once, and what was redeemed stays', async () => {
		const [fair] = await codesOf(world.app, made.Fair ?? '');
		const typed = (who: string, code = fair?.code ?? '') =>
			redeem(world.app, { memberId: ids[who] ?? '' }, code);
		expect(await typed('Alder')).toMatchObject({ ok: true });
		expect(await opens('Alder')).toBe('open');
		expect(await endBatches(world.app, null, Object.values(made), 'now')).toBe(2);
		expect(await opens('Alder')).toBe('open');
		const [, next] = await codesOf(world.app, made.Fair ?? '');
		expect(await typed('Birch', next?.code)).toEqual({ ok: false, code: 'over' });
		expect(await endBatches(world.app, null, Object.values(made), 'now')).toBe(0);
		expect(await endBatches(world.app, null, [made.Fair ?? ''], null)).toBe(1);
		expect(await typed('Birch', next?.code)).toMatchObject({ ok: true });
		const table = await codesOfBatches(world.app, [made.Fair ?? '', made.Spring ?? '']);
		expect(table.map(({ batch, uses }) => `${batch} ${uses}`)).toEqual([
			...['Fair 1', 'Fair 1', 'Fair 0', 'Spring 0', 'Spring 0', 'Spring 0']
		]);
		expect(await codesOfBatches(world.app, [])).toEqual([]);
	});
});
