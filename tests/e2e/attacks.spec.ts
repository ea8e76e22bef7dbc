/** After the others: what a stranger learns and can do by asking in ways that no page asks. */
import { connect } from 'node:net';
import { expect, type APIRequestContext, type APIResponse } from '@playwright/test';
import { FRONT, mailTo, owner, select, test } from './world';

const UNKNOWN_ID = '01a21006-2c70-7388-addc-26aebd2ef8ec';

/** An answer without what differs by nature: its date, the page's nonce and the tag made of both, and the address itself. */
async function seen(answer: APIResponse, address: string) {
	const plain = (text: string) =>
		text
			.replace(/nonce-[\w+/=]+|nonce="[^"]+"/g, 'nonce')
			.replaceAll(address, '/address')
			.replaceAll(encodeURIComponent(address), '%2Faddress');
	const headers = Object.fromEntries(
		Object.entries(answer.headers())
			.filter(([name]) => name !== 'date' && name !== 'etag')
			.map(([name, value]) => [name, plain(value)])
	);
	return { status: answer.status(), headers, body: plain(await answer.text()) };
}

type Ask = (request: APIRequestContext, address: string) => Promise<APIResponse>;

const FORM = { origin: FRONT, 'content-type': 'application/x-www-form-urlencoded' };
const WAYS: Record<string, Ask> = {
	GET: (request, address) => request.get(address),
	HEAD: (request, address) => request.head(address),
	'POST of the press for a file': (request, address) =>
		request.post(`${address}?/download`, { headers: FORM, data: '' }),
	'POST of an action that is not there': (request, address) =>
		request.post(`${address}?/other`, { headers: FORM, data: '' }),
	'POST without a name': (request, address) => request.post(address, { headers: FORM, data: '' }),
	'POST for data': (request, address) =>
		request.post(`${address}?/download`, {
			headers: { ...FORM, accept: 'application/json', 'x-sveltekit-action': 'true' },
			data: ''
		}),
	PUT: (request, address) => request.put(address, { headers: FORM }),
	PATCH: (request, address) => request.patch(address, { headers: FORM }),
	DELETE: (request, address) => request.delete(address, { headers: FORM }),
	OPTIONS: (request, address) => request.fetch(address, { method: 'OPTIONS' }),
	'data of the page': (request, address) => request.get(`${address}/__data.json`),
	'data of the page with a slash': (request, address) =>
		request.get(`${address}/__data.json?x-sveltekit-trailing-slash=1`),
	'data that was asked for ahead': (request, address) =>
		request.get(`${address}/__data.json`, { headers: { 'sec-purpose': 'prefetch' } })
};

test('a page that hides itself answers as one that does not exist, for every method', async ({ request }) => {
	for (const [name, ask] of Object.entries(WAYS)) {
		const hidden = await seen(await ask(request, '/hidden'), '/hidden');
		const missing = await seen(await ask(request, '/nobody'), '/nobody');
		expect(hidden, name).toEqual(missing);
	}
});

