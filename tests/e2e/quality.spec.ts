/** After the story: accessibility (WCAG 2.2 AA by axe-core), 360 px, no JavaScript, weight of the page, production's door. */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { gzipSync } from 'node:zlib';
import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';
import { choose, FRONT, mailTo, OWNER, owner, signIn, select, test } from './world';

async function problems(page: Page, by: 'every rule' | 'contrast' = 'every rule'): Promise<string[]> {
	// Nothing runs within: what it shows is looked at as a page of its own.
	// What passes is not written down: it is most of it.
	const axe = new AxeBuilder({ page }).options({ resultTypes: ['violations'] }).exclude('iframe[sandbox=""]');
	const rules =
		by === 'contrast'
			? axe.withRules('color-contrast')
			: axe.withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa']);
	const { violations } = await rules.analyze();
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
	'/desk/plans/charge',
	'/desk/fences/new',
	'/desk/members',
	'/desk/members/labels',
	'/desk/members/import',
	'/desk/sales',
	'/desk/sales/agreements',
	'/desk/sales/orders',
	'/desk/sales/tax',
	'/desk/insight',
	'/desk/insight/moved',
	'/desk/insight/earned',
	'/desk/insight/stays',
	'/desk/insight/outcomes',
	'/desk/settings',
	'/desk/settings/access',
	'/desk/settings/told',
	'/desk/settings/money',
	'/desk/settings/tax',
	'/desk/settings/looks',
	'/desk/settings/programs',
	'/desk/settings/programs/new',
	'/desk/settings/clock',
	'/desk/settings/staff',
	'/desk/settings/media',
	'/desk/practice',
	'/desk/mail',
	'/desk/mail/returned',
	'/desk/mail/words?mail=order',
	'/desk/mail/sender',
	'/desk/pieces'
];

/** By every rule in the light; the dark changes nothing but colours. */
async function problemsOf(page: Page, views: readonly string[]): Promise<string[]> {
	const found: string[] = [];
	for (const view of views) {
		await page.emulateMedia({ colorScheme: 'light' });
		await page.goto(view);
		found.push(...(await problems(page)).map((problem) => `light ${view}: ${problem}`));
		await page.emulateMedia({ colorScheme: 'dark' });
		await expect(page.locator('html')).toHaveClass(/dark/);
		found.push(...(await problems(page, 'contrast')).map((problem) => `dark ${view}: ${problem}`));
	}
	return found;
}

test('the front has no accessibility faults, light and dark', async ({ page }) => {
	expect(await problemsOf(page, FRONT_VIEWS)).toEqual([]);
});

