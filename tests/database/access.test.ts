import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { eq } from 'drizzle-orm';
import { changesNothing } from '$core/access/rehearse';
import type { Answer, TurnAway } from '$core/access/model';
import { fromPlain, type RichText } from '$core/text/rich-text';
import { itemById } from '$server/db/queries/items';
import { accountByEmail, grantsOf, keepFirstDay, population, tenuresOf } from '$server/db/queries/members';
import { allFences, fenceById, policyAt } from '$server/db/queries/policy';
import { audit } from '$server/db/schema/running';
import { redemptions, uses } from '$server/db/schema/access';
import { items, sites } from '$server/db/schema/library';
import { transact } from '$server/transact';
import { lookOf, otherSideLook, otherSidePrefix, otherSideToken, splitOtherSide } from '$server/rights/look';
import { listFor } from '$server/reads/front/lists';
import { agreeing, consentOf, rehearseChange, saveRehearsed } from '$server/usecases/access/rehearsed-save';
import { answerPair, checkAddress, membersOfItem } from '$server/reads/desk/check';
import { givePlanItems, takePlanItems } from '$server/usecases/access/give-plan-items';
import { savePlanOpens, type OpensWish } from '$server/usecases/access/plan-opens';
import { planPage } from '$server/reads/desk/plans';
import { createPlan } from '$server/usecases/plans/save-plan';
import { saveReleases } from '$server/usecases/access/save-releases';
import { changeFirstDay } from '$server/usecases/accounts/first-day';
import { addMember, endRehearsed, giveRehearsed } from '$server/usecases/accounts/run-members';
import { codesOf } from '$server/reads/desk/codes';
import { makeBatch } from '$server/usecases/codes/codes';
import { removeFence, saveFence, type FenceWish } from '$server/usecases/fences/save-fence';
import { dependentsOf } from '$server/usecases/library/dependents';
import { createItem, editItem, setState, type ItemWish } from '$server/usecases/library/edit-item';
import { makeLabel, removeLabel } from '$server/usecases/library/labels';
import { takeUse } from '$server/usecases/library/uses';
import { isApiKey, makeApiKey, revokeApiKey, allApiKeys } from '$server/usecases/running/api-keys';
import {
	buy,
	endGrant,
	FENCE,
	giveGrant,
	holding,
	makeShop,
	makeVideo,
	makeWorld,
	PAGE,
	passDays,
	PLAN,
	redeem,
	type World
} from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
let wren: string;

beforeAll(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	wren = (await buy(world, shop.slug)).memberId;
});
afterAll(async () => world.end());

const verdict = async (memberId: string | null, id = shop.itemId) =>
	(await world.app.rights.decide(memberId, id)).verdict;
const save = (wish: FenceWish, fenceId: string | null = null, revision = 1, agreedTo: string | null = null) =>
	saveFence(world.app, null, { fenceId, revision, wish, agreedTo });
const putUp = async (wish: FenceWish) => {
	const saved = await agreeing((agreedTo) => save(wish, null, 1, agreedTo));
	if (saved.kind !== 'saved') throw new Error(saved.kind);
	return saved.fenceId;
};
const takeDown = (fenceId: string) => agreeing((agreedTo) => removeFence(world.app, null, fenceId, agreedTo));
const make = async (over: Partial<ItemWish>) => {
	const made = await createItem(world.app, null, { ...PAGE, ...over });
	if (made.kind !== 'saved') throw new Error(made.kind === 'refused' ? made.code : made.kind);
	await agreeing((agreedTo) =>
		setState(world.app, null, made.itemId, { state: 'published', publishAt: null }, agreedTo)
	);
	return made.itemId;
};

