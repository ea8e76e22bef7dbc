/** Bringing in, preparing, playing, saving and embedding: by the publisher, members and strangers. */
import { connect as connectHttp2 } from 'node:http2';
import { copyFileSync, mkdirSync, readdirSync, readFileSync, utimesSync, writeFileSync } from 'node:fs';
import { get } from 'node:http';
import { join } from 'node:path';
import { PutObjectCommand, S3Client } from '@aws-sdk/client-s3';
import { expect, type BrowserContext, type Page } from '@playwright/test';
import { startNginx } from '../../scripts/lib/nginx.mjs';
import { start } from '../../scripts/lib/processes.mjs';
import {
	BUCKET,
	buyer,
	CARDS,
	ELSEWHERE,
	expectDark,
	files,
	FOLDER,
	FRONT,
	owner,
	play,
	SECRET_WORDS,
	select,
	test
} from './world';

test.describe.configure({ mode: 'serial' });

const FILE_BYTES = 40 * 1024 * 1024;
const INBOX = '.stile/test/inbox';
const CAPTIONS =
	'WEBVTT\n\n00:00.500 --> 00:20.000\nThe wheel turns\n\n00:20.000 --> 00:40.000\nThe pendulum waits\n';

/** Addresses of the film and the file that members are given. */
let streamAddress = '';
let fileAddress = '';
let filePage = '';
/** A member whose grant has ended. */
let lapsed: BrowserContext | null = null;

async function publish(page: Page): Promise<void> {
	await page.getByRole('button', { name: 'Publish', exact: true }).click();
	const yes = page.getByRole('button', { name: 'Do it', exact: true });
	await expect(yes.or(page.getByRole('button', { name: 'Take back to a draft' }))).toBeVisible();
	if (await yes.isVisible()) await yes.click();
	await expect(page.getByRole('button', { name: 'Take back to a draft' })).toBeVisible();
}

/** A fence on the item that is open at the Desk, for the plan Workshop or for anyone. */
async function fence(
	page: Page,
	crossing: 'Holders of a plan' | 'Anyone, strangers too',
	uses?: string
): Promise<void> {
	await page.getByRole('link', { name: 'Put a fence on it' }).click();
	await page.getByLabel('What it catches', { exact: true }).waitFor();
	await page.waitForLoadState('networkidle');
	await page.getByRole('button', { name: `+ ${crossing}` }).click();
	if (crossing === 'Holders of a plan')
		await page.getByRole('checkbox', { name: 'Workshop', exact: true }).check();
	if (uses) {
		await page.getByText('Limits', { exact: true }).click();
		await select(page.getByLabel('Uses').first(), 'at most');
		await page.getByLabel('How many uses').fill(uses);
	}
	await page.getByRole('button', { name: 'Put up the fence' }).click();
	const yes = page.getByRole('button', { name: 'Do it', exact: true });
	await expect(yes.or(page.getByText('As people find it'))).toBeVisible();
	if (await yes.isVisible()) await yes.click();
	await expect(page).toHaveURL(/\/desk\/fences\/[0-9a-f-]{36}/);
}

/** Finds by typing and chooses, with the keyboard alone. */
async function pick(page: Page, label: string, typed: string): Promise<void> {
	await page.getByLabel(label, { exact: true }).fill(typed);
	// What was found before anything was typed stands there for a moment.
	const found = page.getByRole('listbox').getByRole('option');
	await expect(found).toHaveCount(1);
	await expect(found).toContainText(typed);
	await page.keyboard.press('ArrowDown');
	await page.keyboard.press('Enter');
}

async function openItem(page: Page, title: RegExp): Promise<void> {
	await page.goto(`/desk/library?q=${title.source.replace(/\W+/g, ' ')}`);
	await page.getByRole('row').getByRole('link', { name: title }).first().click();
	await page.waitForURL(/\/desk\/library\/[0-9a-f-]{36}/);
	await page.waitForLoadState('networkidle');
}

test('an upload goes on after the connection was cut and the page was left', async ({ browser }) => {
	const page = await owner(browser);
	const path = join(FOLDER, 'wheel-cutting tables 振り子.bin');
	writeFileSync(path, Buffer.alloc(FILE_BYTES, 'wheel'));
	await page.goto('/desk/library');
	await page.waitForLoadState('networkidle');
	page.on('dialog', (dialog) => void dialog.accept());
	// A piece or two arrive, and then nothing more, however often it is tried.
	let isCut = false;
	let lost = 0;
	page.on('response', (response) => {
		if (response.request().method() === 'PATCH' && response.status() === 204) isCut = true;
	});
	await page.route('**/desk/uploads/*', (route) => {
		if (!isCut || route.request().method() !== 'PATCH') return route.continue();
		lost++;
		return route.abort();
	});
	await page.locator('input[type=file]').first().setInputFiles(path);
	await expect.poll(() => lost).toBeGreaterThan(0);
	// Cut until the page is left: a try in between would bring the rest.
	await page.reload();
	await page.unroute('**/desk/uploads/*');
	await page.waitForLoadState('networkidle');
	const offsets: number[] = [];
	page.on('request', (request) => {
		if (request.method() === 'PATCH') offsets.push(Number(request.headers()['upload-offset']));
	});
	await page.locator('input[type=file]').first().setInputFiles(path);
	await expect(page.getByText('Received.')).toBeVisible({ timeout: 30_000 });
	expect(Math.min(...offsets)).toBeGreaterThanOrEqual(8 * 1024 * 1024);
});