test('the Desk has no accessibility faults, light and dark', async ({ browser }) => {
	// Many views, each looked at by every rule.
	test.setTimeout(300_000);
	const desk = await owner(browser);
	// So high that an editor's foot lies over nothing.
	await desk.setViewportSize({ width: 1280, height: 3000 });
	expect(await problemsOf(desk, DESK_VIEWS)).toEqual([]);
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
	await select(desk.getByLabel('What it catches', { exact: true }), 'Everything');
	await desk.getByRole('button', { name: '+ Holders of a plan' }).click();
	await desk.getByRole('button', { name: '+ Anyone' }).click();
	await look(desk, 'a fence with crossings');
	await open(desk, '/desk/mail/words?mail=order');
	// A bracket that is typed is a bracket.
	await desk.getByLabel('Subject').fill('{nobody}');
	await expect(desk.getByText('Subject: {nobody}')).toBeVisible();
	// By keys: what a script has selected, the editor hears of later.
	await desk.getByLabel('Subject').press('Control+a');
	await desk.getByLabel('Subject').press('Delete');
	await expect(desk.getByLabel('Subject')).toHaveText('');
	await desk.keyboard.press('Control+s');
	await expect(desk.getByRole('alert')).toContainText('Write what stands in the subject.');
	await look(desk, 'a mail with messages');
	await page.goto('about:blank');
	await page.setContent((await desk.locator('iframe').getAttribute('srcdoc')) ?? '');
	await expect(page.getByRole('link', { name: 'Open Workshop' })).toBeVisible();
	await look(page, 'a mail as it arrives');

	await open(desk, '/desk/plans');
	await desk.getByRole('link', { name: /Workshop/ }).click();
	await desk.getByRole('link', { name: 'What is offered after it' }).click();
	await desk.getByLabel('It costs less there').check();
	await look(desk, 'what is offered after a plan');
	// So high that the rail at the foot lies over nothing.
	await desk.setViewportSize({ width: 1280, height: 3000 });
	await open(desk, '/desk/members');
	await desk.locator('tbody a[href^="/desk/members/"]').first().click();
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

test('whoever leaves with something typed is asked, and can put it in again', async ({ browser }) => {
	const desk = await owner(browser);
	await desk.goto('/desk/plans');
	await desk.getByRole('link', { name: /Workshop/ }).click();
	await desk.waitForLoadState('networkidle');
	const lines = desk.getByLabel('What you get');
	const before = await lines.inputValue();
	const foot = desk.getByRole('group', { name: 'What was changed' }).first();
	await lines.fill('Something new');
	await expect(foot).toContainText('Changed: what you get');
	await desk.getByRole('link', { name: 'Fences', exact: true }).click();
	const question = desk.getByRole('dialog', { name: 'Leave without keeping it?' });
	await question.getByRole('button', { name: 'Stay here' }).click();
	await expect(lines).toHaveValue('Something new');
	await desk.getByRole('link', { name: 'Fences', exact: true }).click();
	await question.getByRole('button', { name: 'Leave', exact: true }).click();
	await expect(desk).toHaveURL(/\/desk\/fences/);

	await desk.goBack();
	await expect(foot).toContainText('Something was typed here and not kept: what you get.');
	await expect(lines).toHaveValue(before);
	await foot.getByRole('button', { name: 'Put it in' }).click();
	await expect(lines).toHaveValue('Something new');
	await foot.getByRole('button', { name: 'Put it back' }).click();
	await expect(lines).toHaveValue(before);

	await lines.fill('Kept by keys');
	await lines.press('Control+s');
	await expect(foot).toContainText('Kept.');
	await desk.reload();
	await expect(lines).toHaveValue('Kept by keys');
	await expect(foot).not.toContainText('not kept');
	await lines.fill(before);
	await foot.getByRole('button', { name: /^Keep it/ }).click();
	await expect(foot).toContainText('Kept.');

	// A place that was chosen is put in again by its name.
	await desk.goto('/desk/library?q=plates');
	await desk.getByRole('row').getByRole('link', { name: 'Plates', exact: true }).click();
	await desk.waitForLoadState('networkidle');
	await choose(desk, 'Lives in', 'pend', /^Pendulum/);
	const lives = desk.locator('[data-field="home"]');
	const place = await lives.locator('p').first().textContent();
	await expect(foot).toContainText('Changed: lives in');
	desk.once('dialog', (dialog) => void dialog.accept());
	await desk.reload();
	await desk.waitForLoadState('networkidle');
	await expect(foot).toContainText('not kept: lives in');
	await foot.getByRole('button', { name: 'Put it in' }).click();
	await expect(lives.locator('p').first()).toHaveText(place ?? '');
	await foot.getByRole('button', { name: 'Put it back' }).click();
	await desk.goto('/desk/plans');
	await desk.getByRole('link', { name: /Workshop/ }).click();
	await desk.waitForLoadState('networkidle');

	// Nothing of it is left on a device that somebody has signed out on.
	await lines.fill('Left behind');
	await expect(foot).toContainText('Changed');
	const kept = () =>
		desk.evaluate(() => Object.keys(localStorage).filter((key) => key.includes('draft')).length);
	await expect.poll(kept).toBe(1);
	await desk.evaluate(() => {
		const form = document.querySelector<HTMLFormElement>('form[action="/sign-out"]');
		form?.addEventListener('submit', (event) => event.preventDefault());
		form?.requestSubmit();
	});
	expect(await kept()).toBe(0);
});

test('what is put back is what was kept, and only its own answer says that it was', async ({ browser }) => {
	const desk = await owner(browser);
	const foot = desk.getByRole('group', { name: 'What was changed' }).first();
	await desk.goto('/desk/plans');
	await desk.getByRole('link', { name: /Workshop/ }).click();
	await desk.waitForLoadState('networkidle');
	const price = desk.getByLabel('Amount');
	const before = await price.inputValue();
	await price.fill('0');
	await foot.getByRole('button', { name: /^Keep it/ }).click();
	await expect(desk.getByRole('alert')).toContainText('more than 0');
	await foot.getByRole('button', { name: 'Put it back' }).click();
	await expect(price).toHaveValue(before);
	await expect(desk.getByRole('alert')).toHaveCount(0);
	await expect(foot).not.toContainText('Kept');

	// What is made leaves no draft behind for the next.
	await desk.goto('/desk/plans/new');
	await desk.waitForLoadState('networkidle');
	await desk.getByLabel('Name', { exact: true }).fill('Apprentices only');
	await price.fill('7');
	await expect(foot).toContainText('Changed: name, amount');
	await foot.getByRole('button', { name: /^Create the plan/ }).click();
	await expect(desk).toHaveURL(/\/desk\/plans\/[0-9a-f-]{36}/);
	await desk.goto('/desk/plans/new');
	await desk.waitForLoadState('networkidle');
	await expect(foot).not.toContainText('not kept');

	// Another form of the page is answered, and the clock of the view is moved: what was typed stays, and is not kept.
	await desk.goto('/desk/mail/words?mail=resumed');
	await desk.waitForLoadState('networkidle');
	const words = desk.getByRole('form', { name: 'Cancellation taken back' });
	const since = Date.now();
	await words.getByLabel('Subject').fill('It goes on, as before');
	await words.getByLabel('Subject').press('End');
	await words.getByRole('button', { name: 'Put in into Subject' }).click();
	await desk.getByRole('menuitem', { name: 'day', exact: true }).click();
	await expect(words.getByLabel('Subject')).toHaveText('It goes on, as beforeday');
	await desk.getByRole('button', { name: 'Send it to me' }).click();
	await expect(desk.getByText('as it is typed here')).toBeVisible();
	expect((await mailTo(OWNER.email, /goes on/, since)).subject).toBe('It goes on, as before1 May 2027');
	await expect(words).toContainText('Changed: subject');
	await words.getByRole('button', { name: 'Put it back' }).click();
	await expect(words.getByLabel('Subject')).toHaveText('plan goes on');

	await desk.goto('/desk/library?q=wheel');
	await desk.getByRole('row').getByRole('link', { name: 'Truing a wheel' }).click();
	await desk.waitForLoadState('networkidle');
	await desk.getByLabel('Title').fill('Truing two wheels');
	await desk.getByRole('button', { name: 'Now (n)' }).click();
	await desk.getByLabel('Find in the Library').fill('truing');
	await expect(desk).toHaveURL(/q=truing/);
	await expect(desk.getByLabel('Title')).toHaveValue('Truing two wheels');
	await expect(desk.getByRole('dialog')).toHaveCount(0);
	await foot.getByRole('button', { name: 'Put it back' }).click();
});

test('what is typed while a form is sent stays, and a colleague’s change meanwhile is said and not gone over', async ({
	browser
}) => {
	const [desk, other] = [await owner(browser), await owner(browser)];
	const words = desk.getByRole('form', { name: 'Ended, because the card was declined' });
	const foot = words.getByRole('group', { name: 'What was changed' });
	for (const page of [desk, other]) {
		await page.goto('/desk/mail/words?mail=lapsed');
		await page.waitForLoadState('networkidle');
	}
	const subject = desk.getByLabel('Subject');
	const button = desk.getByLabel('On the button');
	const [before, pressed] = [await subject.innerText(), await button.innerText()];

	await subject.fill('Over, for now');
	await desk.route('**/desk/mail/words?/save*', async (route) => {
		await subject.fill('Over, for now and then');
		await route.continue();
	});
	await desk.keyboard.press('Control+s');
	await expect(words.getByRole('status').getByText(/^Saved/)).toBeVisible();
	await expect(foot).toContainText('Changed: subject');
	await expect(subject).toHaveText('Over, for now and then');
	await desk.unroute('**/desk/mail/words?/save*');

	await other.reload();
	await other.waitForLoadState('networkidle');
	await expect(other.getByLabel('Subject')).toHaveText('Over, for now');
	await other.getByLabel('On the button').fill('Once more');
	await other.keyboard.press('Control+s');
	await expect(other.getByText('Kept.', { exact: true })).toBeVisible();
	// Another form of the page reads it anew.
	await desk.getByRole('button', { name: 'Send it to me' }).click();
	await expect(foot).toContainText('Somebody else has kept a change of this meanwhile.');
	await expect(button).toHaveText(pressed);
	await foot.getByRole('button', { name: /^Keep it/ }).click();
	await expect(desk.getByRole('alert')).toContainText('Somebody else saved this mail');
	await foot.getByRole('button', { name: 'Put it back' }).click();
	await expect(button).toHaveText('Once more');
	await expect(subject).toHaveText('Over, for now');
	await expect(foot).not.toContainText('Changed');

	await desk.getByRole('button', { name: 'Put back what Stile came with' }).click();
	await desk.getByRole('button', { name: 'Put them back' }).click();
	await expect(subject).toHaveText(before);
	await expect(button).toHaveText(pressed);
});

test('a list is one stop for the keyboard, which goes to what is opened and comes back to its row', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/plans');
	await desk.waitForLoadState('networkidle');
	const rows = desk.locator('main li a');
	const list = desk.locator('main ul').first();
	await rows.first().focus();
	await desk.keyboard.press('End');
	await expect(rows.last()).toBeFocused();
	await desk.keyboard.press('Home');
	await desk.keyboard.press('ArrowDown');
	await expect(rows.nth(1)).toBeFocused();
	await desk.keyboard.press('Tab');
	expect(await list.evaluate((one) => one.contains(document.activeElement))).toBe(false);
	await desk.keyboard.press('Shift+Tab');
	await expect(rows.nth(1)).toBeFocused();
	const opened = await rows.nth(1).getAttribute('href');
	await desk.keyboard.press('Enter');
	await expect(desk).toHaveURL(new RegExp(`${opened}$`));
	await expect(desk.locator('#editor h2').first()).toBeFocused();
	await desk.goBack();
	await expect(desk.locator(`main li a[href="${opened}"]`)).toBeFocused();

	for (const path of ['/desk/members', '/desk/sales', '/desk/codes', '/desk/fences', '/desk/library']) {
		await desk.goto(path);
		await desk.waitForLoadState('networkidle');
		const stops = await desk.evaluate(() => {
			const isStop = (one: Element) =>
				(one as HTMLElement).tabIndex === 0 && (one as HTMLElement).offsetParent !== null;
			const list = document.querySelector('main tbody, main [role="treegrid"], main ul');
			const rows = [...(list?.querySelectorAll(':scope > tr, [data-row], :scope > li') ?? [])];
			return rows.flatMap((row) => [row, ...row.querySelectorAll('*')]).filter(isStop).length;
		});
		expect(stops, path).toBe(1);
	}

	// From a row of the Library to the title of what it opens.
	await desk.goto('/desk/library?q=wheel&kind=video');
	await desk.waitForLoadState('networkidle');
	await desk.locator('[data-row][tabindex="0"]').focus();
	await desk.keyboard.press('Enter');
	await expect(desk.locator('#editor h2, #content h2').first()).toBeFocused();
	let presses = 1;
	const title = desk.getByLabel('Title', { exact: true });
	while (presses < 10 && !(await title.evaluate((one) => one === document.activeElement))) {
		await desk.keyboard.press('Tab');
		presses++;
	}
	await expect(title, `after ${presses} presses`).toBeFocused();
});

test('members are found by what they hold, chosen by keys and labelled, and a fence can let in whoever has the label', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/members?state=holds');
	await select(desk.getByRole('search').getByRole('combobox', { name: /^Plan/ }), 'Workshop');
	await expect(desk).toHaveURL(/plan=/);
	const rows = desk.locator('tbody tr');
	const [first = '', second = ''] = await rows.getByRole('link').allTextContents();
	await rows.first().focus();
	await desk.keyboard.press('Space');
	await desk.keyboard.press('Shift+ArrowDown');
	const bar = desk.getByRole('group', { name: 'What is chosen' });
	await expect(bar).toContainText('2 chosen');
	await bar.getByRole('button', { name: /^Label/ }).click();
	await desk.getByLabel('A new label').fill('Bench crew');
	expect(await problems(desk)).toEqual([]);
	await desk.keyboard.press('Tab');
	await desk.keyboard.press('Enter');
	// Who has paid and never shown that the mailbox is theirs is asked about first.
	const yes = desk.getByRole('dialog').getByRole('button', { name: 'Do it' });
	await yes
		.or(bar.getByRole('status').filter({ hasText: 'labelled' }))
		.first()
		.waitFor();
	if (await yes.isVisible()) await yes.click();
	await expect(bar.getByRole('status')).toHaveText('2 are labelled.');

	await select(desk.getByRole('search').getByRole('combobox', { name: /^Label/ }), 'Bench crew');
	await expect(desk).toHaveURL(/label=/);
	await expect(rows).toHaveCount(2);
	await expect(bar).toHaveCount(0);

	// Ending a plan is rehearsed, and left as it was.
	await desk.getByLabel('All on this page').click();
	await bar.getByRole('button', { name: /^End a plan/ }).click();
	await select(desk.locator('[data-popover-content]').getByRole('combobox'), 'Workshop');
	await desk.getByRole('button', { name: 'End it now' }).click();
	const asked = desk.getByRole('dialog');
	await expect(asked.getByRole('heading', { name: /^End Workshop for 2 members/ })).toBeVisible();
	await expect(asked).toContainText('lose access now');
	await expect(asked).toContainText('nothing more is charged');
	await asked.getByRole('button', { name: 'Leave it as it was' }).click();
	await desk.reload();
	await expect(rows.filter({ hasText: 'Workshop' })).toHaveCount(2);

	await desk.getByLabel('All on this page').click();
	const table = desk.waitForEvent('download');
	await bar.getByRole('button', { name: 'As a table (CSV)' }).click();
	const lines = readFileSync(await (await table).path(), 'utf8')
		.trim()
		.split('\r\n');
	expect(lines).toHaveLength(3);
	expect(lines.join()).toContain(first);
	expect(lines.join()).toContain(second);

	await desk.goto('/desk/fences');
	await desk.getByRole('link', { name: /Wheel/ }).first().click();
	await desk.getByLabel('Bench crew').click();
	await expect(desk.getByRole('heading', { name: /or the label “Bench crew”/ })).toBeVisible();
	await desk.getByRole('button', { name: 'Put it back' }).click();
	await desk.goto('/desk/members/labels');
	await desk.getByRole('button', { name: 'Remove' }).click();
	await desk.getByRole('alertdialog').getByRole('button', { name: 'Remove it' }).click();
	await expect(desk.getByText('It is gone, and nobody has it any more.')).toBeVisible();
});