describe('a save that moves access', () => {
	it('says first who would lose, saves nothing, and goes ahead on a yes', async () => {
		const fence = (await fenceById(world.app.db, shop.fenceId))!;
		const { id: _, createdAt: __, revision, ...wish } = fence;
		const asked = await save({ ...wish, crossings: [] }, shop.fenceId, revision);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		expect(asked.rehearsal.result.members['loses-now']).toBe(1);
		expect(await verdict(wren)).toBe('open');
		const saved = await save({ ...wish, crossings: [] }, shop.fenceId, revision, asked.rehearsal.id);
		expect(saved.kind).toBe('saved');
		expect(await verdict(wren)).toBe('shut');
		const back = await agreeing((agreedTo) => save({ ...wish }, shop.fenceId, revision + 1, agreedTo));
		expect(back.kind).toBe('saved');
		expect(await verdict(wren)).toBe('open');
	});

	it('asks again when something that it looked at has moved since, and not for what happens elsewhere', async () => {
		const fence = (await fenceById(world.app.db, shop.fenceId))!;
		const asked = await save({ ...fence, crossings: [] }, shop.fenceId, fence.revision);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		const elsewhere = await putUp({ ...FENCE, name: 'Far', selector: { kind: 'path', path: '/nowhere' } });
		await make({ title: 'Came in meanwhile' });
		const other = await putUp({
			...FENCE,
			name: 'Other',
			mode: 'adds',
			selector: { kind: 'items', itemIds: [shop.itemId] }
		});
		const again = await save({ ...fence, crossings: [] }, shop.fenceId, fence.revision, asked.rehearsal.id);
		if (again.kind !== 'rehearsed') throw new Error(again.kind);
		expect(await verdict(wren)).toBe('open');
		await takeDown(elsewhere);
		await takeDown(other);
	});

	it('saves at once what moves nobody', async () => {
		const fence = (await fenceById(world.app.db, shop.fenceId))!;
		expect((await save({ ...fence, name: 'Wheel, renamed' }, shop.fenceId, fence.revision)).kind).toBe(
			'saved'
		);
	});

	it('shows the second of two who save one fence what the first has saved', async () => {
		const fence = (await fenceById(world.app.db, shop.fenceId))!;
		expect((await save({ ...fence, name: 'First' }, shop.fenceId, fence.revision)).kind).toBe('saved');
		const second = await save({ ...fence, name: 'Second' }, shop.fenceId, fence.revision);
		expect(second).toMatchObject({
			kind: 'changed',
			theirs: { name: 'First', revision: fence.revision + 1 }
		});
	});

	it('ends when it is not waited for any more, without a trace', async () => {
		const gone = AbortSignal.abort();
		await expect(
			saveRehearsed(
				world.app,
				null,
				await consentOf(world.app, null),
				(source) => ({ ...source, fences: [] }),
				async () => {},
				{ signal: gone }
			)
		).rejects.toThrow();
		expect((await allFences(world.app.db)).length).toBeGreaterThan(0);
	});

	it('refuses circles and ways out that lead to closed pages', async () => {
		const page = await make({ title: 'Follows', address: '/follows' });
		const onPage = { kind: 'items' as const, itemIds: [page] };
		const follows = { ...holding(shop.planId), audience: { kind: 'may-open' as const, resourceId: page } };
		expect(await save({ ...FENCE, selector: onPage, crossings: [follows] })).toEqual({
			kind: 'refused',
			code: 'follows-itself'
		});
		const sent = (to: string): FenceWish => ({
			...FENCE,
			selector: onPage,
			turnAway: { answer: { kind: 'sent', to }, cases: {}, teaser: { kind: 'nothing' } }
		});
		expect(await save(sent('/videos/wheel'))).toEqual({ kind: 'refused', code: 'sent-to-closed' });
		expect(await save(sent('/follows'))).toEqual({ kind: 'refused', code: 'sent-in-a-circle' });
		expect((await save(sent('/sign-in'))).kind).toBe('rehearsed');
	});
});

