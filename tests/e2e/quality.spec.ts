/** After the story: accessibility (WCAG 2.2 AA by axe-core), 360 px, no JavaScript, weight of the page, production's door. */
import { spawnSync } from 'node:child_process';
import { gzipSync } from 'node:zlib';
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { FRONT, mailTo, OWNER, owner, signIn } from './world';

async function problems(page: Page): Promise<string[]> {
	const { violations } = await new AxeBuilder({ page })
		// Nothing runs within: what it shows is looked at as a page of its own.
		.exclude('iframe[sandbox=""]')
		.withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
		.analyze();
	return violations.flatMap(({ id, nodes }) => nodes.map((node) => `${id}: ${node.html.slice(0, 120)}`));
}

const FRONT_VIEWS = [
	'/',
	'/plans',
	'/plans/workshop',
	'/videos/wheel',
	'/courses/pendulum',
	'/checkout/workshop',
	'/code',
	'/sign-in'
];
const DESK_VIEWS = [
	'/desk',
	'/desk/library',
	'/desk/library/new?kind=lesson',
	'/desk/library/labels',
	'/desk/fences',
	'/desk/releases',
	'/desk/check',
	'/desk/codes',
	'/desk/plans/new',
	'/desk/fences/new',
	'/desk/members',
	'/desk/sales',
	'/desk/settings',
	'/desk/settings/staff',
	'/desk/settings/media',
	'/desk/settings/mails?mail=order'
];

test('the front and the Desk have no accessibility faults, light and dark', async ({ browser, page }) => {
	// Many views, each looked at by every rule.
	test.setTimeout(240_000);
	const desk = await owner(browser);
	const found: string[] = [];
	for (const colorScheme of ['light', 'dark'] as const) {
		for (const [who, views] of [
			[page, FRONT_VIEWS],
			[desk, DESK_VIEWS]
		] as const) {
			await who.emulateMedia({ colorScheme });
			for (const view of views) {
				await who.goto(view);
				found.push(...(await problems(who)).map((problem) => `${colorScheme} ${view}: ${problem}`));
			}
		}
	}
	expect(found).toEqual([]);
});

test('filled forms, their messages and what opens over a page have no accessibility faults', async ({
	browser,
	page
}) => {
	test.setTimeout(120_000);
	const desk = await owner(browser);
	const found: string[] = [];
	const look = async (who: Page, what: string) => {
		found.push(...(await problems(who)).map((problem) => `${what}: ${problem}`));
	};
	const open = async (who: Page, path: string) => {
		await who.goto(path);
		await who.waitForLoadState('networkidle');
	};

	await open(page, '/checkout/workshop');
	await page.getByLabel('E-mail address').fill('no address');
	await page.getByRole('button', { name: /Go on to pay/ }).click();
	await expect(page.getByRole('alert')).toBeFocused();
	await expect(page).toHaveTitle(/^Not saved: /);
	await look(page, 'the checkout with messages');
	await open(page, '/sign-in');
	await page.getByRole('button', { name: 'Sign in', exact: true }).click();
	await expect(page.getByRole('alert')).toBeFocused();
	await look(page, 'signing in with messages');

	await open(desk, '/desk/fences/new');
	await desk.getByLabel('Name', { exact: true }).fill('Everything');
	await desk.getByLabel('What it catches', { exact: true }).selectOption('everything');
	await desk.getByRole('button', { name: '+ Holders of a plan' }).click();
	await desk.getByRole('button', { name: '+ Anyone' }).click();
	await look(desk, 'a fence with crossings');
	await open(desk, '/desk/settings/mails?mail=order');
	await desk.getByLabel('Subject').fill('{nobody}');
	await desk.getByRole('button', { name: 'Save', exact: true }).click();
	await expect(desk.getByRole('alert')).toContainText('There is no {nobody} in this mail');
	await look(desk, 'a mail with messages');
	await page.goto('about:blank');
	await page.setContent((await desk.locator('iframe').getAttribute('srcdoc')) ?? '');
	await expect(page.getByRole('link', { name: 'Open Workshop' })).toBeVisible();
	await look(page, 'a mail as it arrives');

	// So high that the rail at the foot lies over nothing.
	await desk.setViewportSize({ width: 1280, height: 3000 });
	await open(desk, '/desk/members');
	await desk.locator('main a[href^="/desk/members/"]').first().click();
	await desk.getByRole('button', { name: 'Delete this account' }).click();
	await expect(desk.getByRole('alertdialog')).toBeVisible();
	await look(desk, 'what a deletion would do');
	await desk.keyboard.press('Escape');
	await desk
		.getByRole('button', { name: /, why\?$/ })
		.first()
		.click();
	await expect(desk.getByLabel('Why', { exact: true })).toBeVisible();
	await look(desk, 'a why');
	await desk.keyboard.press('Escape');
	await desk.locator('body').press('?');
	await expect(desk.getByRole('dialog')).toContainText('Ctrl K');
	await look(desk, 'the keys');
	await desk.keyboard.press('Escape');
	await desk.keyboard.press('Control+k');
	await expect(desk.getByRole('dialog')).toBeVisible();
	await look(desk, 'the command field');
	expect(found).toEqual([]);
});

