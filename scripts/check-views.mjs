/**
 * `npm run check:views`: every view of the running demo, in both themes and at four widths: faults of accessibility (axe-core,
 * WCAG 2.2 AA), with what opens over it, and whether anything scrolls sideways.
 */
import process from 'node:process';
import AxeBuilder from '@axe-core/playwright';
import { chromium } from '@playwright/test';
import { CHROMIUM } from './lib/browser.mjs';
import { installDebianPackages, NEEDED_BY_TESTS } from './lib/packages.mjs';
import { runningDemo, signedIn } from './lib/signed-in.mjs';
import { main, Problem, step } from './lib/steps.mjs';

const WIDTHS = [360, 700, 1024, 1280];
const THEMES = ['light', 'dark'];
const TAGS = ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'];
/** Of what opens on a view. */
const MOST_OPENED = 4;
const ONLY = process.argv.slice(2);

const FRONT = [
	'/',
	'/plans',
	'/plans/apprentice',
	'/checkout/apprentice',
	'/checkout/apprentice?gift',
	'/code',
	'/sign-in'
];
const DESK = [
	...[
		'/desk',
		'/desk/library',
		'/desk/library/bring-in',
		'/desk/library/labels',
		'/desk/library/new?kind=lesson'
	],
	...[
		'/desk/plans',
		'/desk/plans/new',
		'/desk/plans/charge',
		'/desk/codes',
		'/desk/fences',
		'/desk/fences/new',
		'/desk/releases'
	],
	...[
		'/desk/changes',
		'/desk/members',
		'/desk/members/labels',
		'/desk/members/import',
		'/desk/sales',
		'/desk/sales/agreements',
		'/desk/sales/orders',
		'/desk/practice',
		'/desk/mail',
		'/desk/mail/returned',
		'/desk/mail/words',
		'/desk/mail/sender',
		'/desk/insight',
		'/desk/insight/earned',
		'/desk/insight/stays',
		'/desk/insight/outcomes',
		'/desk/check'
	],
	...['', '/looks', '/access', '/media', '/told', '/money', '/staff', '/programs', '/clock'].map(
		(section) => `/desk/settings${section}`
	),
	'/desk/pieces'
];
/** Lists of which the first thing is opened. */
const OPENED = [
	...[
		['/desk/library', '[role=row] a[href^="/desk/library/"]'],
		['/desk/plans', 'main li a[href^="/desk/plans/"]'],
		['/desk/codes', 'tbody a'],
		['/desk/fences', 'main li a[href^="/desk/fences/"]'],
		['/desk/members', 'tbody a'],
		['/desk/sales', 'tbody a[href^="/desk/sales/"]']
	]
];

await main(async () => {
	const running = runningDemo();
	await installDebianPackages(NEEDED_BY_TESTS);
	const browser = await chromium.launch(CHROMIUM);
	const figures = { views: 0, looks: 0, faults: 0, sideways: 0 };
	try {
		const stranger = await signedIn(browser, running, 'stranger');
		const owner = await signedIn(browser, running, 'owner');
		const views = [
			...FRONT.map((path) => ({ context: stranger, path, first: null })),
			...DESK.map((path) => ({ context: owner, path, first: null })),
			...OPENED.map(([path, first]) => ({ context: owner, path, first }))
		];
		for (const view of views.filter(({ path }) => ONLY.length === 0 || ONLY.includes(path)))
			await step(`${view.path}${view.first ? ', opened' : ''}`, () => look(view, running, figures));
	} finally {
		await browser.close();
	}
	process.stdout.write(`${JSON.stringify({ check: 'views', figures })}\n`);
	if (figures.faults + figures.sideways > 0) throw new Problem('Some views have faults: they stand above.');
});

async function look({ context, path, first }, running, figures) {
	const page = await context.newPage();
	figures.views++;
	await page.goto(running.front + path);
	if (first) {
		await page.locator(first).first().click();
		await page.waitForURL((url) => url.pathname !== new URL(path, running.front).pathname);
	}
	for (const theme of THEMES) {
		await page.emulateMedia({ colorScheme: theme });
		for (const width of WIDTHS) {
			// So high that an editor's foot lies over nothing.
			await page.setViewportSize({ width, height: 3200 });
			await page.waitForLoadState('networkidle', { timeout: 5000 }).catch(() => {});
			await judge(page, `${path} ${theme} ${width}`, figures);
			const over = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
			if (over > 0) {
				figures.sideways++;
				process.stdout.write(`  ${path} ${theme} ${width}: ${over} px too wide\n`);
			}
		}
		await openAll(page, `${path} ${theme}`, figures);
	}
	await page.close();
}

/** What opens over the view: popovers, menus and lists of choices. */
async function openAll(page, where, figures) {
	const triggers = page.locator('main [aria-haspopup]:visible');
	for (let n = 0; n < Math.min(MOST_OPENED, await triggers.count()); n++) {
		if (!(await triggers.nth(n).isEnabled())) continue;
		await triggers.nth(n).click();
		await page.waitForTimeout(200);
		await judge(page, `${where}, opened ${n + 1}`, figures);
		await page.keyboard.press('Escape');
		await page.waitForTimeout(200);
	}
}

async function judge(page, where, figures) {
	figures.looks++;
	const { violations } = await new AxeBuilder({ page })
		.exclude('iframe[sandbox=""]')
		.withTags(TAGS)
		.analyze();
	for (const { id, nodes } of violations)
		for (const node of nodes) {
			figures.faults++;
			process.stdout.write(`  ${where}: ${id}: ${node.html.slice(0, 140)}\n`);
		}
}