describe('the Library', () => {
	it('keeps lessons in sections in courses, and refuses what cannot live there', async () => {
		const course = await make({ kind: 'course', title: 'Clock' });
		const section = await make({ kind: 'section', title: 'First', homeId: course });
		const lesson = await make({ kind: 'lesson', title: 'Plates', homeId: section, base: 'closed' });
		const policy = await world.app.rights.policy();
		expect(policy.homesOf(policy.resources.get(lesson)!)).toEqual([section, course]);
		expect(policy.resources.get(lesson)?.address).toBe('/courses/clock/plates');
		const wrong = (over: Partial<ItemWish>) => createItem(world.app, null, { ...PAGE, ...over });
		expect(await wrong({ kind: 'lesson', homeId: null })).toEqual({ kind: 'refused', code: 'needs-home' });
		expect(await wrong({ kind: 'episode', homeId: course })).toEqual({ kind: 'refused', code: 'wrong-home' });
		expect(await wrong({ address: '/categories/mine' })).toEqual({
			kind: 'refused',
			code: 'reserved-address'
		});
		const shelf = await make({ kind: 'shelf', title: 'Tables' });
		const inner = await make({ kind: 'shelf', title: 'Inner', homeId: shelf });
		const moved = await editItem(world.app, null, shelf, {
			...PAGE,
			kind: 'shelf',
			title: 'Tables',
			homeId: inner
		});
		expect(moved).toEqual({ kind: 'refused', code: 'home-within-itself' });
	});

	it('leaves what is on another site there, whatever is changed of it', async () => {
		const itemId = await make({ title: 'Elsewhere', address: '/elsewhere' });
		const siteId = '01a21006-2c70-7388-addc-26aebd2ef8ec';
		await transact(world.app, null, async (work) => {
			await work.tx.insert(sites).values({ id: siteId, name: 'School', origin: 'https://school.example' });
			await work.tx.update(items).set({ siteId }).where(eq(items.id, itemId));
			work.policyChanged('test', { resources: [itemId] });
		});
		const site = async () => (await world.app.rights.policy()).resourceAt('/elsewhere', siteId)?.state;
		expect(await site()).toBe('published');
		const wish = { state: 'archived' as const, publishAt: null };
		expect((await agreeing((yes) => setState(world.app, null, itemId, wish, yes))).kind).toBe('saved');
		expect(await site()).toBe('archived');
		const renamed = { ...PAGE, title: 'Renamed', address: '/elsewhere', base: 'closed' as const };
		expect((await agreeing((yes) => editItem(world.app, null, itemId, renamed, yes))).kind).toBe('saved');
		expect(await site()).toBe('archived');
		expect((await world.app.rights.policy()).resourceAt('/elsewhere')).toBeNull();
	});

	it('keeps a text as it was laid out, findable by its words, and an emptied one as none', async () => {
		const laidOut: RichText = [
			{ type: 'heading', content: [{ type: 'text', text: 'By post' }] },
			{ type: 'list', isOrdered: true, items: [[{ type: 'text', text: 'Brass', isBold: true }]] }
		];
		const id = await make({ title: 'Laid out', text: laidOut });
		expect(await itemById(world.app.db, id)).toMatchObject({
			description: 'By post\n\n· Brass',
			body: laidOut
		});
		const emptied = { ...PAGE, title: 'Laid out', text: [{ type: 'paragraph' as const, content: [] }] };
		await agreeing((agreedTo) => editItem(world.app, null, id, emptied, agreedTo));
		expect(await itemById(world.app.db, id)).toMatchObject({ description: '', body: [] });
	});

	it('names what leads to an item: texts and notices that link to it, in any spelling, and ways out', async () => {
		const wanted = await itemById(
			world.app.db,
			await make({ title: 'Brass & steel', address: '/brass & steel' })
		);
		if (!wanted) throw new Error('not made');
		const linkTo = (href: string): RichText => [
			{ type: 'list', isOrdered: false, items: [[{ type: 'text', text: 'here', href }]] }
		];
		const { origin } = world.app.settings;
		const linking = [
			await make({ title: 'By path', text: linkTo('/brass%20&%20steel#oil') }),
			await make({ title: 'By address', text: linkTo(`${origin}/brass%20%26%20steel/`) })
		];
		await make({ title: 'Longer', text: linkTo('/brass%20&%20steel/oil') });
		await make({ title: 'Another site', text: linkTo('https://elsewhere.example/brass%20&%20steel') });
		await make({ title: 'Only named', text: fromPlain('It is at /brass & steel') });
		const away = (answer: Answer): TurnAway => ({ answer, cases: {}, teaser: { kind: 'nothing' } });
		const nothing = { ...FENCE, selector: { kind: 'items' as const, itemIds: [] } };
		const notice = await putUp({
			...nothing,
			name: 'Says so',
			turnAway: away({ kind: 'notice', text: linkTo('/brass%20&%20steel') })
		});
		const found = await dependentsOf(world.app, wanted);
		expect(found.links.map(({ id }) => id).sort()).toEqual([...linking].sort());
		expect(found.sends).toEqual([{ id: notice, name: 'Says so' }]);
		await takeDown(notice);
	});

	it('asks before the front page closes, though no item stands there', async () => {
		const save = (agreedTo: string | null) =>
			saveFence(world.app, null, {
				fenceId: null,
				revision: 1,
				agreedTo,
				wish: { ...FENCE, name: 'Front', selector: { kind: 'path', path: '/' }, crossings: [] }
			});
		const asked = await save(null);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		expect(asked.rehearsal.result.outsiders).toMatchObject([
			{ who: { kind: 'stranger' }, kind: 'loses-now', placeIds: ['/'] }
		]);
		const saved = await save(asked.rehearsal.id);
		if (saved.kind !== 'saved') throw new Error(saved.kind);
		await takeDown(saved.fenceId);
	});

	it('follows a move into a fenced place, after a rehearsal', async () => {
		const shelf = await make({ kind: 'shelf', title: 'Closed shelf' });
		const page = await make({ title: 'Loose', kind: 'link', base: 'open', address: '/loose' });
		const closed = await putUp({
			...FENCE,
			name: 'Shelf',
			selector: { kind: 'within', collectionId: shelf, withPage: true, extensions: [] },
			crossings: [holding(shop.planId)]
		});
		const wish = { ...PAGE, kind: 'link' as const, title: 'Loose', address: '/loose', homeId: shelf };
		const asked = await editItem(world.app, null, page, wish);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		expect(asked.rehearsal.result.outsiders[0]).toMatchObject({
			who: { kind: 'stranger' },
			kind: 'loses-now',
			placeIds: [page]
		});
		await editItem(world.app, null, page, wish, asked.rehearsal.id);
		expect(await verdict(null, page)).toBe('shut');
		expect(await verdict(wren, page)).toBe('open');
		await takeDown(closed);
	});

	it('gives and takes many items to and from a plan by a fence that adds', async () => {
		const [a, b] = [await makeVideo(world.app, '/videos/a'), await makeVideo(world.app, '/videos/b')];
		await agreeing((agreedTo) => givePlanItems(world.app, null, shop.planId, [a, b], agreedTo));
		expect([await verdict(wren, a), await verdict(wren, b), await verdict(null, a)]).toEqual([
			'open',
			'open',
			'shut'
		]);
		await agreeing((agreedTo) => takePlanItems(world.app, null, shop.planId, [b], agreedTo));
		expect([await verdict(wren, a), await verdict(wren, b)]).toEqual(['open', 'shut']);
		expect(await takePlanItems(world.app, null, shop.planId, [b], null)).toMatchObject({
			code: 'nothing-to-take'
		});
	});

	it('lets a plan open what is chosen on its page, or everything, and takes that back', async () => {
		const planId = await createPlan(world.app, null, { ...PLAN, name: 'Patron' });
		const member = await addMember(world.app, null, {
			email: 'patron@mail.example',
			name: 'Patron',
			planId,
			until: null
		});
		if (!member.ok) throw new Error(member.code);
		const course = await make({ kind: 'course', title: 'Escapements' });
		const lesson = await make({ kind: 'lesson', title: 'Anchor', homeId: course });
		const film = await makeVideo(world.app, '/videos/patron');
		const opens = (wish: OpensWish) =>
			agreeing((agreedTo) => savePlanOpens(world.app, null, planId, wish, agreedTo));
		const chosen = async () => (await planPage(world.app, planId))?.chosen.map(({ id }) => id);
		const may = (id: string) => verdict(member.memberId, id);

		await opens({ kind: 'chosen', ids: [course, film] });
		expect(await chosen()).toEqual([course, film]);
		expect([await may(lesson), await may(film), await may(shop.itemId)]).toEqual(['open', 'open', 'shut']);
		expect([await verdict(null, lesson), await verdict(null, film)]).toEqual(['shut', 'shut']);
		// What comes into the course later is closed, and opened, too.
		const later = await make({ kind: 'lesson', title: 'Pallet', homeId: course });
		expect([await may(later), await verdict(null, later)]).toEqual(['open', 'shut']);

		const asked = await savePlanOpens(world.app, null, planId, { kind: 'chosen', ids: [film] }, null);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		expect(asked.rehearsal.result.members['loses-now']).toBe(1);
		expect(await chosen()).toEqual([course, film]);

		await opens({ kind: 'everything' });
		expect([await may(shop.itemId), await verdict(null)]).toEqual(['open', 'shut']);
		expect((await planPage(world.app, planId))?.opensEverything).toBe(true);
		await opens({ kind: 'chosen', ids: [] });
		expect((await planPage(world.app, planId))?.opensEverything).toBe(false);
		expect([await chosen(), await may(shop.itemId), await may(film)]).toEqual([[], 'shut', 'shut']);
		expect(await opens({ kind: 'chosen', ids: ['gone'] })).toEqual({ kind: 'refused', code: 'unknown-item' });
	});

	it('keeps what is left out, absent or a draft out of lists, whoever asks', async () => {
		const categoryId = await makeLabel(world.app, null, 'category', 'Secrets');
		const [shown, left, absent] = await Promise.all(
			['Shown', 'Left', 'Absent'].map((title) => make({ title, categoryId, base: 'closed' }))
		);
		await createItem(world.app, null, { ...PAGE, title: 'Draft', categoryId });
		const on = (id: string, over: Partial<FenceWish>) =>
			putUp({
				...FENCE,
				name: id,
				selector: { kind: 'items', itemIds: [id] },
				crossings: [holding(shop.planId)],
				...over
			});
		await on(left!, { listing: 'left-out' });
		await on(absent!, { turnAway: { answer: { kind: 'absent' }, cases: {}, teaser: { kind: 'nothing' } } });
		const titles = async (memberId: string | null) => {
			const standing = memberId ? await world.app.rights.standing(memberId) : null;
			const look = await lookOf(world.app, standing, null, '192.0.2.1');
			const isIn = (id: string) => look.policy.resources.get(id)?.categoryId === categoryId;
			return (await listFor(world.app, look, (item) => isIn(item.id))).map(({ title }) => title).sort();
		};
		expect(await titles(null)).toEqual(['Shown']);
		expect(await titles(wren)).toEqual(['Absent', 'Left', 'Shown']);
		expect(shown).toBeDefined();
		await agreeing((agreedTo) => removeLabel(world.app, null, 'category', categoryId, agreedTo));
		expect(await titles(wren)).toEqual([]);
	});
});

