/** From an empty installation to a stranger who watches what they bought: how much has to be pressed for it. */
import { execFileSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Browser, type Page } from '@playwright/test';
import { launch, portsFrom } from '../../scripts/lib/launch.mjs';
import { waitsForScripts } from './world';

const FOLDER = '.stile/test/first-sale';
const PORTS_FROM = 4320;
const MOST_PRESSES = 15;

let world: Awaited<ReturnType<typeof launch>>;

test.beforeAll(async () => {
	mkdirSync(join(FOLDER, 'inbox'), { recursive: true });
	const say = <T>(_name: string, work: () => T | Promise<T>) => work();
	world = await launch({
		folder: FOLDER,
		ports: portsFrom(PORTS_FROM),
		isFresh: true,
		isThrowaway: true,
		say
	});
	await world.startStile();
});
test.afterAll(async () => world.stop());

/** A device on which every press is counted: of a pointer, of Enter and of Space, wherever in a page. */
async function device(browser: Browser, presses: string[]): Promise<Page> {
	const context = await browser.newContext({ baseURL: world.settings.STILE_ORIGIN });
	await context.exposeBinding('pressed', (_source, what: string) => void presses.push(what));
	await context.addInitScript(() => {
		const { pressed } = window as unknown as { pressed: (what: string) => void };
		addEventListener(
			'pointerdown',
			({ target }) => pressed(`pointer: ${target instanceof Element ? target.textContent?.trim() : ''}`),
			true
		);
		addEventListener(
			'keydown',
			({ key }) => {
				if (key === 'Enter' || key === ' ') pressed(key === ' ' ? 'Space' : key);
			},
			true
		);
	});
	const page = await context.newPage();
	waitsForScripts(page);
	return page;
}

/** With the keyboard alone: Tab to the field, and what is typed into it. */
async function type(page: Page, label: string, text: string): Promise<void> {
	const field = page.getByLabel(label, { exact: true });
	await field.waitFor();
	for (let n = 0; n < 40 && !(await field.evaluate((one) => one === document.activeElement)); n++)
		await page.keyboard.press('Tab');
	await expect(field).toBeFocused();
	await page.keyboard.press('Control+a');
	await page.keyboard.type(text);
}

test(`a first sale takes at most ${MOST_PRESSES} presses, from the owner's token to a playing frame`, async ({
	browser
}) => {
	test.setTimeout(180_000);
	const film = join(FOLDER, 'First film.mp4');
	const picture = ['-f', 'lavfi', '-i', 'testsrc2=size=320x180:rate=10:duration=20'];
	const tone = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=20'];
	execFileSync('ffmpeg', ['-v', 'error', '-y', ...picture, ...tone, '-pix_fmt', 'yuv420p', film]);

	const presses: string[] = [];
	const page = await device(browser, presses);
	await page.goto(world.ownerUrl() ?? '');
	await page.waitForLoadState('networkidle');
	await type(page, 'Name of the site', 'Fernhollow');
	await type(page, 'Your name', 'Ottilie');
	await type(page, 'Your e-mail address', 'ottilie@fernhollow.example');
	await type(page, 'Password', 'geartrainoffour');
	await page.keyboard.press('Enter');

	const steps = page.getByRole('region', { name: 'The first steps' });
	const chooser = page.waitForEvent('filechooser');
	await steps.getByText('Bring in a film').click();
	await (await chooser).setFiles(film);
	await expect(steps.getByText('Received.')).toBeVisible();
	await expect(steps.getByText('Bring in a film (done)')).toBeVisible();

	await steps.getByRole('link', { name: /^Write a plan/ }).click();
	await page.waitForLoadState('networkidle');
	await type(page, 'Name', 'Workshop');
	await type(page, 'Amount', '12.50');
	await page.keyboard.press('Enter');
	await expect(page).toHaveURL(/\/desk\/plans\/[0-9a-f-]{36}/);
	const opens = page.getByRole('region', { name: 'What it opens' });
	await opens.getByRole('radio', { name: 'Everything' }).click();
	await opens.getByRole('button', { name: /^Keep it/ }).click();
	await expect(opens).toContainText('Kept.');

	const altogether = page.getByRole('region', { name: 'Altogether' });
	await expect(altogether).toContainText('until it is published');
	await altogether.getByRole('link', { name: 'First film' }).click();
	await page.getByRole('button', { name: 'Publish', exact: true }).click({ timeout: 60_000 });
	await expect(page.getByText('Whoever joins tomorrow')).toBeVisible();
	await page.getByRole('button', { name: 'Do it', exact: true }).click();
	await expect(page.getByText('Published.')).toBeVisible();

	const stranger = await device(browser, presses);
	await stranger.goto('/videos/first-film');
	await stranger.waitForLoadState('networkidle');
	await stranger.getByRole('link', { name: 'Buy Workshop' }).click();
	await type(stranger, 'E-mail address', 'wren@mail.example');
	await type(stranger, 'Your name', 'Wren');
	await stranger.keyboard.press('Enter');
	await stranger.getByRole('button', { name: /^Pay/ }).click();
	await stranger.getByRole('link', { name: 'Open what you bought' }).click();
	await stranger.getByRole('button', { name: 'Play' }).first().click();
	await expect
		.poll(() => stranger.evaluate(() => document.querySelector('video')?.currentTime ?? 0))
		.toBeGreaterThan(0.2);

	console.log(`a first sale took ${presses.length} presses`);
	expect(presses.length, presses.join('\n')).toBeLessThanOrEqual(MOST_PRESSES);
	// They are counted: an owner, a film, a plan and a purchase take some.
	expect(presses.length).toBeGreaterThan(8);

	// What was there to be done is done, and there is a word at the end of it.
	await page.goto('/desk');
	await expect(page.getByText(/^That was everything/)).toBeVisible();
});
