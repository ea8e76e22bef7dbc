/** `npm run shots`: one picture of each main view, from the running demo, into docs/screenshots/. */
import { mkdirSync } from 'node:fs';
import process from 'node:process';
import { chromium } from '@playwright/test';
import { CHROMIUM } from './lib/browser.mjs';
import { installDebianPackages, NEEDED_BY_TESTS } from './lib/packages.mjs';
import { runningDemo, signedIn } from './lib/signed-in.mjs';
import { main, step } from './lib/steps.mjs';

const FOLDER = process.env.SHOTS_FOLDER ?? 'docs/screenshots';
const ONLY = process.argv.slice(2);
const DESKTOP = { width: 1280, height: 800 };

/** @typedef {import('@playwright/test').Page} Page */

/** Chooses one of the few that a field offers. */
async function select(field, name) {
	await field.click();
	await field.page().getByRole('option', { name, exact: true }).click();
}

/** Follows the first link of that name. */
function link(name) {
	return async (/** @type {Page} */ page) => {
		await page.getByRole('link', { name }).first().click();
		await page.waitForLoadState('networkidle');
	};
}

async function openOutline(/** @type {Page} */ page) {
	await page.getByRole('link', { name: 'The Pendulum Clock from Strip to Strike' }).first().click();
	await page.getByRole('textbox', { name: 'Title, lesson' }).first().waitFor();
}

/** What a fence catches is worked out when it is shown. */
async function openFence(/** @type {Page} */ page) {
	await link(/Lessons of the pendulum clock/)(page);
	await page.getByText(/It catches \d+ items/).waitFor();
}

/** The lessons of a course, two of them chosen. */
async function unfoldCourse(/** @type {Page} */ page) {
	await page.getByRole('button', { name: /^Unfold The Pendulum Clock/ }).click();
	await page.getByRole('button', { name: 'Unfold Taking it apart' }).click();
	await page.getByRole('checkbox', { name: /^Choose Letting down/ }).click();
	await page.getByRole('checkbox', { name: /^Choose Between the plates/ }).click();
	await page.getByText('2 chosen').waitFor();
}

/** Who looks, at what, and what is done before the picture is taken. */
const VIEWS = [
	{ name: 'front', as: 'stranger', path: '/' },
	{ name: 'notice', as: 'stranger', sample: 'video' },
	{ name: 'checkout', as: 'stranger', path: '/checkout/apprentice' },
	{ name: 'video', as: 'member', sample: 'video', before: play },
	{ name: 'account', as: 'member', path: '/account' },
	{ name: 'course', as: 'stranger', sample: 'course' },
	{ name: 'desk-today', as: 'owner', path: '/desk' },
	{ name: 'desk-library', as: 'owner', path: '/desk/library', before: unfoldCourse },
	{ name: 'desk-outline', as: 'owner', path: '/desk/library?q=Strip+to+Strike', before: openOutline },
	{ name: 'desk-fence', as: 'owner', path: '/desk/fences', before: openFence },
	{ name: 'desk-rehearsal', as: 'owner', path: '/desk/fences', before: rehearse },
	{ name: 'desk-releases', as: 'owner', path: '/desk/releases?only=released', before: ofCourse },
	{ name: 'desk-members', as: 'owner', path: '/desk/members', before: chooseMembers },
	{ name: 'desk-member', as: 'owner', path: '/desk/members?q=quill', before: openWhy },
	{ name: 'desk-check', as: 'owner', path: '/desk/library?q=mainspring', before: checkItem },
	{ name: 'desk-other-side', as: 'owner', path: '/desk/library?q=mainspring', before: otherSide },
	{ name: 'desk-sales', as: 'owner', path: '/desk/sales/agreements', before: pauseSome },
	{ name: 'desk-mail', as: 'owner', path: '/desk/mail/words?mail=order' },
	{ name: 'desk-insight', as: 'owner', path: '/desk/insight', dark: true }
];

await main(async () => {
	const running = runningDemo();
	mkdirSync(FOLDER, { recursive: true });
	await installDebianPackages(NEEDED_BY_TESTS);
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
			await page.setViewportSize(DESKTOP);
			await page.emulateMedia({ colorScheme: view.dark ? 'dark' : 'light' });
			await page.goto(view.sample ? running.samples[view.sample] : running.front + view.path);
			await page.waitForLoadState('networkidle');
			await view.before?.(page);
			// A font that a frame shares with its page is never reported as loaded: then the time must do.
			await page.waitForLoadState('networkidle', { timeout: 5000 }).catch(() => {});
			await page.waitForTimeout(300);
			await page.screenshot({ path: `${FOLDER}/${view.name}.png` });
			await page.close();
		});
	}
}

async function play(page) {
	await page.getByRole('button', { name: 'Play' }).first().click();
	await page.waitForFunction(() => (document.querySelector('video')?.currentTime ?? 0) > 1.2);
}

/** Three of the newest, and what a pause of two months would come to. */
async function pauseSome(page) {
	const rows = page.getByRole('row');
	for (const n of [1, 2, 6]) await rows.nth(n).getByRole('checkbox').click();
	await page.getByRole('button', { name: /^End, pause/ }).click();
	await page.getByRole('radio', { name: 'Pause for 2 months' }).click();
	await page.getByRole('button', { name: 'Say what that would do' }).click();
	await page.getByRole('dialog').waitFor();
}

async function chooseMembers(page) {
	await page.locator('tbody tr').first().focus();
	for (const key of ['Space', 'Shift+ArrowDown', 'Shift+ArrowDown']) await page.keyboard.press(key);
	await page.getByRole('button', { name: /^Give a plan/ }).click();
}

async function openWhy(page) {
	await page.locator('tbody a').first().click();
	await page.getByRole('heading', { name: 'Grants' }).waitFor();
	await page.waitForLoadState('networkidle');
	await page.getByRole('button', { name: /Shut/ }).nth(1).click();
}

async function rehearse(page) {
	await link(/The strike train/)(page);
	await page.getByRole('checkbox', { name: 'Journeyman' }).uncheck();
	await page.getByRole('checkbox', { name: 'Apprentice' }).check();
	await page.getByRole('button', { name: /^Keep it/ }).click();
	await page.getByText('Nothing is saved yet.').waitFor();
}

async function ofCourse(page) {
	await page.getByRole('link', { name: 'The Pendulum Clock from Strip to Strike' }).first().waitFor();
	await select(page.getByLabel('Compared with'), 'Journeyman');
	await page.waitForLoadState('networkidle');
}

async function checkItem(page) {
	await link(/Letting down the mainspring/)(page);
	await page.getByRole('link', { name: 'All members' }).click();
	await page.getByRole('heading', { name: /All members, and/ }).waitFor();
}

async function otherSide(page) {
	await link(/Letting down the mainspring/)(page);
	await page.keyboard.press('o');
	await select(page.getByLabel('Look as'), 'as a holder of');
	await page.getByLabel('Days ago').fill('3');
	await page.frameLocator('iframe').getByText('This opens for you later').waitFor();
}