describe('releases', () => {
	it('open a lesson after its time, counted from the day first joined', async () => {
		const lesson = await makeVideo(world.app, '/videos/drip');
		await agreeing((agreedTo) => givePlanItems(world.app, null, shop.planId, [lesson], agreedTo));
		const window = {
			opens: { kind: 'after' as const, count: 2, unit: 'week' as const },
			closes: { kind: 'never' as const }
		};
		const wishes = [{ target: { kind: 'resource' as const, id: lesson }, window }];
		const asked = await saveReleases(world.app, null, shop.planId, wishes, null);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		expect(asked.rehearsal.result.members['loses-now']).toBe(1);
		await saveReleases(world.app, null, shop.planId, wishes, asked.rehearsal.id);
		expect(await verdict(wren, lesson)).toBe('opens-later');
		const wish = {
			memberId: wren,
			planId: shop.planId,
			at: world.app.clock.business() - 15 * 86_400_000
		};
		const day = await changeFirstDay(world.app, null, wish, null);
		if (day.kind !== 'rehearsed') throw new Error(day.kind);
		expect(day.effects).toMatchObject([{ kind: 'gains-now', placeIds: [lesson] }]);
		expect(await verdict(wren, lesson)).toBe('opens-later');
		// A yes to another day is none to this one.
		expect((await changeFirstDay(world.app, null, { ...wish, at: wish.at - 1 }, day.digest)).kind).toBe(
			'rehearsed'
		);
		expect(await changeFirstDay(world.app, null, wish, day.digest)).toEqual({ kind: 'saved' });
		expect(await verdict(wren, lesson)).toBe('open');
		// Later as well, and no later grant moves it: what would have been the first day does not count any more.
		const later = { ...wish, at: world.app.clock.business() - 1000 };
		const shuts = await changeFirstDay(world.app, null, later, null);
		if (shuts.kind !== 'rehearsed') throw new Error(shuts.kind);
		expect(shuts.effects).toMatchObject([{ kind: 'loses-now', backAt: later.at + 14 * 86_400_000 }]);
		expect(await changeFirstDay(world.app, null, later, shuts.digest)).toEqual({ kind: 'saved' });
		expect(await verdict(wren, lesson)).toBe('opens-later');
		await keepFirstDay(world.app.db, wren, shop.planId, later.at - 86_400_000);
		expect(await tenuresOf(world.app.db, wren)).toMatchObject([
			{ planId: shop.planId, firstJoinedAt: later.at, isSetByHand: true }
		]);
		await agreeing((agreedTo) =>
			saveReleases(world.app, null, shop.planId, [{ target: wishes[0]!.target, window: null }], agreedTo)
		);
	});
});