test('the Library is gone through by keys', async ({ browser }) => {
	const desk = await owner(browser);
	await desk.goto('/desk/library?kind=course');
	await desk.waitForLoadState('networkidle');
	await expect(desk.getByRole('row')).toHaveCount(3);
	await desk.goto('/desk/library?order=title');
	await desk.waitForLoadState('networkidle');
	const row = (name: RegExp) => desk.getByRole('row', { name });
	await row(/Pendulum/).focus();
	await desk.keyboard.press('ArrowRight');
	await expect(row(/Pendulum/)).toHaveAttribute('aria-expanded', 'true');
	await expect(row(/Taking apart/)).toBeVisible();
	await desk.keyboard.press('ArrowDown');
	await expect(row(/Taking apart/)).toBeFocused();
	await desk.keyboard.press('Space');
	await desk.keyboard.press('Shift+ArrowDown');
	await expect(desk.getByText('2 chosen')).toBeVisible();
	await desk.keyboard.press('Escape');
	await expect(desk.getByText('2 chosen')).toBeHidden();
	await row(/Taking apart/).focus();
	await desk.keyboard.press('ArrowLeft');
	await expect(row(/Pendulum/)).toBeFocused();
	await desk.keyboard.press('ArrowLeft');
	await expect(row(/Taking apart/)).toHaveCount(0);
	await desk.keyboard.press('Enter');
	await expect(desk.getByRole('heading', { name: 'Pendulum', exact: true })).toBeVisible();
});