test('an upload that was left stands on Today, and goes on there from any device with its own file', async ({
	browser
}) => {
	const page = await owner(browser);
	const path = join(FOLDER, 'dial templates.bin');
	const another = join(FOLDER, 'another.bin');
	writeFileSync(path, Buffer.alloc(FILE_BYTES, 'dial'));
	writeFileSync(another, 'something else');
	await page.goto('/desk/library');
	await page.waitForLoadState('networkidle');
	page.on('dialog', (dialog) => void dialog.accept());
	const first = page.waitForResponse((answer) => answer.request().method() === 'PATCH');
	await page.route('**/desk/uploads/*', async (route) => {
		if (route.request().headers()['upload-offset'] === '0') return route.continue();
		return route.request().method() === 'PATCH' ? route.abort() : route.continue();
	});
	await page.locator('input[type=file]').first().setInputFiles(path);
	await first;
	await page.context().close();

	// What came in the last minute may be on its way in some window still.
	const { STILE_STORAGE = '' } = JSON.parse(process.env.STILE_E2E_SETTINGS ?? '{}') as Record<string, string>;
	const long = new Date(Date.now() - 3_600_000);
	const uploads = join(STILE_STORAGE, 'uploads');
	for (const name of readdirSync(uploads)) utimesSync(join(uploads, name), long, long);

	const other = await owner(browser);
	await other.goto('/desk');
	await other.waitForLoadState('networkidle');
	const left = other.getByRole('list', { name: 'Left unfinished' });
	await expect(left).toContainText('dial templates.bin');
	const offsets: number[] = [];
	other.on('request', (request) => {
		if (request.method() === 'PATCH') offsets.push(Number(request.headers()['upload-offset']));
	});
	const box = left.locator('input[type=file]');
	await box.setInputFiles(another);
	await expect(other.getByText(/This is another file/)).toBeVisible();
	await box.setInputFiles(path);
	await expect(other.getByText(/dial templates.bin is received|Received\./).first()).toBeVisible({
		timeout: 30_000
	});
	expect(Math.min(...offsets)).toBeGreaterThanOrEqual(8 * 1024 * 1024);
	await other.reload();
	await other.waitForLoadState('networkidle');
	await expect(left).toHaveCount(0);
});

test('a file is saved as often as the plan allows; the publisher gives more', async ({ browser }) => {
	const desk = await owner(browser);
	await openItem(desk, /Wheel cutting tables/);
	await publish(desk);
	const address = (await desk.getByRole('link', { name: 'See it on the front' }).getAttribute('href')) ?? '';
	filePage = address;
	await fence(desk, 'Holders of a plan', '2');
	const { page } = await buyer(browser, 'Hazel', CARDS.works);
	for (const used of ['0 of 2 used', '1 of 2 used']) {
		await page.goto(address);
		await expect(page.getByText(used)).toBeVisible();
		const [saved] = await Promise.all([
			page.waitForEvent('download'),
			page.getByRole('button', { name: 'Save the file' }).click()
		]);
		expect(saved.suggestedFilename()).toBe('wheel-cutting tables 振り子.bin');
		fileAddress = new URL(saved.url()).pathname;
		expect(readFileSync((await saved.path()) ?? '').length).toBe(FILE_BYTES);
	}
	await page.goto(address);
	await expect(page.getByText('2 of 2 used')).toBeVisible();
	await expect(page.getByRole('button', { name: 'Save the file' })).toBeDisabled();
	await desk.goto('/desk/members?q=hazel');
	await desk.getByRole('link', { name: 'Hazel' }).click();
	const row = desk.getByRole('listitem').filter({ hasText: '2 of 2 used' });
	await row.getByRole('textbox').fill('1');
	await row.getByRole('button', { name: 'Give them' }).click();
	await expect(desk.getByText('Given.')).toBeVisible();
	await page.reload();
	await expect(page.getByText('2 of 3 used')).toBeVisible();
});