describe('codes', () => {
	const batch = {
		name: 'Fair',
		code: null,
		count: 3,
		does: { kind: 'opens' as const },
		startsAt: null,
		endsAt: null,
		usesPerCode: 1
	};

	it('open fences on a device nobody is signed in on, once each', async () => {
		const made = await makeBatch(world.app, null, batch);
		if (!made.ok) throw new Error(made.code);
		const [one] = await codesOf(world.app, made.batchId);
		const video = await makeVideo(world.app, '/videos/fair');
		await putUp({
			...FENCE,
			name: 'Fair',
			selector: { kind: 'items', itemIds: [video] },
			crossings: [{ ...holding(''), audience: { kind: 'code', batchId: made.batchId } }]
		});
		const device = 'd'.repeat(64);
		const open = async () =>
			(await world.app.rights.decideFor(await world.app.rights.stranger(device), video)).verdict;
		expect(await open()).toBe('shut');
		const spelled = one!.code.toLowerCase().replace(/^(...)/, '$1-');
		const taken = await Promise.all([
			redeem(world.app, { deviceHash: device }, spelled),
			redeem(world.app, { deviceHash: 'e'.repeat(64) }, spelled)
		]);
		expect(taken.filter(({ ok }) => ok)).toHaveLength(1);
		const winner = taken[0]!.ok ? device : 'e'.repeat(64);
		expect((await world.app.rights.decideFor(await world.app.rights.stranger(winner), video)).verdict).toBe(
			'open'
		);
		expect(await redeem(world.app, { deviceHash: winner }, spelled)).toMatchObject({ ok: true });
		expect(await world.app.db.select().from(redemptions)).toHaveLength(1);
	});

	it('give a plan for some days, and only to somebody', async () => {
		const made = await makeBatch(world.app, null, {
			...batch,
			code: 'fair-2026',
			does: { kind: 'gives', planId: shop.planId, days: 3 }
		});
		if (!made.ok) throw new Error(made.code);
		expect(await makeBatch(world.app, null, { ...batch, code: 'FAIR2026' })).toEqual({
			ok: false,
			code: 'taken'
		});
		expect(await redeem(world.app, { deviceHash: 'f'.repeat(64) }, 'FAIR 2026')).toMatchObject({
			code: 'needs-address'
		});
		const added = await addMember(world.app, null, {
			email: 'edda@mail.example',
			name: 'Edda',
			planId: null,
			until: null
		});
		if (!added.ok) throw new Error(added.code);
		expect(await redeem(world.app, { memberId: added.memberId }, 'FAIR 2026')).toMatchObject({
			ok: true
		});
		expect(await verdict(added.memberId)).toBe('open');
		const [given] = await grantsOf(world.app.db, added.memberId);
		expect(given).toMatchObject({ source: 'code' });
		expect(await redeem(world.app, { memberId: wren }, 'nothing')).toMatchObject({
			code: 'unknown'
		});
	});
});

