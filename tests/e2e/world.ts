/** The installation that the end-to-end tests run on: started empty by scripts/test.mjs. */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import {
	expect,
	test as base,
	type Browser,
	type BrowserContext,
	type Locator,
	type Page
} from '@playwright/test';

const env = (name: string) => process.env[name] ?? '';

export const FRONT = env('STILE_E2E_FRONT');
export const TILL = env('STILE_E2E_TILL');
export const POSTBOX = env('STILE_E2E_POSTBOX');
export const BUCKET = env('STILE_E2E_BUCKET');
export const ELSEWHERE = env('STILE_E2E_ELSEWHERE');
export const OWNER_URL = env('STILE_E2E_OWNER_URL');
export const FOLDER = '.stile/test/files';

export const OWNER = { email: 'ottilie@fernhollow.example', password: 'gear train of four' };
export const SECRET_WORDS = 'Let down the mainspring before anything else';

/** Files that are made once with ffmpeg, and files that are no videos. */
export function files() {
	mkdirSync(FOLDER, { recursive: true });
	const at = (name: string) => join(FOLDER, name);
	const make = (name: string, ...args: string[]) => {
		if (!existsSync(at(name))) execFileSync('ffmpeg', ['-v', 'error', '-y', ...args, at(name)]);
		return at(name);
	};
	const picture = ['-f', 'lavfi', '-i', 'testsrc2=size=320x180:rate=10:duration=60'];
	const tone = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=60'];
	writeFileSync(at('empty.mp4'), '');
	writeFileSync(at('notes.mp4'), 'These are only words, whatever the name says.\n'.repeat(50));
	const good = make(
		'wheel "truing" ../\u202Egpj.mp4'.replaceAll('/', '_'),
		...picture,
		...tone,
		'-pix_fmt',
		'yuv420p',
		'-shortest'
	);
	writeFileSync(at('cut.mp4'), readFileSync(good).subarray(0, 2000));
	return {
		good,
		cut: at('cut.mp4'),
		sound: make('The Escapement Hour 1.mp3', '-f', 'lavfi', '-i', 'sine=frequency=300:duration=8'),
		silent: make(
			'silent.mp4',
			'-f',
			'lavfi',
			'-i',
			'testsrc2=size=160x90:rate=5:duration=4',
			'-pix_fmt',
			'yuv420p'
		),
		empty: at('empty.mp4'),
		words: at('notes.mp4')
	};
}

export async function signIn(page: Page, who: { email: string; password: string }): Promise<void> {
	await page.goto('/sign-in');
	await page.getByLabel('E-mail address').fill(who.email);
	await page.getByLabel('Password').fill(who.password);
	await page.getByRole('button', { name: 'Sign in', exact: true }).click();
	await page.waitForURL(({ pathname }) => !pathname.startsWith('/sign-in'));
}

const desks: BrowserContext[] = [];

/** The Desk is closed after each test: one that stays open hears of every change, and asks for all it shows again. */
export const test = base.extend<{ closed: void }>({
	closed: [
		async ({ browser }, use) => {
			await use();
			if (browser.isConnected()) await Promise.all(desks.splice(0).map((desk) => desk.close()));
		},
		{ auto: true }
	]
});

let ownerCookies: Awaited<ReturnType<BrowserContext['storageState']>> | null = null;

/** The Desk, signed in as the owner: once for each run of a file. */
export async function owner(browser: Browser): Promise<Page> {
	const context = await browser.newContext(ownerCookies ? { storageState: ownerCookies } : {});
	desks.push(context);
	const page = await context.newPage();
	waitsForScripts(page);
	if (ownerCookies) await page.goto('/desk');
	else {
		await signIn(page, OWNER);
		ownerCookies = await context.storageState();
	}
	await page.waitForLoadState('networkidle');
	return page;
}

/** Until the scripts have run, keys do nothing, and what is chosen waits for them. */
export function waitsForScripts(page: Page): void {
	const goto = page.goto.bind(page);
	page.goto = async (url, options) => {
		const answer = await goto(url, options);
		if (url.startsWith('/desk') && options?.waitUntil !== 'commit')
			await page.waitForFunction(() => !('typedEarly' in window));
		return answer;
	};
}

