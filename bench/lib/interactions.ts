/** How long whoever works at the Desk waits between a press and what it shows, in Chromium: median of several, per interaction. */
import { chromium, type Page } from '@playwright/test';
import { CHROMIUM } from '../../scripts/lib/browser.mjs';
import { percentile, rounded } from './report';

const ROUNDS = 7;

/** @param cookie of a signed-in owner, as `name=value` */
export async function interactionTimes(
	front: string,
	cookie: string,
	planId: string
): Promise<Record<string, number>> {
	const browser = await chromium.launch(CHROMIUM);
	try {
		const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
		const [name = '', value = ''] = cookie.split('=');
		await context.addCookies([{ name, value, url: front }]);
		const page = await context.newPage();
		return {
			filter: await filter(page, front),
			open: await open(page, front),
			fold: await fold(page, front),
			drag: await drag(page, front, planId)
		};
	} finally {
		await browser.close();
	}
}

/** One more letter in the search of the Library: until the list is another. */
async function filter(page: Page, front: string): Promise<number> {
	await goto(page, `${front}/desk/library`);
	const field = page.getByLabel('Find in the Library');
	await field.click();
	const status = 'main [role="status"]';
	return median(page, ROUNDS, async (n) => {
		const taken = timed(page, { event: 'keydown', of: status });
		await page.keyboard.press(n % 2 === 0 ? '7' : 'Backspace');
		return taken;
	});
}

/** A row of the Library: until what it leads to is there to be edited. */
async function open(page: Page, front: string): Promise<number> {
	return median(page, ROUNDS, async () => {
		await goto(page, `${front}/desk/library?kind=video`);
		const link = page.locator('[role="row"] a[href^="/desk/library/"]').nth(3);
		const taken = timed(page, { event: 'pointerdown', of: '#editor h2, #content h2' });
		await link.click();
		return taken;
	});
}

/** A course of the Library: until its sections are there. */
async function fold(page: Page, front: string): Promise<number> {
	await goto(page, `${front}/desk/library`);
	const button = page.locator('[role="row"] button[aria-expanded]').first();
	return median(page, ROUNDS, async () => {
		const taken = timed(page, { event: 'pointerdown', of: '[role="treegrid"]', attribute: 'aria-rowcount' });
		await button.click();
		return taken;
	});
}

/** A bar of the release board: until it stands under the pointer. */
async function drag(page: Page, front: string, planId: string): Promise<number> {
	await goto(page, `${front}/desk/releases?plan=${planId}`);
	const bar = page.locator('[data-track] > [role="presentation"]').first();
	await bar.waitFor();
	const box = await bar.boundingBox();
	if (!box) throw new Error('There is no bar to drag');
	const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
	await page.mouse.move(x, y);
	await page.mouse.down();
	let moved = 0;
	const times = await median(page, ROUNDS, async () => {
		const of = '[data-track] > [role="presentation"]';
		const taken = timed(page, { event: 'pointermove', of, attribute: 'style' });
		moved += 60;
		await page.mouse.move(x + moved, y);
		return taken;
	});
	await page.mouse.up();
	return times;
}

async function goto(page: Page, url: string): Promise<void> {
	await page.goto(url);
	await page.waitForLoadState('networkidle');
}

async function median(page: Page, rounds: number, once: (n: number) => Promise<number>): Promise<number> {
	const times: number[] = [];
	for (let n = 0; n < rounds; n++) {
		times.push(await once(n));
		await page.waitForTimeout(300);
	}
	return rounded(percentile(times, 0.5));
}

/** From the next event of a kind to the frame in which something says something else. */
function timed(page: Page, what: { event: string; of: string; attribute?: string }): Promise<number> {
	return page.evaluate(
		({ event, of, attribute }) =>
			new Promise<number>((resolve, reject) => {
				const said = () => {
					const found = document.querySelector(of);
					return attribute ? found?.getAttribute(attribute) : found?.textContent;
				};
				const before = said();
				addEventListener(
					event,
					() => {
						const at = performance.now();
						const look = () => {
							const now = said();
							if (now !== before && now !== undefined) resolve(performance.now() - at);
							else if (performance.now() - at > 10_000) reject(new Error(`Nothing came of a ${event}`));
							else requestAnimationFrame(look);
						};
						look();
					},
					{ capture: true, once: true }
				);
			}),
		what
	);
}