describe('members run by hand', () => {
	it('are invited, given a plan with dates, and ended at once', async () => {
		const added = await addMember(world.app, null, {
			email: 'Bram@mail.example',
			name: '',
			planId: shop.planId,
			until: null
		});
		if (!added.ok) throw new Error(added.code);
		expect(await verdict(added.memberId)).toBe('open');
		expect(
			await addMember(world.app, null, { email: 'bram@mail.example', name: '', planId: null, until: null })
		).toEqual({ ok: false, code: 'taken' });
		const [first] = await grantsOf(world.app.db, added.memberId);
		expect(await endGrant(world.app, null, first!.id, 'asked')).toEqual({ ok: true });
		expect(await verdict(added.memberId)).toBe('shut');
		const now = world.app.clock.business();
		const later = {
			memberId: added.memberId,
			planId: shop.planId,
			from: now + 1000,
			until: now + 2000,
			why: ''
		};
		expect(await giveGrant(world.app, null, { ...later, until: now })).toMatchObject({
			code: 'ends-before-it-begins'
		});
		expect(await giveGrant(world.app, null, later)).toEqual({ ok: true });
		expect(await verdict(added.memberId)).toBe('opens-later');
	});

	it('are given a plan once somebody has said yes to just that, as the member is then', async () => {
		const added = await addMember(world.app, null, {
			email: 'odd@mail.example',
			name: 'Odd',
			planId: null,
			until: null
		});
		if (!added.ok) throw new Error(added.code);
		const { memberId } = added;
		const wish = { memberId, planId: shop.planId, from: null, until: null, why: '' };
		const give = (over: Partial<Parameters<typeof giveRehearsed>[2]>, agreedTo: string | null) =>
			giveRehearsed(world.app, null, { ...wish, ...over }, agreedTo);
		const asked = await give({}, null);
		if (asked.ok || asked.code !== 'rehearsed') throw new Error('not rehearsed');
		expect(asked.effects).toMatchObject([{ kind: 'gains-now' }]);
		expect(await verdict(memberId)).toBe('shut');
		// What does nothing needs no yes; a yes to this is none to another end.
		const other = await createPlan(world.app, null, { ...PLAN, name: 'Other' });
		expect(await give({ planId: other }, asked.digest)).toEqual({ ok: true });
		expect((await give({ until: world.app.clock.business() + 86_400_000 }, asked.digest)).ok).toBe(false);
		expect(await verdict(memberId)).toBe('shut');
		const [first, second] = await Promise.all([give({}, asked.digest), give({}, asked.digest)]);
		expect([first.ok, second.ok]).toEqual([true, true]);
		expect(await verdict(memberId)).toBe('open');
	});

	it('are given a plan from now on by a yes of a moment ago, though its releases count from a later moment then', async () => {
		const added = await addMember(world.app, null, {
			email: 'later@mail.example',
			name: 'Later',
			planId: null,
			until: null
		});
		if (!added.ok) throw new Error(added.code);
		const window = {
			opens: { kind: 'after' as const, count: 2, unit: 'week' as const },
			closes: { kind: 'never' as const }
		};
		const target = { kind: 'resource' as const, id: shop.itemId };
		const release = (changes: Parameters<typeof saveReleases>[3]) =>
			agreeing((yes) => saveReleases(world.app, null, shop.planId, changes, yes));
		await release([{ target, window }]);
		expect((await world.app.site()).releaseHour).toBeNull();
		const wish = { memberId: added.memberId, planId: shop.planId, from: null, until: null, why: '' };
		const asked = await giveRehearsed(world.app, null, wish, null);
		if (asked.ok || asked.code !== 'rehearsed') throw new Error('not rehearsed');
		expect(asked.effects.map(({ kind }) => kind)).toContain('gains-later');
		await new Promise((resolve) => setTimeout(resolve, 20));
		expect(await giveRehearsed(world.app, null, wish, asked.digest)).toEqual({ ok: true });
		await release([{ target, window: null }]);
	});

	it('lose a plan once somebody has said yes to just that, as the member is then', async () => {
		const { memberId } = await buy(world, shop.slug, 'rowan@mail.example');
		const now = world.app.clock.business();
		const [paid] = await grantsOf(world.app.db, memberId);
		const end = (grantId: string, agreedTo: string | null) =>
			endRehearsed(world.app, null, { memberId, grantId, why: '' }, agreedTo);
		const asked = await end(paid!.id, null);
		if (asked.ok || asked.code !== 'rehearsed') throw new Error('not rehearsed');
		expect(asked).toMatchObject({ pays: true, effects: [{ kind: 'loses-now' }] });
		expect(await verdict(memberId)).toBe('open');
		// Held by hand as well meanwhile, nothing is lost, and the yes was to something else.
		await giveGrant(world.app, null, { memberId, planId: shop.planId, from: now, until: null, why: '' });
		const again = await end(paid!.id, asked.digest);
		expect(again).toMatchObject({ code: 'rehearsed', effects: [], pays: true });
		if (again.ok || again.code !== 'rehearsed') throw new Error('not rehearsed');
		const ends = await Promise.all([1, 2, 3].map(() => end(paid!.id, again.digest)));
		expect(ends.filter(({ ok }) => ok)).toHaveLength(1);
		expect(ends.filter((one) => !one.ok && one.code === 'unknown')).toHaveLength(2);
		expect(await verdict(memberId)).toBe('open');
		const byHand = (await grantsOf(world.app.db, memberId)).find(({ source }) => source === 'hand');
		expect((await end(byHand!.id, again.digest)).ok).toBe(false);
		expect(await verdict(memberId)).toBe('open');
		expect(await end('01a21006-0000-7000-8000-000000000000', null)).toEqual({ ok: false, code: 'unknown' });
	});

	it('stop paying when the publisher ends what they pay for', async () => {
		const { memberId } = await buy(world, shop.slug, 'petra@mail.example');
		const [paid] = await grantsOf(world.app.db, memberId);
		await endGrant(world.app, null, paid!.id, 'asked');
		expect((await grantsOf(world.app.db, memberId))[0]).toMatchObject({ renews: false });
		const calls = world.processor.calls;
		await passDays(world, 40);
		expect(await verdict(memberId)).toBe('shut');
		// Wren's renewal, and nothing of Petra's.
		expect(world.processor.calls - calls).toBe(1);
	});
});