test('captions and chapters are brought in, corrected and shown; the place is kept on any device', async ({
	browser
}) => {
	const desk = await owner(browser);
	await openItem(desk, /Truing a wheel/);
	await desk.getByRole('link', { name: 'Captions, chapters, player' }).click();
	await desk.waitForLoadState('networkidle');
	const add = desk.locator('form[action="?/captions"]');
	await add.getByLabel('Language').fill('en');
	await add.getByLabel('Called').fill('English');
	const input = add.getByLabel('A WebVTT or SubRip file');
	await input.setInputFiles({
		name: 'x.vtt',
		mimeType: 'text/vtt',
		buffer: Buffer.from('WEBVTT\n\n1 --> 2\nno')
	});
	await desk.getByRole('button', { name: 'Add captions' }).click();
	await expect(desk.getByText(/Line 3 should say when/)).toBeVisible();
	await input.setInputFiles({ name: 'en.vtt', mimeType: 'text/vtt', buffer: Buffer.from(CAPTIONS) });
	await add.getByLabel('Language').fill('en');
	await add.getByLabel('Called').fill('English');
	await desk.getByRole('button', { name: 'Add captions' }).click();
	await expect(desk.getByText('Saved: 2 captions in English.')).toBeVisible();
	await desk.getByText('English (en), 2 lines').click();
	await desk.getByLabel('Text, line 1').fill('The wheel runs true');
	await desk.getByRole('button', { name: 'Save English' }).click();
	await expect(desk.getByText('Saved.', { exact: true })).toBeVisible();
	await desk.getByPlaceholder('1:30 The escapement').fill('0:00 The wheel\n0:30 The pendulum');
	await desk.getByRole('button', { name: 'Save the chapters' }).click();
	await expect(desk.getByText('Saved: 2 chapters.')).toBeVisible();

	const { page, context } = await buyer(browser, 'Rowan', CARDS.works);
	await page.goto('/videos/wheel');
	await play(page);
	streamAddress = await page.evaluate(
		() =>
			performance.getEntriesByType('resource').find(({ name }) => name.endsWith('master.m3u8'))?.name ?? ''
	);
	await page.getByLabel('Captions', { exact: true }).selectOption({ label: 'English' });
	await expect
		.poll(() =>
			page.evaluate(
				() => (document.querySelector('video')?.textTracks[0]?.activeCues?.[0] as VTTCue | undefined)?.text
			)
		)
		.toBe('The wheel runs true');
	await page.getByLabel('Chapter').selectOption({ label: '0:30 The pendulum' });
	await expect
		.poll(() => page.evaluate(() => document.querySelector('video')?.currentTime ?? 0))
		.toBeGreaterThan(30);
	const kept = page.waitForResponse((response) => response.url().endsWith('/account/position'));
	await page.locator('.player').press(' ');
	await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
	await kept;
	const second = await context.newPage();
	await second.goto('/videos/wheel');
	await second.getByRole('button', { name: 'Go on' }).click();
	await expect
		.poll(() => second.evaluate(() => document.querySelector('video')?.currentTime ?? 0))
		.toBeGreaterThan(29);
	const stranger = await browser.newContext();
	const id = new URL(desk.url()).pathname.split('/').at(-2) ?? '';
	expect((await stranger.request.get(`/media/captions/${id}/en.vtt`)).status()).toBe(404);
	expect((await context.request.get(`/media/captions/${id}/en.vtt`)).status()).toBe(200);
});

test('every control of the player does its work while the film goes on', async ({ browser }) => {
	const { page } = await buyer(browser, 'Delphine', CARDS.works);
	await page.goto('/videos/wheel');
	// Pressed twice, it begins once.
	await page.getByRole('button', { name: 'Play' }).first().dblclick();
	const now = () => page.evaluate(() => document.querySelector('video')?.currentTime ?? 0);
	const goesOn = async () => {
		const from = await now();
		await expect.poll(now).toBeGreaterThan(from + 0.2);
	};
	const video = (name: 'muted' | 'volume' | 'playbackRate') =>
		page.evaluate((key) => document.querySelector('video')?.[key], name);
	await expect.poll(now).toBeGreaterThan(0.2);
	expect(
		await page.evaluate(
			() => performance.getEntriesByType('resource').filter(({ name }) => name.endsWith('master.m3u8')).length
		)
	).toBe(1);
	const mute = page.getByRole('button', { name: 'Mute' });
	await mute.click();
	await expect(mute).toHaveAttribute('aria-pressed', 'true');
	await goesOn();
	await mute.click();
	await expect(mute).toHaveAttribute('aria-pressed', 'false');
	await goesOn();
	await page.getByLabel('Volume').fill('0.5');
	expect(await video('volume')).toBe(0.5);
	await page.locator('.player').press('m');
	expect(await video('muted')).toBe(true);
	await goesOn();
	await page.getByLabel('Captions', { exact: true }).selectOption({ label: 'English' });
	await goesOn();
	await page.getByLabel('Place').fill('12');
	await expect.poll(now).toBeGreaterThan(12);
	await page.getByLabel('Speed').selectOption('2');
	expect(await video('playbackRate')).toBe(2);
	await page.getByRole('button', { name: 'Full screen' }).click();
	await expect(page.getByRole('button', { name: 'Leave full screen' })).toBeVisible();
	await goesOn();
	await page.getByRole('button', { name: 'Leave full screen' }).click();
	await page.getByRole('button', { name: 'Pause' }).click();
	await page.getByRole('button', { name: 'Play', exact: true }).click();
	await goesOn();
	// The speed is kept on this device; on a narrow page what is not always needed is folded.
	await page.setViewportSize({ width: 360, height: 760 });
	await page.reload();
	await expect(page.getByLabel('Speed')).toBeHidden();
	await page.getByRole('button', { name: 'Go on' }).click();
	await goesOn();
	expect(await video('playbackRate')).toBe(2);
	await page.getByRole('button', { name: 'More controls' }).click();
	await expect(page.getByLabel('Speed')).toHaveValue('2');
	await goesOn();
});

