/** The Library's list at the Desk: what is found, in which order, who gets in; and the news that it has changed. */
import { createServer, get, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fromPlain } from '$core/text/rich-text';
import { sessionCookie } from '$server/http/cookies';
import { createFront } from '$server/http/front';
import { beginSession } from '$server/people/sessions';
import { libraryIds, libraryWindow, type LibraryAsk } from '$server/reads/desk/library-rows';
import { transact } from '$server/transact';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { makeFirstOwner, offerOwnership } from '$server/usecases/accounts/first-owner';
import { createItem, type ItemWish } from '$server/usecases/library/edit-item';
import { changeMany } from '$server/usecases/library/write-many';
import { saveFence } from '$server/usecases/fences/save-fence';
import { buy, FENCE, holding, makeShop, makeWorld, PAGE, type World } from './world';

let world: World;
let planId: string;
const ids: Record<string, string> = {};
const ALL: LibraryAsk = {
	search: '',
	kind: null,
	state: null,
	categoryId: null,
	tagId: null,
	homeId: null,
	isUnfenced: false,
	order: 'place',
	isDescending: false,
	unfolded: new Set()
};

async function make(title: string, over: Partial<ItemWish> = {}): Promise<void> {
	const made = await agreeing(() => createItem(world.app, null, { ...PAGE, title, ...over }));
	if (made.kind !== 'saved') throw new Error(made.kind);
	ids[title] = made.itemId;
}
async function become(state: 'published' | 'archived', ...titles: string[]): Promise<void> {
	const done = await agreeing((agreedTo) =>
		changeMany(
			world.app,
			null,
			titles.map((title) => ids[title] ?? ''),
			{ state },
			agreedTo
		)
	);
	expect(done.kind).toBe('saved');
	await world.app.rights.refresh();
}
async function list(ask: Partial<LibraryAsk> = {}, from = 0, count = 100) {
	await world.app.rights.refresh();
	return libraryWindow(world.app, { ...ALL, ...ask }, from, count);
}
const titles = async (ask: Partial<LibraryAsk> = {}) => (await list(ask)).rows.map(({ title }) => title);

beforeAll(async () => {
	world = await makeWorld();
	planId = (await makeShop(world)).planId;
	await make('The Pendulum Clock', { kind: 'course', address: '/courses/pendulum' });
	const course = ids['The Pendulum Clock'] ?? null;
	await make('Taking apart', { kind: 'section', homeId: course });
	const section = ids['Taking apart'] ?? null;
	await make('Letting down the mainspring', {
		kind: 'lesson',
		homeId: section,
		base: 'closed',
		text: fromPlain('Hold the click with a screwdriver.')
	});
	await make('Öl für die Hemmung', { kind: 'lesson', homeId: section, base: 'closed' });
	await make('Old price list');
	await become(
		'published',
		'The Pendulum Clock',
		'Taking apart',
		'Letting down the mainspring',
		'Öl für die Hemmung',
		'Old price list'
	);
	await become('archived', 'Old price list');
	await make('Suppliers');
	const saved = await agreeing((agreedTo) =>
		saveFence(world.app, null, {
			fenceId: null,
			revision: 1,
			agreedTo,
			wish: {
				...FENCE,
				name: 'Lessons',
				selector: { kind: 'within', collectionId: section ?? '', withPage: false, extensions: [] },
				crossings: [
					{
						...holding(planId),
						window: { opens: { kind: 'after', count: 2, unit: 'week' }, closes: { kind: 'never' } }
					}
				]
			}
		})
	);
	expect(saved.kind).toBe('saved');
});
afterAll(() => world.end());

