/** `npm run shots`: one picture of each main view, from the running demo, into docs/screenshots/. */
import { existsSync, mkdirSync, readFileSync } from 'node:fs';
import process from 'node:process';
import { chromium } from '@playwright/test';
import { CHROMIUM } from './lib/browser.mjs';
import { main, Problem, step } from './lib/steps.mjs';

const FOLDER = process.env.SHOTS_FOLDER ?? 'docs/screenshots';
const ONLY = process.argv.slice(2);
const DESKTOP = { width: 1280, height: 800 };
const PHONE = { width: 360, height: 760 };

/** @typedef {import('@playwright/test').Page} Page */

const byName = (/** @type {string} */ name) => async (/** @type {Page} */ page) => {
	await page.getByRole('link', { name, exact: true }).first().click();
	await page.waitForLoadState('networkidle');
};

/** Who looks, at what, and what is done before the picture is taken. */
const VIEWS = [
	{ name: 'front', as: 'stranger', path: '/' },
	{ name: 'notice', as: 'stranger', sample: 'video' },
	{ name: 'notice-phone', as: 'stranger', sample: 'video', size: PHONE },
	{ name: 'checkout', as: 'stranger', path: '/checkout/apprentice' },
	{ name: 'video', as: 'member', sample: 'video', before: play },
	{ name: 'account', as: 'member', path: '/account' },
	{ name: 'lapsed', as: 'lapsed', sample: 'video' },
	{ name: 'desk-today', as: 'owner', path: '/desk' },
	{
		name: 'desk-library',
		as: 'owner',
		path: '/desk/library',
		before: byName('The escapement, slowly Published 1:15 1 fence')
	},
	{
		name: 'desk-plan',
		as: 'owner',
		path: '/desk/plans',
		before: (page) => page.locator('main li a').first().click()
	},
	{
		name: 'desk-fence',
		as: 'owner',
		path: '/desk/fences',
		before: (page) => page.locator('main li a').first().click()
	},
	{ name: 'desk-members', as: 'owner', path: '/desk/members' },
	{ name: 'desk-member-why', as: 'owner', path: '/desk/members?q=jasper', before: openWhy },
	{ name: 'desk-sales', as: 'owner', path: '/desk/sales' },
	{ name: 'desk-dark', as: 'owner', path: '/desk/settings', dark: true },
	{ name: 'desk-find', as: 'owner', path: '/desk', before: find }
];

await main(async () => {
	if (!existsSync('.stile/running.json'))
		throw new Problem('The demo does not run. Start it with "npm start", then run this again.');
	const running = JSON.parse(readFileSync('.stile/running.json', 'utf8'));
	mkdirSync(FOLDER, { recursive: true });
	const browser = await chromium.launch(CHROMIUM);
	try {
		await takeAll(browser, running);
	} finally {
		await browser.close();
	}
});

async function takeAll(browser, running) {
	/** @type {Map<string, Awaited<ReturnType<typeof browser.newContext>>>} */
	const contexts = new Map();
	for (const view of VIEWS.filter(({ name }) => ONLY.length === 0 || ONLY.includes(name))) {
		await step(view.name, async () => {
			const context = contexts.get(view.as) ?? (await signedIn(browser, running, view.as));
			contexts.set(view.as, context);
			const page = await context.newPage();
			await page.setViewportSize(view.size ?? DESKTOP);
			await page.emulateMedia({ colorScheme: view.dark ? 'dark' : 'light' });
			await page.goto(view.sample ? running.samples[view.sample] : running.front + view.path);
			await page.waitForLoadState('networkidle');
			await view.before?.(page);
			await page.waitForLoadState('networkidle');
			await page.waitForTimeout(300);
			await page.screenshot({ path: `${FOLDER}/${view.name}.png` });
			await page.close();
		});
	}
}

async function signedIn(browser, running, who) {
	const context = await browser.newContext({ locale: 'en-GB' });
	if (who === 'stranger') return context;
	const { email, password } = running.signIns[who];
	const page = await context.newPage();
	await page.goto(`${running.front}/sign-in`);
	await page.getByLabel('E-mail address').fill(email);
	await page.getByLabel('Password').fill(password);
	await page.getByRole('button', { name: 'Sign in', exact: true }).click();
	await page.waitForURL(/account|desk/);
	await page.close();
	return context;
}

async function play(page) {
	await page.getByRole('button', { name: 'Play' }).click();
	await page.waitForFunction(() => (document.querySelector('video')?.currentTime ?? 0) > 1.2);
}

async function openWhy(page) {
	await page.locator('tbody a').first().click();
	await page.getByRole('heading', { name: 'Plans' }).waitFor();
	await page.locator('main li button').nth(1).click();
}

async function find(page) {
	await page.keyboard.press('Control+k');
	await page.getByPlaceholder('A member, item, plan, order or fence').fill('pen');
	await page.getByText('/videos/pendulum').waitFor();
}