test('where nothing rests in sight, the controls go while the film plays, and come when somebody moves or presses', async ({
	browser
}) => {
	const desk = await owner(browser);
	const watch = async (way: string | RegExp) => {
		await openItem(desk, /Truing a wheel/);
		await desk.getByRole('link', { name: 'Captions, chapters, player' }).click();
		await desk.waitForLoadState('networkidle');
		await select(desk.getByLabel('Way of watching', { exact: true }), way);
		await desk
			.locator('form[action="?/playing"]')
			.getByRole('button', { name: /^(?:Save|Keep)/ })
			.click();
		await expect(desk.getByText(/^(?:Saved|Kept)/).first()).toBeVisible();
	};
	await watch('As in a hall');
	try {
		const { page } = await buyer(browser, 'Hollis', CARDS.works);
		await page.goto('/videos/wheel');
		await play(page);
		const player = page.locator('.player');
		const controls = player.locator('.controls');
		const shown = () => controls.evaluate((one) => Number(getComputedStyle(one).opacity));
		// At the usual speed alone, there is none to choose.
		await expect(page.getByLabel('Speed')).toHaveCount(0);
		await page.mouse.move(5, 5);
		await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
		await expect.poll(shown).toBe(0);
		await expect(player).toHaveCSS('cursor', 'none');
		const box = (await player.boundingBox())!;
		await page.mouse.move(box.x + 40, box.y + 40);
		await expect.poll(shown).toBe(1);
		await expect.poll(shown).toBe(0);
		await player.press('ArrowRight');
		await expect.poll(shown).toBe(1);
		await player.press(' ');
		await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
		// At rest they stay.
		await page.mouse.move(5, 5);
		await page.waitForTimeout(3500);
		expect(await shown()).toBe(1);
	} finally {
		await watch(/^the usual one/);
	}
});

test('a film goes dark within a second, and a client that does not help gets a bounded part of it', async ({
	browser
}) => {
	const { page, context } = await buyer(browser, 'Alder', CARDS.works);
	await page.goto('/videos/wheel');
	await play(page);
	const master = await page.evaluate(
		() =>
			performance.getEntriesByType('resource').find(({ name }) => name.endsWith('master.m3u8'))?.name ?? ''
	);
	// Keys as fast as they come, of a film of ten groups and no more: the burst of it is the whole film.
	const folder = master.replace('master.m3u8', 'v0');
	const statuses: number[] = [];
	for (let group = 0; group < 10; group++)
		statuses.push((await context.request.get(`${folder}/${group}.key`)).status());
	expect(statuses.every((status) => status === 200)).toBe(true);

	const desk = await owner(browser);
	await desk.goto('/desk/members?q=alder');
	await desk.getByRole('link', { name: 'Alder', exact: true }).click();
	await desk.getByRole('button', { name: 'End it' }).click();
	await expect(desk.getByRole('heading', { name: /^What ending .* for Alder would do$/ })).toBeVisible();
	await desk.getByLabel('Why? (for your own notes)').first().fill('Asked to');
	const began = Date.now();
	await desk.getByRole('button', { name: 'Do it', exact: true }).click();
	await expectDark(page);
	console.log(`the film went dark at most ${Date.now() - began} ms after the press`);
	for (const path of ['master.m3u8', 'v0/index.m3u8', 'v0/0.key', 'v0/0.m4s', 'watch'])
		expect((await context.request.get(master.replace('master.m3u8', path))).status(), path).toBe(403);
	lapsed = context;
});