/** Chooses by typing, with the keyboard. */
export async function choose(
	page: Page,
	label: string,
	typed: string,
	wanted: string | RegExp
): Promise<void> {
	await page.getByLabel(label, { exact: true }).fill(typed);
	await page.getByRole('option', { name: wanted }).first().waitFor();
	await page.getByRole('option', { name: wanted }).first().click();
}

/** Chooses one of those that a field of the Desk offers; where they are more than a few, by typing. */
export async function select(field: Locator, wanted: string | RegExp): Promise<void> {
	const isTyped = await field.evaluate((node) => node.tagName === 'INPUT');
	if (isTyped && typeof wanted === 'string') await field.fill(wanted);
	else await field.click();
	await field
		.page()
		.getByRole('option', typeof wanted === 'string' ? { name: wanted, exact: true } : { name: wanted })
		.click();
}

export const CARDS = {
	works: /Works, now and at every renewal/,
	declined: /Test card …0002: Declined/,
	failsOnRenewal: /Works now, declined/
};

/** From the checkout page to the Till, with one of its cards. */
export async function pay(page: Page, card: string | RegExp): Promise<void> {
	await page.getByRole('button', { name: /Go on to pay/ }).click();
	await page.waitForURL(`${TILL}/pay/**`);
	await page.getByLabel(card).check();
	await page.getByRole('button', { name: /^Pay/ }).click();
}

/** A new buyer on a device of their own, signed in by paying. */
export async function buyer(
	browser: Browser,
	name: string,
	card: string | RegExp,
	plan = 'workshop'
): Promise<{ page: Page; context: BrowserContext }> {
	const context = await browser.newContext();
	const page = await context.newPage();
	await page.goto(`/checkout/${plan}?next=/videos/wheel`);
	await page.getByLabel('E-mail address').fill(`${name.toLowerCase()}@mail.example`);
	await page.getByLabel('Your name').fill(name);
	await pay(page, card);
	await page.waitForURL('**/thanks/**');
	return { page, context };
}

export interface Mail {
	id: string;
	/** ISO 8601. */
	at: string;
	to: string;
	subject: string;
	text: string;
	html: string;
	/** The name of the key that it is signed with. */
	signedBy?: string;
}

/** @param since a moment in milliseconds: older mails do not count */
export async function mailTo(to: string, subject: RegExp, since = 0): Promise<Mail> {
	let found: Mail | undefined;
	await expect
		.poll(async () => {
			const mails = (await (
				await fetch(`${POSTBOX}/api/mails?to=${encodeURIComponent(to)}`)
			).json()) as Mail[];
			found = mails.find((mail) => subject.test(mail.subject) && Date.parse(mail.at) >= since);
			return found?.subject;
		})
		.toMatch(subject);
	if (!found) throw new Error('no mail');
	return found;
}

export async function play(page: Page): Promise<void> {
	await page.getByRole('button', { name: 'Play' }).first().click();
	await expect
		.poll(() => page.evaluate(() => document.querySelector('video')?.currentTime ?? 0))
		.toBeGreaterThan(1);
}

/** Every address under /media that a playing page fetches. */
export function watchMedia(page: Page): Set<string> {
	const seen = new Set<string>();
	page.on('request', (request) => {
		const { pathname } = new URL(request.url());
		if (pathname.startsWith('/media/')) seen.add(pathname);
	});
	return seen;
}

export async function moveClock(page: Page, days: number): Promise<void> {
	await page.goto('/desk/settings/clock');
	await page.getByLabel('Forward by how many days?').fill(String(days));
	await page.getByRole('button', { name: 'Move the clock' }).click();
	await expect(page.getByText(/fell due/)).toBeVisible({ timeout: 60_000 });
}

/** The player goes dark by itself: no source, no picture. */
export async function expectDark(page: Page): Promise<void> {
	await expect(page.locator('[data-state="ended-access"]')).toBeVisible({ timeout: 10_000 });
	expect(await page.evaluate(() => document.querySelector('video')?.getAttribute('src') ?? null)).toBeNull();
	expect(await page.evaluate(() => document.querySelector('video')?.readyState ?? 0)).toBe(0);
}
