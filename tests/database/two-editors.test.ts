/** Two people at the Desk at once: each change is kept or its maker is told, and nothing that came is lost. */
import { existsSync, mkdirSync, mkdtempSync, readdirSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { eq } from 'drizzle-orm';
import { fromPlain } from '$core/text/rich-text';
import { USUAL_WAY } from '$core/media/way';
import { itemById, selectItems, titles } from '$server/db/queries/items';
import { tagsOfItem } from '$server/db/queries/library';
import { planById } from '$server/db/queries/sales';
import { siteSettings } from '$server/db/queries/settings';
import { waysOfWatching } from '$server/db/schema/library';
import { createUploads } from '$server/http/uploads';
import { Inbox } from '$server/jobs/inbox';
import { inboxView } from '$server/usecases/library/inbox';
import { revisionOf } from '$server/revision';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { addMember } from '$server/usecases/accounts/run-members';
import { createItem, editItem, itemRevision, type ItemWish } from '$server/usecases/library/edit-item';
import { changeMany } from '$server/usecases/library/write-many';
import { editPlan, planRevision } from '$server/usecases/plans/save-plan';
import { wayRevision, saveDeterrents, saveWay } from '$server/usecases/running/save-media-settings';
import { saveSite, siteRevision } from '$server/usecases/running/save-site';
import { transact } from '$server/transact';
import { makeShop, makeWorld, PAGE, PLAN, type World, monthly } from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
beforeAll(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
});
afterAll(async () => world.end());
afterEach(() => vi.restoreAllMocks());

const make = async (over: Partial<ItemWish> = {}) => {
	const made = await createItem(world.app, null, { ...PAGE, ...over });
	if (made.kind !== 'saved') throw new Error(made.kind);
	return made.itemId;
};