test('an overlay stays in full screen, and other sites show a film only where they are listed', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/settings/media');
	await desk.waitForLoadState('networkidle');
	await desk.getByLabel('Hosts, one a line').fill('not a host');
	await desk
		.getByRole('button', { name: /^Keep it/ })
		.first()
		.click();
	await expect(desk.getByText(/is no site/).first()).toBeVisible();
	await desk.getByLabel('Hosts, one a line').fill(new URL(ELSEWHERE).host);
	await pick(desk, 'Countries', 'Antarct');
	await expect(desk.getByRole('button', { name: 'Leave out Antarctica' })).toBeVisible();
	await desk.getByLabel('Lay something over it').check();
	await desk
		.getByRole('button', { name: /^Keep it/ })
		.first()
		.click();
	await expect(desk.getByText(/come from Antarctica could open nothing of it/)).toBeVisible();
	await desk.getByRole('button', { name: 'Do it', exact: true }).click();
	await expect(desk.getByText('Saved. It counts from now on.')).toBeVisible();

	const { page } = await buyer(browser, 'Fern', CARDS.works);
	await page.goto('/videos/wheel');
	await play(page);
	await expect(page.locator('.overlay')).toHaveText('Fern');
	await page.getByRole('button', { name: 'Full screen' }).click();
	await expect
		.poll(() => page.evaluate(() => document.fullscreenElement?.className ?? ''))
		.toContain('player');
	await expect(page.locator('.overlay')).toBeVisible();
	await page.keyboard.press('Escape');

	await desk.goto('/desk/library');
	await desk.waitForLoadState('networkidle');
	await desk.locator('input[type=file]').first().setInputFiles(files().silent);
	await expect(desk.getByText('Received.')).toBeVisible();
	await openItem(desk, /Silent/);
	await expect(desk.getByText(/encrypted stream/)).toBeVisible({ timeout: 30_000 });
	await expect(desk.getByText('This video has no sound.')).toBeVisible();
	await publish(desk);
	await fence(desk, 'Anyone, strangers too');
	const film = (await (await browser.newContext()).request.get('/videos/silent')).url();
	expect(film).toContain('/videos/silent');
	await openItem(desk, /Silent/);
	const id = new URL(desk.url()).pathname.split('/').at(-1) ?? '';
	const visitor = await (await browser.newContext()).newPage();
	await visitor.goto(`${ELSEWHERE}/?film=${id}`);
	const frame = visitor.frameLocator('iframe');
	await frame.getByRole('button', { name: 'Play' }).first().click();
	await expect
		.poll(() => visitor.frames()[1]?.evaluate(() => document.querySelector('video')?.currentTime ?? 0))
		.toBeGreaterThan(0.5);
	// The same machine by a name that is not listed.
	const blocked: string[] = [];
	visitor.on('console', (message) => blocked.push(message.text()));
	await visitor.goto(`${ELSEWHERE.replace('127.0.0.1', 'localhost')}/?film=${id}`);
	await expect.poll(() => blocked.join()).toMatch(/frame-ancestors/);
	const refused = await visitor.request.get(
		(await visitor.request.get(`${FRONT}/embed/${id}`)).url().replace(`/embed/${id}`, '/videos/silent')
	);
	const master = /\/media\/stream\/[\w.-]+\/master\.m3u8/.exec(await refused.text())?.[0] ?? '';
	const ask = (referer: string) => visitor.request.get(FRONT + master, { headers: { referer } });
	expect((await ask('https://other.example/')).status()).toBe(403);
	expect((await ask(`${ELSEWHERE}/`)).status()).toBe(200);
});