test('what is a draft answers as what does not exist, under each address that is made for items', async ({
	browser,
	request
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/library/new?kind=page');
	await desk.waitForLoadState('networkidle');
	await desk.getByLabel('Title').fill('Not ready');
	await desk.getByRole('button', { name: 'Make it' }).click();
	await expect(desk).toHaveURL(/\/desk\/library\/[0-9a-f-]{36}/);
	const id = new URL(desk.url()).pathname.split('/').at(-1) ?? '';
	for (const path of ['/embed/ID', '/media/poster/ID', '/media/thumbs/ID', '/media/captions/ID/en.vtt']) {
		const draft = await seen(await request.get(path.replace('ID', id)), id);
		const unknown = await seen(await request.get(path.replace('ID', UNKNOWN_ID)), UNKNOWN_ID);
		expect(draft, path).toEqual(unknown);
		expect(draft.status, path).toBe(404);
	}
	const map = await (await request.get('/sitemap.xml')).text();
	expect(map).not.toContain('not-ready');
	expect(map).not.toContain('/hidden');
});

test('headers stand on every answer, those of refusals too', async ({ request }) => {
	const answers: [string, APIResponse][] = [
		['a page', await request.get('/')],
		['no such page', await request.get('/nothing')],
		['another spelling', await request.get(`${FRONT}//nothing`, { maxRedirects: 0 })],
		['the Desk, refused', await request.get('/desk', { maxRedirects: 0 })],
		['bytes, refused', await request.get('/media/file/x/y')],
		['an address that cannot be read', await request.get('/%ff')],
		['data, refused', await request.post('/api/v1/decisions', { data: {} })],
		['a form of another site', await request.post('/sign-in', { headers: { origin: 'https://x.example' } })],
		['a view of the other side that is not theirs', await request.get('/other-side/x/')],
		['health', await request.get('/healthz')],
		['a script', await request.get('/favicon.svg')]
	];
	for (const [name, answer] of answers) {
		const headers = answer.headers();
		expect(headers['x-content-type-options'], name).toBe('nosniff');
		expect(headers['content-security-policy'], name).toContain("frame-ancestors 'none'");
		expect(headers['content-security-policy'], name).not.toMatch(/script-src[^;]*unsafe/);
		expect(headers['referrer-policy'], name).toBe('same-origin');
		expect(headers['permissions-policy'], name).toContain('camera=()');
	}
});

test('forms of fifty thousand fields are refused quickly, and others are served meanwhile', async ({
	request
}) => {
	const many = Array.from({ length: 50_000 }, (_, n) => `f${n}=1`).join('&');
	const fields = Array.from({ length: 5000 }, (_, n) => `f${n}=1`).join('&');
	const began = Date.now();
	const [tooLong, tooMany, page] = await Promise.all([
		request.post('/sign-in?/password', { headers: FORM, data: many }),
		request.post('/sign-in?/password', { headers: FORM, data: fields }),
		request.get('/plans')
	]);
	expect([tooLong.status(), tooMany.status(), page.status()]).toEqual([413, 413, 200]);
	console.log(`refused after ${Date.now() - began} ms`);
});

test('texts that are longer than the database keeps are refused with a sentence, and not by a fault', async ({
	request
}) => {
	const long = 'x'.repeat(5000);
	const cases: [string, string][] = [
		['/sign-in?/password', `email=${long}@mail.example&password=abc`],
		['/sign-in?/password', `email=a@mail.example&password=${long}`],
		[`/sign-in?/link&next=/${long}`, 'email=a@mail.example'],
		['/sign-in?/link', `email=a@${long}.example`],
		['/code', `code=${long}`],
		['/checkout/workshop', `email=a@mail.example&name=${long}`],
		[`/enter/${long.slice(0, 600)}?/press`, '']
	];
	for (const [path, data] of cases) {
		const answer = await request.post(path, { headers: FORM, data });
		expect(answer.status(), path.slice(0, 40)).toBeLessThan(500);
	}
});

test('a whole address as target is served, by its own host', async () => {
	const { host, hostname, port } = new URL(FRONT);
	const ask = (target: string, hostHeader: string) =>
		new Promise<string>((resolve, reject) => {
			const socket = connect(Number(port), hostname, () =>
				socket.write(`GET ${target} HTTP/1.1\r\nhost: ${hostHeader}\r\nconnection: close\r\n\r\n`)
			);
			let text = '';
			socket.on('data', (chunk) => (text += chunk));
			socket.on('end', () => resolve(text));
			socket.on('error', reject);
		});
	// RFC 9112 §3.2.2: the header's host is ignored where the target has one.
	expect(await ask(`http://${host}/healthz`, 'other.example')).toMatch(/^HTTP\/1.1 200/);
	expect(await ask(`http://${host}/plans`, 'other.example')).toMatch(/^HTTP\/1.1 200/);
	expect(await ask('http://other.example/plans', host)).toMatch(/^HTTP\/1.1 308/);
	expect(await ask('ftp://other.example/plans', host)).toMatch(/^HTTP\/1.1 400/);
});

test('checkout answers the same for an address with the plan, with an account, and with nothing', async ({
	playwright
}) => {
	const statuses = [];
	for (const email of ['wren@mail.example', 'edda@mail.example', 'nobody.at.all@mail.example']) {
		const device = await playwright.request.newContext({ baseURL: FRONT });
		await device.get('/checkout/workshop');
		const answer = await device.post('/checkout/workshop', {
			headers: { ...FORM, accept: 'text/html' },
			data: `email=${encodeURIComponent(email)}&name=Somebody&password=`,
			maxRedirects: 0
		});
		const location = new URL(answer.headers().location ?? FRONT);
		statuses.push([answer.status(), location.origin, location.pathname.split('/')[1]]);
		await device.dispose();
	}
	expect(new Set(statuses.map((one) => JSON.stringify(one))).size).toBe(1);
	expect(statuses[0]?.[0]).toBe(303);
});

test('pages are compressed; what is open to anyone may be shown again on the way back, and nothing else', async ({
	playwright
}) => {
	const stranger = await playwright.request.newContext({ baseURL: FRONT });
	const seen = async (path: string) => {
		const answer = await stranger.get(path, { headers: { 'accept-encoding': 'gzip' } });
		const { 'cache-control': cache, 'content-encoding': encoding, vary } = answer.headers();
		return { status: answer.status(), cache, encoding, vary };
	};
	expect(await seen('/')).toMatchObject({ status: 200, cache: 'private, no-cache', encoding: 'gzip' });
	expect((await seen('/')).vary).toMatch(/accept-encoding/i);
	for (const path of ['/videos/wheel', '/sign-in', '/account', '/nothing-here'])
		expect(await seen(path), path).toMatchObject({ cache: 'private, no-store' });
	await stranger.dispose();
});

test('a role opens what it says, and nothing beside it: pages, forms and what is found', async ({
	browser
}) => {
	const email = 'basil.ledger@mail.example';
	const desk = await owner(browser);
	await desk.goto('/desk/settings/staff');
	await desk.getByLabel('E-mail address').fill(email);
	await desk.getByLabel('Name', { exact: true }).fill('Basil Ledger');
	await select(desk.getByLabel('What they may do', { exact: true }), 'Bookkeeper');
	await desk.getByRole('button', { name: 'Send the invitation' }).click();
	await expect(desk.getByText(`A link is on its way to ${email}.`)).toBeVisible();

	const { text } = await mailTo(email, /You work at the Desk/);
	const context = await browser.newContext();
	const page = await context.newPage();
	await page.goto(/http\S+\/enter\/\S+/.exec(text)?.[0] ?? '');
	await page.getByRole('button', { name: 'Sign in and open' }).click();
	await page.waitForURL('**/desk');
	const areas = page.getByRole('navigation', { name: 'Areas' }).getByRole('link');
	await expect(areas).toHaveText(['Today', 'Sales', 'Insight']);
	await page.goto('/desk/sales');
	await page.locator('tbody').getByRole('link').first().click();
	await expect(page.getByRole('heading', { name: /^Order/ })).toBeVisible();
	await expect(page.getByRole('button', { name: 'Refund' })).toHaveCount(0);

	const form = { headers: FORM, data: 'why=' };
	const order = new URL(page.url()).pathname;
	for (const path of [
		'/desk/members',
		'/desk/library',
		'/desk/fences/new',
		'/desk/settings/staff',
		'/desk/check'
	])
		expect((await context.request.get(path)).status(), path).toBe(403);
	for (const path of [`${order}?/refund`, '/desk/settings/staff?/invite', '/desk/members?/add'])
		expect((await context.request.post(path, form)).status(), path).toBe(403);
	const upload = { origin: FRONT, 'tus-resumable': '1.0.0', 'upload-length': '10' };
	expect((await context.request.post('/desk/uploads', { headers: upload })).status()).toBe(403);
	const found = await context.request.get('/desk/find?q=wren');
	const kinds = ((await found.json()) as { kind: string }[]).map(({ kind }) => kind);
	expect(kinds.filter((kind) => kind !== 'Order')).toEqual([]);

	// Taken out, the Desk is shut at once.
	await desk.goto('/desk/settings/staff');
	const own = desk.getByRole('listitem').filter({ hasText: email });
	await own.getByRole('button', { name: 'Take out' }).click();
	await desk.getByRole('button', { name: 'Take out of the staff' }).click();
	await expect(desk.getByText('They are out of the staff.')).toBeVisible();
	await expect.poll(async () => (await context.request.get('/desk/sales')).status()).toBe(403);
	await context.close();
});