test('an upload goes on in another view, leads to what it became, and lists follow', async ({ browser }) => {
	const desk = await owner(browser);
	const other = await desk.context().newPage();
	await other.goto('/desk/library?q=notes+on+oil');
	await expect(other.getByText('Nothing like that.')).toBeVisible();
	await desk.goto('/desk/library');
	await desk.waitForLoadState('networkidle');
	// Its last piece waits until another view is looked at.
	let release = () => {};
	const released = new Promise<void>((resolve) => (release = resolve));
	await desk.route('**/desk/uploads/*', async (route) => {
		await released;
		await route.continue();
	});
	await desk
		.locator('input[type=file]')
		.first()
		.setInputFiles({ name: 'notes on oil.txt', mimeType: 'text/plain', buffer: Buffer.from('Little.') });
	await desk.getByRole('link', { name: 'Plans', exact: true }).click();
	await expect(desk).toHaveURL(/\/desk\/plans/);
	await desk.getByRole('button', { name: /^1 upload/ }).click();
	await expect(desk.getByLabel('Uploads', { exact: true })).toContainText('notes on oil.txt');
	await desk.keyboard.press('Escape');
	release();
	await expect(desk.getByText('notes on oil.txt is received')).toBeVisible();
	await expect(other.getByRole('row', { name: /Notes on oil/i })).toBeVisible();
	await desk.getByRole('button', { name: 'Open it' }).click();
	await expect(desk.getByRole('heading', { name: /Notes on oil/i }).first()).toBeVisible();

	// Files are dropped anywhere on the Library.
	await other.goto('/desk/library');
	await other.waitForLoadState('networkidle');
	await other.evaluate(() => {
		const dataTransfer = new DataTransfer();
		dataTransfer.items.add(new File(['More.'], 'dropped on brass.txt', { type: 'text/plain' }));
		for (const type of ['dragover', 'drop'])
			document
				.querySelector('h1')
				?.dispatchEvent(new DragEvent(type, { dataTransfer, bubbles: true, cancelable: true }));
	});
	await expect(other.getByRole('list', { name: 'Uploads' })).toContainText('Received.');
	await expect(other.getByRole('row', { name: /Dropped on brass/i })).toBeVisible();
	await other.close();
});