describe('rows of the Library', () => {
	it('leave out what is archived, and stand apart for it', async () => {
		expect(await titles()).toEqual(['Suppliers', 'The Pendulum Clock', 'Wheel']);
		expect(await titles({ state: 'archived' })).toEqual(['Old price list']);
		expect(await list()).toMatchObject({ things: 6, drafts: 1, total: 3, found: 3 });
	});

	it('unfold, and say how much is in each', async () => {
		const { rows } = await list({
			unfolded: new Set([ids['The Pendulum Clock'] ?? '', ids['Taking apart'] ?? ''])
		});
		expect(rows.map(({ title, depth, inside }) => [title, depth, inside])).toEqual([
			['Suppliers', 0, 0],
			['The Pendulum Clock', 0, 1],
			['Taking apart', 1, 2],
			['Letting down the mainspring', 2, 0],
			['Öl für die Hemmung', 2, 0],
			['Wheel', 0, 0]
		]);
	});

	it.each([
		['a beginning', 'mainsp'],
		['one letter too few', 'mainsprng'],
		['one letter too many', 'mainsprring'],
		['another letter', 'meinspring'],
		['another order of words', 'mainspring letting'],
		['a part of its address', '/letting'],
		['a word of its text', 'screwdriver']
	])('are found by %s', async (_, search) => {
		expect(await titles({ search })).toEqual([
			'The Pendulum Clock',
			'Taking apart',
			'Letting down the mainspring'
		]);
	});

	it('are found without case and accents, with the homes that lead there', async () => {
		const { rows, found } = await list({ search: 'OL FUR' });
		expect(rows.map(({ title, isFound }) => [title, isFound])).toEqual([
			['The Pendulum Clock', false],
			['Taking apart', false],
			['Öl für die Hemmung', true]
		]);
		expect(found).toBe(1);
	});

	it('are not found by two wrong letters, nor by a short word that is wrong', async () => {
		expect(await titles({ search: 'mxinsprxng' })).toEqual([]);
		expect(await titles({ search: 'xl' })).toEqual([]);
	});

	it('are narrowed by kind, state, home and fences', async () => {
		expect(await titles({ kind: 'video' })).toEqual(['Wheel']);
		expect(await titles({ state: 'draft' })).toEqual(['Suppliers']);
		expect(await titles({ homeId: ids['The Pendulum Clock'] ?? '' })).toEqual([
			'The Pendulum Clock',
			'Taking apart'
		]);
		expect(await titles({ isUnfenced: true })).not.toContain('Wheel');
	});

	it('say who gets in, of what is published', async () => {
		const { rows } = await list({ unfolded: new Set(Object.values(ids)) });
		const who = Object.fromEntries(rows.map((row) => [row.title, row.who]));
		expect(who.Wheel).toEqual({ kind: 'plans', plans: [{ planId, entry: { kind: 'open' } }] });
		expect(who['The Pendulum Clock']).toEqual({ kind: 'anyone' });
		expect(who.Suppliers).toBeNull();
		expect(who['Letting down the mainspring']).toMatchObject({
			plans: [{ planId, entry: { kind: 'later', isFromJoining: true } }]
		});
	});

	it('come in windows, and as ids of a stretch', async () => {
		const ask = { ...ALL, order: 'title' as const };
		const { rows, total } = await list(ask, 1, 1);
		expect([rows.map(({ title }) => title), total]).toEqual([['The Pendulum Clock'], 3]);
		expect(await libraryIds(world.app, ask, 1, 2)).toHaveLength(2);
		// The homes that only lead to what was found are not chosen with it.
		expect(await libraryIds(world.app, { ...ALL, search: 'mainspring' }, 0, 100)).toEqual([
			ids['Letting down the mainspring']
		]);
	});
});

describe('news of the Desk', () => {
	const servers: Server[] = [];
	afterAll(() => servers.forEach((server) => server.close()));

	async function served() {
		const front = createFront(world.stile);
		const server = createServer((req, res) => void front(req, res));
		servers.push(server);
		await new Promise<void>((resolve) => server.listen(4999, '127.0.0.1', resolve));
		return { front, port: (server.address() as AddressInfo).port };
	}
	const asked = (port: number, token: string | null) =>
		new Promise<IncomingMessage>((resolve, reject) => {
			const cookie = token === null ? '' : `${sessionCookie(world.app)}=${token}`;
			get({ port, host: '127.0.0.1', path: '/desk/news', headers: { cookie } }, resolve).on('error', reject);
		});
	const sessionOf = (memberId: string) =>
		transact(world.app, null, (work) => beginSession(work, memberId, 'password')).then(({ token }) => token);

	it('come to staff alone, say what has changed and nothing of it, and end with Stile', async () => {
		const { front, port } = await served();
		const token = await offerOwnership(world.app);
		const owner = await makeFirstOwner(world.app, {
			token: token ?? '',
			siteName: 'Fernhollow',
			name: 'Ottilie',
			email: 'ottilie@fernhollow.example',
			password: 'gear train of four',
			zone: 'Europe/Vienna',
			currency: 'EUR'
		});
		const { memberId } = await buy(world, 'workshop');
		for (const [who, session] of [
			['a stranger', null],
			['a member', await sessionOf(memberId)]
		] as const) {
			const refused = await asked(port, session);
			expect(refused.statusCode, who).toBe(403);
			refused.resume();
		}

		const heard = await asked(port, owner?.token ?? '');
		expect(heard.headers['content-type']).toBe('text/event-stream');
		let text = '';
		heard.setEncoding('utf8').on('data', (piece: string) => (text += piece));
		await make('Brass and steel by post');
		await world.app.rights.refresh();
		await expect.poll(() => text).toContain('event: library\n');
		expect(text).not.toContain('Brass');
		await buy(world, 'workshop', 'tamsin@mail.example');
		await world.app.rights.refresh();
		await expect.poll(() => text).toContain('event: members\n');
		expect(text).not.toContain('tamsin');

		const ended = new Promise((resolve) => heard.once('end', resolve));
		front.endWatches();
		await ended;
	});
});