describe('limits', () => {
	it('take the last use once, however many ask at once', async () => {
		const page = await make({ title: 'Counted', base: 'closed' });
		const limits = {
			uses: { count: 1, per: 'grant' as const },
			minutes: 'none' as const,
			hours: 'none' as const
		};
		await putUp({
			...FENCE,
			name: 'Counted',
			selector: { kind: 'items', itemIds: [page] },
			crossings: [{ ...holding(shop.planId), limits }]
		});
		const taken = await Promise.all([1, 2, 3, 4].map(() => takeUse(world.app, wren, page)));
		expect(taken.every(({ ok }) => ok)).toBe(true);
		expect(await world.app.db.select().from(uses).where(eq(uses.itemId, page))).toHaveLength(1);
		expect(await verdict(wren, page)).toBe('open');
		await passDays(world, 2);
		expect(await verdict(wren, page)).toBe('used-up');
		expect(await takeUse(world.app, wren, page)).toEqual({ ok: false, code: 'closed' });
	});
});

describe('views of others and of other times', () => {
	it('look as somebody else for the one staff member who asked, and for nobody else', async () => {
		const given = otherSideToken(world.app, {
			as: { kind: 'holder', planId: shop.planId, days: 0 },
			at: null,
			rules: 'today',
			by: 'ottilie'
		});
		const { token, path } = splitOtherSide(`${otherSidePrefix(given)}/videos/wheel`);
		expect(path).toBe('/videos/wheel');
		expect((await otherSideLook(world.app, token!, 'ottilie'))?.viewer).toMatchObject({
			kind: 'member',
			id: ''
		});
		expect(await otherSideLook(world.app, token!, 'somebody else')).toBeNull();
		expect(await otherSideLook(world.app, `${token!.slice(0, -3)}abc`, 'ottilie')).toBeNull();
	});

	it('keep the rules of then', async () => {
		const before = world.app.clock.business();
		await passDays(world, 1);
		const fenceId = await putUp({ ...FENCE, name: 'Later', selector: { kind: 'path', path: '/later' } });
		expect((await policyAt(world.app.db, before)).source.fences.some(({ id }) => id === fenceId)).toBe(false);
		expect(
			(await policyAt(world.app.db, world.app.clock.business())).source.fences.some(
				({ id }) => id === fenceId
			)
		).toBe(true);
	});

	it('answer for all members of an item, for an address, and for a pair in one line', async () => {
		const policy = await world.app.rights.policy();
		const rows = await membersOfItem(world.app, policy, shop.itemId, world.app.clock.business());
		expect(rows.find(({ id }) => id === wren)?.verdict).toBe('open');
		expect(rows).toHaveLength((await population(world.app.db)).length);
		const stranger = { kind: 'stranger' as const, redemptions: [], grants: [] };
		expect(checkAddress(policy, stranger, 'http://clock.example//videos/wheel/', 0)).toMatchObject({
			ok: true,
			itemId: shop.itemId
		});
		expect(checkAddress(policy, stranger, '/sign-in', 0)).toEqual({ ok: false, code: 'never-fenced' });
		for (const line of ['wren wheel', 'wheel wren'])
			expect(await answerPair(world.app, line)).toMatchObject({
				member: { id: wren },
				explained: { decision: { verdict: 'open' } }
			});
		expect(await answerPair(world.app, 'wren')).toBeNull();
	});

	it('take an API key until it is revoked', async () => {
		const key = await makeApiKey(world.app, null, 'Our site');
		expect(await isApiKey(world.app, `Bearer ${key}`)).toBe(true);
		expect(await isApiKey(world.app, `Bearer ${key}x`)).toBe(false);
		await revokeApiKey(world.app, null, (await allApiKeys(world.app))[0]!.id);
		expect(await isApiKey(world.app, `Bearer ${key}`)).toBe(false);
	});

	it('rehearse nothing as nothing', async () => {
		expect(changesNothing(await rehearseChange(world.app, (source) => source))).toBe(true);
	});
});

it('writes down every change of access', async () => {
	const actions = new Set(
		(await world.app.db.select({ action: audit.action }).from(audit)).map((row) => row.action)
	);
	for (const action of [
		'saved-fence',
		'removed-fence',
		'saved-releases',
		'granted',
		'ended-grant',
		'redeemed-code',
		'set-first-day',
		'created-item'
	])
		expect(actions, action).toContain(action);
	expect(await accountByEmail(world.app.db, 'bram@mail.example')).not.toBeNull();
});