test('every field of the Desk works by keys, and has no accessibility faults with what it opens', async ({
	browser
}, testInfo) => {
	test.setTimeout(120_000);
	const desk = await owner(browser);
	const found: string[] = [];
	for (const colorScheme of ['light', 'dark'] as const) {
		await desk.emulateMedia({ colorScheme });
		await desk.goto('/desk/pieces');
		await desk.waitForLoadState('networkidle');
		const opened = async (what: string) => {
			const by = colorScheme === 'light' ? 'every rule' : 'contrast';
			found.push(...(await problems(desk, by)).map((problem) => `${colorScheme} ${what}: ${problem}`));
			await desk.keyboard.press('Escape');
		};
		await testInfo.attach(`pieces, ${colorScheme}`, {
			body: await desk.screenshot({ fullPage: true }),
			contentType: 'image/png'
		});

		await desk.getByLabel('Opacity').press('ArrowUp');
		await expect(desk.getByLabel('Opacity')).toHaveValue('41');
		const paid = desk.getByRole('combobox', { name: /^Paid/ });
		await paid.press('Enter');
		await expect(desk.getByRole('option')).toHaveCount(3);
		await opened('a few to choose from');
		await paid.press('Enter');
		await desk.keyboard.press('ArrowDown');
		await desk.keyboard.press('Enter');
		await expect(paid).toHaveText('every year');
		const zone = desk.getByLabel('Zone, of many', { exact: true });
		await zone.fill('zurich');
		await expect(desk.getByRole('option')).toHaveText('Europe/Zurich');
		await desk.keyboard.press('ArrowDown');
		await desk.keyboard.press('Enter');
		await expect(zone).toHaveValue('Europe/Zurich');
		await zone.fill('eur ber');
		await expect(desk.getByRole('option')).toHaveText('Europe/Berlin');
		await opened('many to choose from');
		await expect(zone).toHaveValue('Europe/Zurich');
		const comesBack = desk.getByRole('radiogroup', { name: 'When somebody comes back' });
		await comesBack.getByRole('radio', { name: 'Go on' }).focus();
		await desk.keyboard.press('ArrowDown');
		await expect(comesBack.getByRole('radio', { name: 'Begin anew' })).toBeChecked();
		await desk.getByRole('checkbox', { name: 'Listed', exact: true }).press('Space');
		await expect(desk.getByRole('checkbox', { name: 'Listed', exact: true })).toBeChecked();
		await desk.getByRole('switch', { name: 'The fence is off' }).press('Space');
		await expect(desk.getByRole('switch', { name: 'The fence is off' })).toBeChecked();

		const opens = desk.getByRole('group', { name: 'Opens on' });
		await opens.getByRole('spinbutton').first().click();
		await desk.keyboard.type('011220270930');
		await expect(opens).toHaveText(/01\/12\/2027,\s*09:30/);
		await desk.getByRole('button', { name: 'Opens on, calendar' }).press('Enter');
		await expect(desk.getByRole('button', { name: 'Wednesday, 1 December 2027' })).toBeVisible();
		await opened('a calendar');

		const floating = desk.getByRole('region', { name: 'What floats' });
		await floating.getByRole('button', { name: 'More' }).press('Enter');
		await expect(desk.getByRole('menuitem')).toHaveCount(3);
		await opened('a menu');
		await desk.getByRole('button', { name: 'Why' }).press('Enter');
		await expect(desk.getByText(/Apprentice ended on/)).toBeVisible();
		await opened('a popover');
		await desk.getByRole('button', { name: 'Ask', exact: true }).press('Enter');
		await expect(desk.getByRole('dialog', { name: 'A question' })).toBeVisible();
		await opened('a dialog');
		await expect(desk.getByRole('button', { name: 'Ask', exact: true })).toBeFocused();
		await desk.getByRole('button', { name: '7 Jul 2026, 10:00' }).focus();
		await expect(desk.getByText('2026-07-07T08:00:00Z').first()).toBeVisible();
		await opened('a tip');
		await desk.getByRole('tab', { name: 'What it says' }).press('ArrowRight');
		await expect(desk.getByText('Everything below /courses.')).toBeVisible();
		await desk.getByRole('button', { name: 'Limits' }).press('Enter');
		await expect(desk.getByText('At most 3 uses a paid period.')).toBeVisible();
		await desk.getByRole('slider', { name: 'Place' }).press('ArrowRight');
		await expect(desk.getByRole('slider', { name: 'Place' })).toHaveAttribute('aria-valuetext', '41 of 100');

		const foot = desk.getByRole('group', { name: 'What was changed' });
		const form = desk.locator('form', { has: foot });
		await form.getByLabel('Title').fill('Strike to strip');
		await form.getByRole('switch', { name: 'Listed on the plan page' }).press('Space');
		await expect(foot).toContainText('Changed: title, listed on the plan page');
		await foot.getByRole('button', { name: 'Put it back' }).press('Enter');
		await expect(form.getByLabel('Title')).toHaveValue('Strip to strike');
		await expect(form.getByRole('switch', { name: 'Listed on the plan page' })).toBeChecked();
		await expect(foot).not.toContainText('Changed');
	}
	expect(found).toEqual([]);
});

