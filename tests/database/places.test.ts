/** Places from where nothing can be opened: by network, by country, for the site and for single items. */
import { createServer, get, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { NO_DETERRENTS, type Deterrents, type OwnDeterrents } from '$core/media/deterrents';
import { tableGeography } from '$server/adapters/table-geography';
import { items } from '$server/db/schema/library';
import { createFront } from '$server/http/front';
import { decideIn, lookOf } from '$server/rights/look';
import { streamAddress } from '$server/http/media/streams';
import { shownItem } from '$server/rights/shown';
import { saveDeterrents } from '$server/usecases/running/save-media-settings';
import { savePlaying } from '$server/usecases/library/edit-media';
import { transact } from '$server/transact';
import { film, receivedFilm } from './films';
import { makeWorld, type World } from './world';

/** Addresses whose country does not change (from memory): name servers of a large network, and Europe’s registry. */
const IN_THE_US = '8.8.8.8';
const IN_THE_NETHERLANDS = '193.0.6.139';

let world: World;
let itemId: string;
const servers: Server[] = [];

beforeAll(async () => {
	world = await makeWorld();
	itemId = await receivedFilm(world, film(2, '160x90'));
	await world.stile.runner.runDue('media');
	await transact(world.app, null, async (work) => {
		await work.tx.update(items).set({ state: 'published', base: 'open' }).where(eq(items.id, itemId));
		work.policyChanged('test', { resources: [itemId] });
	});
});
afterAll(async () => {
	for (const server of servers) server.close();
	await world.end();
});
beforeEach(async () => {
	await own(null);
	await block({});
});

/** Each with the yes that it asks for; a yes to another change is none. */
async function agreed<T extends { kind: string; places?: { yes: string } }>(
	save: (agreedTo: string | null) => Promise<T>
): Promise<void> {
	const first = await save(null);
	if (first.kind !== 'asks') return;
	expect((await save('another')).kind).toBe('asks');
	expect((await save(first.places?.yes ?? '')).kind).toBe('saved');
}
const block = (over: Partial<Deterrents>) =>
	agreed((agreedTo) => saveDeterrents(world.app, null, { ...NO_DETERRENTS, ...over }, { agreedTo }));
const own = (deterrents: OwnDeterrents | null) =>
	agreed((agreedTo) =>
		savePlaying(world.app, null, itemId, { wayId: null, opensInBrowser: false, deterrents }, agreedTo)
	);

/** A front as behind a web server that names the client, and is believed only if it is trusted. */
async function front(trustedProxies: string[]): Promise<number> {
	const settings = { ...world.app.settings, clientHeader: 'x-forwarded-for', trustedProxies };
	const answer = createFront({ ...world.stile, app: { ...world.app, settings } });
	const server = createServer((req, res) => {
		req.headers.host = new URL(settings.origin).host;
		void Promise.resolve(answer(req, res)).then((hasAnswered) => hasAnswered || res.writeHead(404).end());
	});
	servers.push(server);
	await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
	return (server.address() as AddressInfo).port;
}

async function statusOf(port: number, path: string, hops: string): Promise<number> {
	return new Promise((resolve, reject) => {
		const headers = { 'x-forwarded-for': hops };
		get({ port, host: '127.0.0.1', path, headers, agent: false }, (response) => {
			response.resume();
			response.on('end', () => resolve(response.statusCode ?? 0));
		}).on('error', reject);
	});
}

async function verdictFrom(client: string): Promise<string> {
	return (await decideIn(world.app, await lookOf(world.app, null, null, client), itemId)).verdict;
}

/** The addresses under which a stranger is given the film. */
async function addresses(): Promise<string[]> {
	const look = await lookOf(world.app, null, null, null);
	const shown = await shownItem(world.app, itemId);
	const master =
		shown && (await streamAddress(world.app, look, await decideIn(world.app, look, itemId), shown));
	if (!master) throw new Error('there is no stream');
	return ['master.m3u8', 'v0/index.m3u8', 'v0/0.key', 'v0/0.m4s'].map((name) =>
		master.replace('master.m3u8', name)
	);
}

describe('the table of countries', () => {
	it.each([
		[IN_THE_US, 'US'],
		[IN_THE_NETHERLANDS, 'NL'],
		['2001:67c:2e8:22::c100:68b', 'NL'],
		['127.0.0.1', null],
		['10.1.2.3', null],
		['::1', null],
		['fe80::1', null],
		['::ffff:10.0.0.1', null]
	])('says that %s is in %s', (address, country) => {
		expect(tableGeography().countryOf(address)).toBe(country);
	});
});

describe('a blocked place', () => {
	it.each([
		['a network', { blockedNetworks: ['198.51.100.0/24'] }, '198.51.100.7', '198.51.101.7'],
		['an address', { blockedNetworks: ['203.0.113.9'] }, '203.0.113.9', '203.0.113.8'],
		['a network of IPv6', { blockedNetworks: ['2001:db8::/32'] }, '2001:db8:1::7', '2001:db9::7'],
		[
			'IPv4, reached by IPv6',
			{ blockedNetworks: ['198.51.100.0/24'] },
			'::ffff:198.51.100.7',
			'::ffff:198.51.101.7'
		],
		['a country', { blockedCountries: ['NL'] }, IN_THE_NETHERLANDS, IN_THE_US]
	])(
		'(%s) keeps pages, playlists, keys and segments shut, and its neighbour open',
		async (_name, site, inside, outside) => {
			await block(site);
			expect([await verdictFrom(inside), await verdictFrom(outside)]).toEqual(['kept-out', 'open']);
			const port = await front(['127.0.0.0/8']);
			for (const path of await addresses()) {
				expect(await statusOf(port, path, inside), path).toBe(403);
				expect(await statusOf(port, path, outside), path).toBe(200);
			}
		}
	);

	it('is not kept out where it is not known which country it is in', async () => {
		await block({ blockedCountries: ['NL'] });
		expect(await verdictFrom('10.0.0.1')).toBe('open');
	});

	it('of the site is open for an item with a list of its own, and the other way round', async () => {
		await block({ blockedCountries: ['NL'] });
		await own({ blockedCountries: [], blockedNetworks: [] });
		expect(await verdictFrom(IN_THE_NETHERLANDS)).toBe('open');
		await block({});
		await own({ blockedCountries: ['US'], blockedNetworks: [] });
		expect(await verdictFrom(IN_THE_US)).toBe('kept-out');
	});
});

describe('what a web server in front says of the client', () => {
	it('counts where the request came through one that is trusted, and nowhere else', async () => {
		await block({ blockedNetworks: ['198.51.100.0/24'] });
		const [master = ''] = await addresses();
		expect(await statusOf(await front(['127.0.0.1']), master, '198.51.100.7')).toBe(403);
		// Whoever speaks to Stile itself can write what they like: they are where they are.
		expect(await statusOf(await front(['192.0.2.1']), master, '198.51.100.7')).toBe(200);
	});

	it('is read from the right: what the client wrote before it says nothing', async () => {
		await block({ blockedNetworks: ['198.51.100.0/24'] });
		const port = await front(['127.0.0.0/8', '192.0.2.0/24']);
		const [master = ''] = await addresses();
		expect(await statusOf(port, master, '203.0.113.1, 198.51.100.7')).toBe(403);
		expect(await statusOf(port, master, '203.0.113.1, 198.51.100.7, 192.0.2.9')).toBe(403);
		expect(await statusOf(port, master, '198.51.100.7, 203.0.113.1')).toBe(200);
	});
});