test('what lies elsewhere comes in: by the inbox, the object store, a hidden address and a table', async ({
	browser
}) => {
	const desk = await owner(browser);
	mkdirSync(join(INBOX, 'Podcast'), { recursive: true });
	copyFileSync(files().sound, join(INBOX, 'Podcast/The Escapement Hour 1.mp3'));
	writeFileSync(join(INBOX, 'lies.pdf'), 'no pdf at all');
	await desk.goto('/desk/library/bring-in');
	await desk.waitForLoadState('networkidle');
	await expect(desk.getByText(/called \.pdf, but what is in it is words/)).toBeVisible({ timeout: 40_000 });
	await openItem(desk, /The Escapement Hour 1/);
	await expect(desk.getByText(/LUFS/)).toBeVisible({ timeout: 40_000 });
	await expect(desk.locator('input[name=home]').last()).toHaveValue(/[0-9a-f-]{36}/);

	await desk.goto('/desk/library/bring-in');
	await desk.waitForLoadState('networkidle');
	const outside = desk.getByLabel('Address of the file or recording');
	for (const [address, sentence] of [
		['ftp://x.example/a', 'Only http and https'],
		['http://127.0.0.1:1/x', 'is not a public address'],
		[`${ELSEWHERE}/private`, 'is not a public address']
	] as const) {
		await outside.fill(address);
		const answered = desk.waitForResponse((response) => response.url().includes('?/refer'));
		await desk.getByRole('button', { name: 'Bring it in', exact: true }).click();
		await answered;
		await expect(desk.getByText(sentence).first()).toBeVisible();
		await expect(outside).toHaveValue(address);
	}
	await outside.fill(`${ELSEWHERE}/sounds/tick.wav`);
	await desk.getByLabel('Title', { exact: true }).fill('A tick from elsewhere');
	await desk.getByRole('button', { name: 'Bring it in', exact: true }).click();
	await desk.getByRole('link', { name: 'Open it' }).click();
	await publish(desk);
	await fence(desk, 'Anyone, strangers too');
	const visitor = await (await browser.newContext()).newPage();
	await visitor.goto('/audio/a-tick-from-elsewhere');
	const source = (await visitor.locator('audio').getAttribute('src')) ?? '';
	const heard = await visitor.request.get(source, { headers: { range: 'bytes=0-3' } });
	expect([heard.status(), await heard.text()]).toEqual([206, 'RIFF']);
	expect(await visitor.content()).not.toContain(new URL(ELSEWHERE).port);

	await desk.goto('/desk/library/bring-in');
	await desk.waitForLoadState('networkidle');
	const table = (text: string) => ({ name: 'items.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
	await desk
		.getByLabel('A CSV file')
		.setInputFiles(table('title,address,kind,tags\nSuppliers,/suppliers,page,brass\n,/nowhere,,\n'));
	await desk.getByRole('button', { name: 'Try it, and write nothing' }).click();
	await expect(desk.getByText(/Line 3: Nothing has the address “\/nowhere”/)).toBeVisible();
	const toMend = desk.waitForEvent('download');
	await desk.getByRole('button', { name: 'The row to mend (CSV)' }).click();
	expect(
		readFileSync(await (await toMend).path(), 'utf8')
			.split('\r\n')
			.slice(0, 2)
	).toEqual([
		'title,address,kind,tags,what is wrong',
		expect.stringMatching(/^,\/nowhere,,,.*Nothing has the address/)
	]);
	// Columns that are called otherwise are said what they are.
	await desk
		.getByLabel('A CSV file')
		.setInputFiles(table('Heading,url,kind,tags\nSuppliers,/suppliers,page,brass\n'));
	await desk.getByRole('button', { name: 'Try it, and write nothing' }).click();
	await select(desk.getByRole('combobox', { name: '“Heading” is' }), 'title');
	await desk.getByRole('button', { name: 'Try it, and write nothing' }).click();
	await expect(desk.getByText('Nothing stands in the way.')).toBeVisible();
	await desk.getByRole('button', { name: 'Write this item' }).click();
	await expect(desk.getByText('One item was written.')).toBeVisible();
});

test('an object is looked for in its store and stays there; what is read breaks off with the store, and comes back with it', async ({
	browser
}) => {
	const settings = JSON.parse(process.env.STILE_E2E_SETTINGS ?? '{}') as Record<string, string>;
	const store = new S3Client({
		endpoint: settings.STILE_BUCKET_URL ?? '',
		region: 'us-east-1',
		credentials: {
			accessKeyId: settings.STILE_BUCKET_ACCESS_KEY ?? '',
			secretAccessKey: settings.STILE_BUCKET_SECRET_KEY ?? ''
		},
		forcePathStyle: true,
		requestChecksumCalculation: 'WHEN_REQUIRED'
	});
	const Bucket = settings.STILE_BUCKET_NAME;
	await store.send(
		new PutObjectCommand({ Bucket, Key: 'casts/bells/strike.bin', Body: Buffer.alloc(FILE_BYTES, 'strike') })
	);
	await store.send(new PutObjectCommand({ Bucket, Key: 'casts/lies.pdf', Body: 'no pdf at all' }));

	const desk = await owner(browser);
	await desk.goto('/desk/library/bring-in');
	await desk.getByRole('link', { name: 'casts' }).click();
	await desk.getByLabel('lies.pdf').check();
	await desk.getByRole('button', { name: 'Bring the chosen in' }).click();
	await expect(desk.getByText(/lies\.pdf: This file is called \.pdf/)).toBeVisible({ timeout: 30_000 });
	await desk.getByRole('link', { name: 'bells' }).click();
	await desk.waitForLoadState('networkidle');
	await desk.getByLabel('strike.bin').check();
	await desk.getByLabel(/Refer to them/).check();
	await desk.getByRole('button', { name: 'Bring the chosen in' }).click();
	await expect
		.poll(
			async () => {
				await desk.goto('/desk/library?q=strike');
				return desk.getByRole('link', { name: /Strike/ }).count();
			},
			{ timeout: 30_000 }
		)
		.toBeGreaterThan(0);
	await openItem(desk, /^Strike/);
	await publish(desk);
	const address = (await desk.getByRole('link', { name: 'See it on the front' }).getAttribute('href')) ?? '';
	await fence(desk, 'Holders of a plan');
	const { page } = await buyer(browser, 'Linden', CARDS.works);
	await page.goto(address);
	const [saved] = await Promise.all([
		page.waitForEvent('download'),
		page.getByRole('button', { name: 'Save the file' }).click()
	]);
	expect(readFileSync((await saved.path()) ?? '').length).toBe(FILE_BYTES);
	const link = saved.url();
	const from = Math.floor(FILE_BYTES / 2 / 6) * 6;
	const part = await page.request.get(link, { headers: { range: `bytes=${from}-${from + 5}` } });
	expect([part.status(), await part.text()]).toEqual([206, 'strike']);

	const broken = await new Promise<{ status: number; bytes: number; isWhole: boolean }>((resolve) => {
		get(link, (response) => {
			let bytes = 0;
			response.once('data', () => {
				// A slow reader: it stops for a while, and in that time the store goes.
				response.pause();
				void fetch(`${BUCKET}/gone`, { method: 'POST' }).then(() => response.resume());
			});
			response.on('data', (chunk: Buffer) => (bytes += chunk.length));
			response.on('error', () => {});
			response.on('close', () =>
				resolve({ status: response.statusCode ?? 0, bytes, isWhole: response.complete })
			);
		});
	});
	expect(broken).toMatchObject({ status: 200, isWhole: false });
	expect(broken.bytes).toBeLessThan(FILE_BYTES);
	expect((await page.request.get(link)).status()).toBe(503);
	await desk.goto('/desk/library/bring-in');
	await expect(desk.getByText('The object store does not answer.', { exact: false })).toBeVisible();
	await page.goto(address);
	await expect(page.getByRole('button', { name: 'Save the file' })).toBeVisible();
	await fetch(`${BUCKET}/back`, { method: 'POST' });
	const again = await page.request.get(link);
	expect([again.status(), (await again.body()).length]).toEqual([200, FILE_BYTES]);
});

test('not one byte goes to a stranger, to one who lapsed or to one with another plan, in whatever spelling', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/plans/new');
	await desk.waitForLoadState('networkidle');
	await desk.getByLabel('Name', { exact: true }).fill('Tables only');
	await desk.getByLabel('What you get').fill('No film');
	await desk.getByLabel('Amount').fill('3');
	await desk.getByRole('button', { name: 'Create the plan' }).click();
	await desk.waitForURL(/\/desk\/plans\/[0-9a-f-]{36}/);
	await openItem(desk, /Truing a wheel/);
	const filmId = new URL(desk.url()).pathname.split('/').at(-1) ?? '';

	const stream = new URL(streamAddress).pathname;
	const proof = stream.split('/')[3] ?? '';
	const paths = [
		stream,
		stream.replace('master.m3u8', 'v0/index.m3u8'),
		stream.replace('master.m3u8', 'v0/0.key'),
		stream.replace('master.m3u8', 'v0/0.m4s'),
		stream.replace('master.m3u8', 'a/0.m4s'),
		stream.replace('master.m3u8', 'v0/init.mp4'),
		stream.replace('master.m3u8', 'watch'),
		`/media/file/${proof}/x`,
		`/media/captions/${filmId}/en.vtt`,
		`/media/thumbs/${filmId}`,
		`/media/original/${filmId}`,
		`/originals/${filmId}`,
		`/desk/uploads/${filmId}`
	];
	const { context: other } = await buyer(browser, 'Sorrel', CARDS.works, 'tables-only');
	const askers = { stranger: await browser.newContext(), lapsed: lapsed ?? other, other };
	for (const [who, { request }] of Object.entries(askers)) {
		for (const path of paths) {
			for (const spelling of [
				path,
				path.replace('/media', '//media'),
				path.replace('/media', '/./media'),
				path.replace('/media', '/x/../media'),
				path.replace('stream', '%73tream').replace('file', '%66ile').replace('thumbs', 'thumb%73'),
				path.toUpperCase(),
				`${path}.`,
				`${path}/`,
				`${path}%00`,
				`${path}?x=1`,
				path.replace(proof, `${proof.slice(0, -2)}AA`)
			]) {
				const answer = await request.get(FRONT + spelling);
				expect(answer.status(), `${who}: ${spelling}`).toBeGreaterThanOrEqual(400);
			}
		}
		for (const path of ['/videos/wheel', '/videos/wheel/__data.json', `/embed/${filmId}`, '/VIDEOS/wheel/']) {
			const shown = await (await request.get(path)).text();
			expect(shown, `${who}: ${path}`).not.toMatch(new RegExp(`${SECRET_WORDS}|/media/stream/`));
		}
		const pressed = await request.post(`${filePage}?/download`, {
			headers: { origin: FRONT, accept: 'text/html' },
			form: {},
			maxRedirects: 0
		});
		expect([pressed.status(), pressed.headers().location], who).toEqual([403, undefined]);
	}
	// A link to a file is whoever's has it, for a day: a changed one is nobody's.
	const [, , , signed = ''] = fileAddress.split('/');
	const changed = fileAddress.replace(signed, `${signed.slice(0, -2)}AA`);
	expect((await askers.stranger.request.get(changed)).status()).toBe(404);
});

test('a page shows a film of the Library, has words with links and a picture, and says to whom it opens more', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/library/new?kind=page');
	await desk.waitForLoadState('networkidle');
	await desk.getByLabel('Title').fill('Bench notes');
	await desk.getByRole('textbox', { name: 'Text', exact: true }).fill('What we do on Fridays: ');
	await desk.getByRole('button', { name: 'Link', exact: true }).click();
	const address = desk.getByLabel('Link Text to an address');
	await address.fill('javascript:alert(1)');
	await desk.getByRole('button', { name: 'Set' }).click();
	await expect(desk.getByText('Write a path of this site, or an address')).toBeVisible();
	await pick(desk, 'Link Text to an item', 'Truing');
	await expect(desk.getByRole('textbox', { name: 'Text', exact: true })).toContainText('Truing a wheel');
	await desk.getByRole('button', { name: 'Make it' }).click();
	await desk.waitForURL(/\/desk\/library\/[0-9a-f-]{36}/);
	await desk.waitForLoadState('networkidle');

	await pick(desk, 'Show what an item of the Library shows', 'Truing');
	await expect(desk.getByText(/opens to more people than Truing a wheel: strangers/)).toBeVisible();
	await desk.getByRole('button', { name: 'Show it to them, too' }).click();
	await expect(desk.getByText('It is shown here, too.')).toBeVisible();
	await publish(desk);

	const visitor = await (await browser.newContext()).newPage();
	await visitor.goto('/bench-notes');
	await expect(visitor.getByRole('link', { name: 'Truing a wheel' })).toHaveAttribute(
		'href',
		'/videos/wheel'
	);
	await play(visitor);

	await desk.getByRole('button', { name: 'Show nothing here' }).click();
	await expect(desk.getByText(/Nothing is shown here any more/)).toBeVisible();
	await expect(visitor.getByText('The publisher has changed what is shown here.')).toBeVisible();
	expect(
		await visitor.evaluate(() => document.querySelector('video')?.getAttribute('src') ?? null)
	).toBeNull();
	const picture = Buffer.from(
		'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
		'base64'
	);
	const cover = desk.getByRole('group', { name: 'A picture of your own' }).locator('input[type=file]');
	await cover.setInputFiles({ name: 'no.png', mimeType: 'image/png', buffer: Buffer.from('no picture') });
	await expect(desk.getByText('This cannot be read as a picture.', { exact: false })).toBeVisible();
	await cover.setInputFiles({ name: 'bench.png', mimeType: 'image/png', buffer: picture });
	await expect(desk.getByRole('button', { name: 'Take the own picture away' })).toBeVisible();
	await visitor.goto('/bench-notes');
	const shown = visitor.locator('main img');
	await expect.poll(() => shown.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBeGreaterThan(0);

	await openItem(desk, /Truing a wheel/);
	await desk.getByText('What depends on it').click();
	await expect(desk.getByRole('listitem').filter({ hasText: 'Bench notes links to it' })).toBeVisible();
});

/** Asks for all of these at once on one connection. @param host the one that Stile answers for */
async function overHttp2(origin: string, host: string, paths: string[]) {
	const session = connectHttp2(origin, { rejectUnauthorized: false });
	// What comes after everything was read is of no interest.
	session.on('error', () => {});
	try {
		const statuses = await Promise.all(
			paths.map(
				(path) =>
					new Promise<number>((resolve, reject) => {
						const stream = session.request({ ':authority': host, ':path': path });
						let status = 0;
						stream.on('response', (headers) => (status = Number(headers[':status'])));
						stream.on('end', () => resolve(status));
						stream.on('error', reject);
						stream.resume();
					})
			)
		);
		return { protocol: session.alpnProtocol, statuses };
	} finally {
		session.close();
	}
}

test('behind the web server that ships with it, Stile decides and the other sends', async ({ request }) => {
	const settings = JSON.parse(process.env.STILE_E2E_SETTINGS ?? '{}') as Record<string, string>;
	const front = 'http://127.0.0.1:4260';
	const node = start('Stile', process.execPath, ['server.mjs'], {
		env: {
			...settings,
			STILE_PORT: '4250',
			STILE_ORIGIN: front,
			STILE_REDIRECT_PREFIX: '/stile-bytes/',
			STILE_CLIENT_ADDRESS_HEADER: 'x-forwarded-for'
		},
		log: '.stile/test/logs/stile-behind.log'
	});
	const nginx = await startNginx({
		folder: '.stile/test',
		port: 4260,
		securePort: 4261,
		stilePort: 4250,
		storage: settings.STILE_STORAGE ?? ''
	});
	try {
		await expect
			.poll(() => request.get(`${front}/readyz`).then((r) => r.status()), { timeout: 30_000 })
			.toBe(200);
		const whole = await request.get(front + fileAddress);
		expect(whole.status()).toBe(200);
		expect((await whole.body()).length).toBe(FILE_BYTES);
		expect(whole.headers()).toMatchObject({
			'x-content-type-options': 'nosniff',
			'content-disposition': expect.stringContaining('attachment') as unknown as string,
			'content-security-policy': expect.stringContaining('sandbox') as unknown as string
		});
		const part = await request.get(front + fileAddress, { headers: { range: 'bytes=5-9' } });
		expect([part.status(), await part.text()]).toEqual([206, 'wheel']);
		const [, , , signed = ''] = fileAddress.split('/');
		expect(
			(await request.get(front + fileAddress.replace(signed, `${signed.slice(0, -2)}AA`))).status()
		).toBe(404);
		const assetId = (
			JSON.parse(Buffer.from(signed.split('.')[0] ?? '', 'base64url').toString()) as string[]
		)[3];
		// Where it lies is known now, and still nobody can ask for it.
		for (const path of [
			`/stile-bytes/originals/${assetId}`,
			`//stile-bytes/originals/${assetId}`,
			`/stile-bytes/`
		])
			expect((await request.get(front + path)).status(), path).toBe(404);
		expect((await request.get(front + new URL(streamAddress).pathname)).status()).toBe(401);
		// With a certificate, one connection carries all that a page needs.
		const { protocol, statuses } = await overHttp2('https://127.0.0.1:4261', '127.0.0.1:4260', [
			...Array.from({ length: 20 }, (_, n) => (n % 2 ? '/' : '/plans')),
			fileAddress
		]);
		expect(protocol).toBe('h2');
		expect(statuses).toEqual(Array.from({ length: 21 }, () => 200));
	} finally {
		await nginx.stop();
		await node.stop();
	}
});