test('a form of the Desk is refused where scripts do not run, and keeps what was there', async ({
	browser
}) => {
	const desk = await owner(browser);
	const context = await browser.newContext({
		javaScriptEnabled: false,
		storageState: await desk.context().storageState()
	});
	const page = await context.newPage();
	await page.goto('/desk/plans/new');
	// Chromium shows it only where scripts are switched off before it starts.
	expect(await page.content()).toContain('nothing can be saved: let them run for this site');
	await page.getByLabel('Name', { exact: true }).fill('Without scripts');
	await page.getByLabel('Amount').fill('5');
	await page.getByRole('button', { name: 'Create the plan' }).click();
	await expect(page.getByText('Nothing was saved.')).toBeVisible();
	await page.goBack();
	await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Without scripts');
	await page.goto('/desk/plans');
	await expect(page.getByText('Without scripts')).toHaveCount(0);
	await context.close();
});

test('the front and mails speak the language of the site, and the Desk stays as it is', async ({
	browser,
	page
}) => {
	const desk = await owner(browser);
	const speak = async (language: string) => {
		await desk.goto('/desk/settings');
		await desk.waitForLoadState('networkidle');
		await select(desk.getByLabel('Language of the front and of mails'), language);
		await desk
			.getByRole('button', { name: /^Keep it/ })
			.first()
			.click();
		await expect(desk.getByText('Kept.', { exact: true })).toBeVisible();
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

test('what is chosen before the scripts have come is chosen when they have', async ({ browser }) => {
	const page = await owner(browser);
	let letThrough = () => {};
	const chosen = new Promise<void>((resolve) => (letThrough = resolve));
	await page.route('**/_app/**/*.js', async (route) => {
		await chosen;
		await route.continue();
	});
	await page.goto('/desk/fences/new', { waitUntil: 'commit' });
	const second = page.getByRole('radiogroup').first().getByRole('radio').nth(1);
	await second.click();
	await expect(second).not.toBeChecked();
	letThrough();
	await expect(second).toBeChecked();
});

test('what is pressed before the scripts have come goes off with what was chosen before it', async ({
	browser
}) => {
	const page = await owner(browser);
	let letThrough = () => {};
	const pressed = new Promise<void>((resolve) => (letThrough = resolve));
	await page.route('**/_app/**/*.js', async (route) => {
		await pressed;
		await route.continue();
	});
	await page.goto('/desk/fences/new', { waitUntil: 'commit' });
	await page.getByRole('button', { name: '+ Anyone, strangers too' }).click();
	await page.getByRole('button', { name: 'Put up the fence' }).click();
	const sent = page.waitForRequest(
		(request) => request.method() === 'POST' && request.url().includes('?/save')
	);
	letThrough();
	expect((await sent).postData() ?? '').toContain('anyone');
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

test('members come in by a table: tried, mended, rehearsed, and labelled', async ({ browser }) => {
	const desk = await owner(browser);
	await desk.goto('/desk/members/import');
	await desk.waitForLoadState('networkidle');
	const bring = async (csv: string) => {
		await desk
			.locator('input[type=file]')
			.setInputFiles({ name: 'members.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });
		await desk.getByRole('button', { name: 'Try it, and write nothing' }).click();
	};
	await bring('mail,membership,tags\nivo@mail.example,No such plan,bench\njora,Workshop,\n');
	const wrong = desk.getByRole('list', { name: 'What is wrong' });
	await expect(wrong).toContainText('Line 2: No plan is called “No such plan”.');
	await expect(wrong).toContainText('Line 3: “jora” is no e-mail address.');
	expect(await problems(desk)).toEqual([]);
	const mend = desk.waitForEvent('download');
	await desk.getByRole('button', { name: 'The 2 rows to mend (CSV)' }).click();
	expect(readFileSync(await (await mend).path(), 'utf8')).toContain('what is wrong');

	await bring(
		'mail,membership,tags\nivo@mail.example,Workshop,Evening bench\njora@mail.example,,Evening bench\nkip@mail.example,,\n'
	);
	await expect(desk.getByText('3 new, 0 get something. Nothing stands in the way.')).toBeVisible();
	await desk.getByRole('button', { name: 'Bring in 3 members' }).click();
	await expect(desk.getByText('3 members were added')).toBeVisible();
	// Given a plan meanwhile, it is asked about.
	await bring('email,plan\njora@mail.example,Workshop\n');
	await desk.getByRole('button', { name: 'Bring in this member' }).click();
	await expect(desk.getByRole('heading', { name: 'What bringing in this table would do' })).toBeVisible();
	await desk.getByRole('button', { name: 'Do it', exact: true }).click();
	await expect(desk.getByText('0 members were added, and one was given something.')).toBeVisible();
	await desk.goto('/desk/members?q=ivo');
	await expect(desk.locator('tbody tr')).toHaveCount(1);

	// By hand, on a member's own page: rehearsed as well.
	await desk.goto('/desk/members?q=kip');
	await desk.locator('tbody a').first().click();
	await desk.waitForLoadState('networkidle');
	await desk.getByRole('button', { name: 'Give a plan' }).click();
	const give = desk.locator('form[action="?/give"]');
	await select(give.getByRole('combobox', { name: /^Plan/ }), 'Workshop');
	await give.getByRole('button', { name: 'Give it' }).click();
	await expect(give.getByRole('heading', { name: /^What giving .* a plan would do$/ })).toBeVisible();
	await give.getByRole('button', { name: 'Do it', exact: true }).click();
	await expect(desk.getByText('Given. It counts from its first day on.')).toBeVisible();
});
