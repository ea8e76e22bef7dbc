/** Somebody of the demo, in a browser: a stranger, the owner, a member, or one whose plan has lapsed. */
import { existsSync, readFileSync } from 'node:fs';
import { Problem } from './steps.mjs';

/** What the running demo says of itself. */
export function runningDemo() {
	if (!existsSync('.stile/running.json'))
		throw new Problem('The demo does not run. Start it with "npm start", then run this again.');
	return JSON.parse(readFileSync('.stile/running.json', 'utf8'));
}

/**
 * @param {import('@playwright/test').Browser} browser
 * @param {'stranger' | 'owner' | 'member' | 'lapsed'} who
 */
export async function signedIn(browser, running, who) {
	const context = await browser.newContext({ locale: 'en-GB' });
	if (who === 'stranger') return context;
	const { email, password } = running.signIns[who];
	const page = await context.newPage();
	await page.goto(`${running.front}/sign-in`);
	await page.getByLabel('E-mail address').fill(email);
	await page.getByLabel('Password').fill(password);
	await page.getByRole('button', { name: 'Sign in', exact: true }).click();
	await page.waitForURL(({ pathname }) => !pathname.startsWith('/sign-in'));
	await page.close();
	return context;
}