describe('two who save the same', () => {
	it('settings in several forms at once: all are kept', async () => {
		const site = await siteSettings(world.app.db);
		await Promise.all([
			saveSite(world.app, null, 'site', { ...site, siteName: 'Fernhollow' }),
			saveSite(world.app, null, 'money', { ...site, statementName: 'FERNHOLLOW' }),
			saveSite(world.app, null, 'mail', { ...site, senderEmail: 'bench@fernhollow.example' }),
			saveDeterrents(world.app, null, { ...site.deterrents, embedSites: ['https://clock.example'] }),
			saveWay(world.app, null, { id: null, name: 'Slow', isDefault: false, way: USUAL_WAY })
		]);
		const now = await siteSettings(world.app.db);
		expect(now).toMatchObject({
			siteName: 'Fernhollow',
			statementName: 'FERNHOLLOW',
			senderEmail: 'bench@fernhollow.example',
			deterrents: { embedSites: ['https://clock.example'] }
		});
	});

	it('the settings of the site: the second sees what the first saved, and may save over it', async () => {
		const site = await siteSettings(world.app.db);
		const begun = siteRevision('site', site);
		const first = await saveSite(
			world.app,
			null,
			'site',
			{ ...site, siteName: 'First' },
			{ revision: begun }
		);
		const second = await saveSite(
			world.app,
			null,
			'site',
			{ ...site, siteName: 'Second' },
			{ revision: begun }
		);
		expect(first.kind).toBe('saved');
		if (second.kind !== 'changed') throw new Error(second.kind);
		expect(second.theirs.siteName).toBe('First');
		const over = siteRevision('site', second.theirs);
		const again = await saveSite(
			world.app,
			null,
			'site',
			{ ...site, siteName: 'Second' },
			{ revision: over }
		);
		expect(again.kind).toBe('saved');
		// Another part was changed meanwhile, or not: it is nothing to this one.
		await saveSite(world.app, null, 'money', { ...site, currency: 'CHF' });
		expect(siteRevision('site', await siteSettings(world.app.db))).toBe(
			siteRevision('site', { ...site, siteName: 'Second' })
		);
		expect((await siteSettings(world.app.db)).siteName).toBe('Second');
	});

	it('what protects films, and a way of watching', async () => {
		const { deterrents } = await siteSettings(world.app.db);
		const begun = revisionOf(deterrents);
		await saveDeterrents(world.app, null, { ...deterrents, tiesLinks: true }, { revision: begun });
		const second = { ...deterrents, embedSites: [] };
		expect(await saveDeterrents(world.app, null, second, { revision: begun })).toMatchObject({
			kind: 'changed',
			theirs: { tiesLinks: true }
		});
		const [way] = await world.app.db.select().from(waysOfWatching);
		const old = wayRevision(way!);
		await saveWay(world.app, null, { ...way!, name: 'First' }, old);
		expect(await saveWay(world.app, null, { ...way!, name: 'Second' }, old)).toMatchObject({
			kind: 'changed',
			theirs: { name: 'First' }
		});
	});

	it('an item: also where the second had a rehearsal in between', async () => {
		const id = await make({ title: 'Two editors' });
		const begun = itemRevision((await itemById(world.app.db, id))!, await tagsOfItem(world.app.db, id));
		const wish = { ...PAGE, address: '/two-editors' };
		expect(
			(
				await editItem(
					world.app,
					null,
					id,
					{ ...wish, title: 'First', text: fromPlain('Steel') },
					null,
					begun
				)
			).kind
		).toBe('saved');
		const second = await editItem(world.app, null, id, { ...wish, title: 'Second' }, null, begun);
		if (second.kind !== 'changed') throw new Error(second.kind);
		expect(second.theirs.title).toBe('First');
		expect(
			(await editItem(world.app, null, id, { ...wish, title: 'Second' }, null, second.revision)).kind
		).toBe('saved');
	});

	it('a plan', async () => {
		const begun = planRevision((await planById(world.app.db, shop.planId))!);
		const wish = { ...PLAN, terms: monthly(1300) };
		expect((await editPlan(world.app, null, shop.planId, wish, null, begun)).kind).toBe('saved');
		const second = await editPlan(
			world.app,
			null,
			shop.planId,
			{ ...wish, terms: monthly(900) },
			null,
			begun
		);
		if (second.kind !== 'changed') throw new Error(second.kind);
		expect(second.theirs.price.terms).toEqual(monthly(1300));
	});

	it('one address that is added twice at once', async () => {
		const add = () =>
			addMember(world.app, null, { email: 'twice@mail.example', name: '', planId: null, until: null });
		const added = await Promise.all([add(), add(), add()]);
		expect(added.filter(({ ok }) => ok)).toHaveLength(1);
	});
});

describe('many that are moved at once', () => {
	it('keep to the rules of homes like single ones', async () => {
		const shelf = await make({ kind: 'shelf', title: 'Outer' });
		const inner = await make({ kind: 'shelf', title: 'Inner', homeId: shelf });
		const page = await make({ title: 'A page' });
		const move = (ids: string[], homeId: string | null) =>
			agreeing((yes) => changeMany(world.app, null, ids, { homeId }, yes));
		expect(await move([shelf], inner)).toMatchObject({ code: 'home-within-itself', title: 'Outer' });
		expect(await move([inner, page], shelf)).toMatchObject({ code: 'wrong-home', title: 'A page' });
		expect(await move([inner], null)).toEqual({ kind: 'saved', count: 1 });
		expect((await itemById(world.app.db, inner))?.homeId).toBeNull();
	});
});

describe('a save whose last moment fails', () => {
	it('is said to be saved when only what comes after the commit fails', async () => {
		vi.spyOn(world.app.rights, 'refresh').mockRejectedValue(new Error('out of touch'));
		const done = await transact(world.app, null, async (work) => {
			work.contentChanged();
			return 'saved';
		});
		expect(done).toBe('saved');
	});
});

/** The database blinks: transactions fail for a while. */
function blink(): { end: () => void } {
	const spy = vi.spyOn(world.app.db, 'transaction').mockRejectedValue(new Error('the database is away'));
	return { end: () => spy.mockRestore() };
}