test('the front and mails speak the language of the site, and the Desk stays as it is', async ({
	browser,
	page
}) => {
	const desk = await owner(browser);
	const speak = async (language: string) => {
		await desk.goto('/desk/settings');
		await desk.waitForLoadState('networkidle');
		await desk.getByLabel('Language of the front and of mails').selectOption({ label: language });
		await desk.getByRole('button', { name: 'Save', exact: true }).first().click();
		await expect(desk.getByText('Saved.')).toBeVisible();
	};
	await speak('Deutsch');
	try {
		await page.goto('/sign-in');
		await expect(page.locator('html')).toHaveAttribute('lang', 'de');
		await page.waitForLoadState('networkidle');
		await page.getByRole('button', { name: 'Anmelden', exact: true }).click();
		await expect(page.getByRole('alert')).toContainText('Schreiben Sie Ihre E-Mail-Adresse');
		await page.getByLabel('E-Mail-Adresse').fill(OWNER.email);
		await page.getByRole('button', { name: 'Link per Mail schicken' }).click();
		await expect(page.getByRole('status')).toContainText('ist ein Link unterwegs');
		expect((await mailTo(OWNER.email, /Anmelden bei/)).text).toContain('Drücken Sie den Knopf');
		await page.goto('/videos/wheel');
		await expect(page.getByRole('heading', { name: 'Für Besucher ist das geschlossen' })).toBeVisible();
		await expect(page.getByText(/12,50\sEUR/).first()).toBeVisible();
		await page.goto('/no-such-page');
		await expect(page.getByText('Unter dieser Adresse gibt es keine Seite.')).toBeVisible();
		await expect(desk.locator('html')).toHaveAttribute('lang', 'en');
	} finally {
		await speak('English');
	}
});

test('the front fits on 360 px', async ({ page }) => {
	await page.setViewportSize({ width: 360, height: 760 });
	for (const view of FRONT_VIEWS) {
		await page.goto(view);
		expect(await page.evaluate(() => document.documentElement.scrollWidth), view).toBeLessThanOrEqual(360);
	}
});

test('reading, signing in and the way to pay work without JavaScript', async ({ browser }) => {
	const page = await (await browser.newContext({ javaScriptEnabled: false })).newPage();
	await page.goto('/videos/wheel');
	await page.getByRole('link', { name: 'Buy Workshop' }).click();
	await page.getByLabel('E-mail address').fill('plain@mail.example');
	await page.getByLabel('Your name').fill('Plain Page');
	await page.getByRole('button', { name: /Go on to pay/ }).click();
	await expect(page.getByRole('button', { name: /^Pay 12.50 EUR/ })).toBeVisible();
	await signIn(page, OWNER);
	await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();
});

test('what is typed before the scripts have come stays, and is kept with the form', async ({ browser }) => {
	const page = await owner(browser);
	let letThrough = () => {};
	const typed = new Promise<void>((resolve) => (letThrough = resolve));
	await page.route('**/_app/**/*.js', async (route) => {
		await typed;
		await route.continue();
	});
	await page.goto('/desk/library/new?kind=page', { waitUntil: 'commit' });
	await page.getByLabel('Title').fill('Typed before anything ran');
	letThrough();
	await page.waitForLoadState('networkidle');
	await expect(page.getByLabel('Title')).toHaveValue('Typed before anything ran');
	await page.getByRole('button', { name: 'Make it' }).click();
	await expect(page.getByRole('heading', { name: 'Typed before anything ran' })).toBeVisible();
});

test('the video page loads less than 150 KB of script, and the stream library only on play', async ({
	browser
}) => {
	const page = await owner(browser);
	const scripts = new Map<string, number>();
	page.on('response', async (response) => {
		if (response.url().endsWith('.js')) scripts.set(response.url(), gzipSync(await response.body()).length);
	});
	await page.goto('/videos/wheel', { waitUntil: 'networkidle' });
	const before = [...scripts.values()].reduce((sum, bytes) => sum + bytes, 0);
	expect(before).toBeGreaterThan(0);
	expect(before).toBeLessThan(150 * 1024);
	const known = scripts.size;
	await page.getByRole('button', { name: 'Play' }).first().click();
	await expect.poll(() => scripts.size).toBeGreaterThan(known);
});

test('the keyboard reaches everything that signing in needs', async ({ page }) => {
	await page.goto('/sign-in');
	await page.getByLabel('E-mail address').focus();
	await page.keyboard.type(OWNER.email);
	await page.keyboard.press('Tab');
	await page.keyboard.type(OWNER.password);
	await page.keyboard.press('Enter');
	await page.waitForURL('**/desk');
	await page.waitForLoadState('networkidle');
	await page.locator('body').press('?');
	await expect(page.getByRole('dialog')).toContainText('Ctrl K');
	await page.keyboard.press('Escape');
	await expect(page.getByRole('dialog')).toHaveCount(0);
});

test('health and readiness answer', async ({ request }) => {
	expect(await (await request.get('/healthz')).text()).toContain('ok');
	expect(await (await request.get('/readyz')).json()).toEqual({
		ready: true,
		database: 'ok',
		storage: 'ok',
		room: 'ok',
		migrations: 'ok'
	});
});

test('production refuses demo secrets and a movable clock, in sentences', () => {
	const { STILE_E2E_SETTINGS = '{}', ...rest } = process.env;
	const settings = JSON.parse(STILE_E2E_SETTINGS) as Record<string, string>;
	const env = { ...rest, ...settings, STILE_MODE: 'production', STILE_ORIGIN: FRONT, STILE_PORT: '0' };
	const { status, stderr } = spawnSync(process.execPath, ['server.mjs'], {
		env,
		encoding: 'utf8',
		timeout: 30_000
	});
	expect(status).toBe(1);
	expect(stderr).toContain('Stile did not start.');
	expect(stderr).toContain('demo key');
	expect(stderr).toContain('demo only');
});
