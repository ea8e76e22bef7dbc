/** How long whoever works at the Desk waits between a press and what it shows, in Chromium: median of several, per interaction. */
import { chromium, type Page } from '@playwright/test';
import { CHROMIUM } from '../../scripts/lib/browser.mjs';
import { percentile, rounded } from './report';

const ROUNDS = 7;
/** From coming to something to pressing it: nobody is quicker. */
const HAND_MS = 200;

declare global {
	interface Window {
		/** Milliseconds from a press to what it shows. */
		taken: Promise<number>;
	}
}

/** @param cookie of a signed-in owner, as `name=value` */
export async function interactionTimes(
	front: string,
	cookie: string,
	planId: string
): Promise<Record<string, number>> {
	const browser = await chromium.launch(CHROMIUM);
	try {
		const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
		// The compiler that this runs through names functions by it.
		await context.addInitScript('window.__name = (it) => it');
		const [name = '', value = ''] = cookie.split('=');
		await context.addCookies([{ name, value, url: front }]);
		const page = await context.newPage();
		return {
			filter: await filter(page, front),
			open: await open(page, front),
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
		const key = n % 2 === 0 ? '7' : 'Backspace';
		return timed(page, { event: 'keydown', of: status }, () => page.keyboard.press(key));
	});
}

/** A row of the Library, on which the pointer rests as a hand's does: until what it leads to is there to be edited. */
async function open(page: Page, front: string): Promise<number> {
	await goto(page, `${front}/desk/library?kind=video`);
	const links = page.locator('[role="row"] a[href^="/desk/library/"]');
	await links.first().click();
	await page.locator('#editor h2, #content h2').first().waitFor();
	return median(page, ROUNDS, async (n) => {
		const link = links.nth(n + 1);
		await link.hover();
		await page.waitForTimeout(HAND_MS);
		return timed(page, { event: 'click', of: '#editor h2, #content h2' }, () => link.click());
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
		moved += 60;
		const what = { event: 'pointermove', of, attribute: 'style' };
		return timed(page, what, () => page.mouse.move(x + moved, y));
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
async function timed(
	page: Page,
	what: { event: string; of: string; attribute?: string },
	press: () => Promise<void>
): Promise<number> {
	await page.evaluate(({ event, of, attribute }) => {
		const said = () => {
			const found = document.querySelector(of);
			return attribute ? found?.getAttribute(attribute) : found?.textContent;
		};
		const before = said();
		window.taken = new Promise((resolve, reject) => {
			setTimeout(() => reject(new Error(`Nothing came of a ${event}`)), 10_000);
			addEventListener(
				event,
				() => {
					const at = performance.now();
					const watch = new MutationObserver(() => {
						const now = said();
						if (now === before || now === undefined) return;
						watch.disconnect();
						// The task that draws it comes right behind.
						resolve(performance.now() - at);
					});
					watch.observe(document, {
						subtree: true,
						childList: true,
						characterData: true,
						attributes: true
					});
				},
				{ capture: true, once: true }
			);
		});
	}, what);
	// There by now: the press comes after it.
	const [ms] = await Promise.all([page.evaluate(() => window.taken), press()]);
	return ms;
}