describe('a file whose last moment meets a database that blinks', () => {
	it('that was uploaded is received later, and by whom it came is known', async () => {
		const uploads = createUploads(world.app);
		const folder = join(world.app.settings.storageFolder, 'uploads');
		mkdirSync(folder, { recursive: true });
		const id = 'left-upload';
		writeFileSync(join(folder, id), 'words that came whole');
		const upload = {
			id,
			size: 21,
			offset: 0,
			metadata: { filename: 'left.txt', folder: 'From/Upload', actor: shop.itemId },
			creation_date: new Date().toISOString()
		};
		writeFileSync(join(folder, `${id}.json`), JSON.stringify(upload));
		// Whoever sent it is still receiving it.
		expect(await uploads.receiveLeft()).toBe(0);
		const old = new Date(Date.now() - 120_000);
		utimesSync(join(folder, id), old, old);
		const away = blink();
		expect(await uploads.receiveLeft()).toBe(0);
		away.end();
		expect(existsSync(join(folder, id))).toBe(true);
		utimesSync(join(folder, id), old, old);
		expect(await uploads.receiveLeft()).toBe(1);
		const [item] = await selectItems(world.app.db).where(eq(titles.plain, 'left'));
		expect(item).toMatchObject({ kind: 'file', state: 'draft' });
		expect(readdirSync(folder)).toEqual([]);
		expect(await uploads.receiveLeft()).toBe(0);
	});

	it('of the inbox goes back into it and is taken in later, in its folder', async () => {
		const folder = mkdtempSync(join(tmpdir(), 'stile-inbox-'));
		mkdirSync(join(folder, 'Wheels'));
		writeFileSync(join(folder, 'Wheels/inbox.txt'), 'words');
		const inbox = new Inbox(world.app, folder);
		const away = blink();
		await take(inbox, join(folder, 'Wheels/inbox.txt'));
		away.end();
		expect(await inboxView(folder)).toEqual({ waiting: ['Wheels/inbox.txt'], taking: 0, refused: [] });
		await take(inbox, join(folder, 'Wheels/inbox.txt'));
		expect(await inboxView(folder)).toEqual({ waiting: [], taking: 0, refused: [] });
		expect(await selectItems(world.app.db).where(eq(titles.plain, 'inbox'))).toHaveLength(1);
	});

	it('of the inbox is seen somewhere at every moment on its way to being refused', async () => {
		const folder = mkdtempSync(join(tmpdir(), 'stile-inbox-'));
		writeFileSync(join(folder, 'lies.pdf'), 'no pdf at all');
		const inbox = new Inbox(world.app, folder);
		let isTaken = false;
		const taken = take(inbox, join(folder, 'lies.pdf')).then(() => (isTaken = true));
		const seen: number[] = [];
		while (!isTaken) {
			const { waiting, taking, refused } = await inboxView(folder);
			seen.push(waiting.length + taking + refused.length);
		}
		await taken;
		expect(seen.length).toBeGreaterThan(1);
		expect(seen.filter((count) => count === 0)).toEqual([]);
		expect((await inboxView(folder)).refused.map(({ name }) => name)).toEqual(['lies.pdf']);
	});

	it('of the inbox that a process was cut off with is put back by the next', async () => {
		const folder = mkdtempSync(join(tmpdir(), 'stile-inbox-'));
		const taken = join(folder, '.taking/01a21006-2c70-7388-addc-26aebd2ef8ec/Wheels');
		mkdirSync(taken, { recursive: true });
		writeFileSync(join(taken, 'cut.txt'), 'words');
		const inbox = new Inbox(world.app, folder);
		const now = world.app.clock.wall();
		const clock = vi.spyOn(world.app.clock, 'wall').mockReturnValue(now);
		await look(inbox);
		expect((await inboxView(folder)).waiting).toEqual([]);
		clock.mockReturnValue(now + 6 * 60_000);
		await look(inbox);
		expect((await inboxView(folder)).waiting).toEqual(['Wheels/cut.txt']);
		expect(readdirSync(join(folder, '.taking'))).toEqual([]);
	});
});

/** One look, or one taking, without waiting for the timer. */
const look = (inbox: Inbox) => (inbox as unknown as { look(): Promise<void> }).look();
const take = (inbox: Inbox, path: string) =>
	(inbox as unknown as { take(path: string): Promise<void> }).take(path);
