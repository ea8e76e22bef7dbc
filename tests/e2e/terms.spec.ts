/** What the publisher makes their own: a price that is more than an amount a month, and the colour of the front. */
import { expect, type Page } from '@playwright/test';
import { buyer, CARDS, choose, FRONT, mailTo, moveClock, owner, TILL, test } from './world';

test('instalments with a fee are asked for in two questions, read before paying, charged as agreed, and open for good', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/plans/new');
	await desk.getByLabel('Name', { exact: true }).fill('Evening course');
	await desk.getByLabel('Amount').fill('100');
	await expect(desk.getByText('Buyers read: 100.00 EUR a month')).toBeVisible();
	await desk.getByRole('radio', { name: 'So many payments more' }).click();
	await desk.getByLabel('How many more').fill('0');
	await desk.getByRole('button', { name: 'Another price or length at first, a fee' }).click();
	await desk.getByLabel('Each time after the first').fill('50');
	await desk.getByLabel('Once at joining').fill('12,50');
	await desk.getByRole('radio', { name: 'For good' }).click();
	await desk.getByRole('button', { name: /^Create the plan/ }).click();
	await expect(desk.getByRole('alert')).toContainText('A whole number from 1 to 120.');
	// What was typed is there still, what is folded away included.
	await expect(desk.getByLabel('Once at joining')).toHaveValue('12,50');
	await expect(desk.getByRole('radio', { name: 'For good' })).toBeChecked();
	await desk.getByLabel('How many more').fill('2');
	const sentence =
		'100.00 EUR first, then 2 payments of 50.00 EUR, one a month, and 12.50 EUR once at joining';
	await expect(desk.getByText(`Buyers read: ${sentence}`)).toBeVisible();
	await desk.getByRole('button', { name: /^Create the plan/ }).click();
	await desk.waitForURL(/\/desk\/plans\/[0-9a-f-]{36}/);

	const stranger = await (await browser.newContext()).newPage();
	await stranger.goto('/checkout/evening-course');
	const bought = stranger.getByRole('complementary', { name: 'What you buy' });
	await expect(bought).toContainText(sentence);
	await expect(bought).toContainText('112.50 EUR today');
	await expect(bought).toContainText(/Then 50.00 EUR on \d+ \w+ \d{4}/);
	await expect(bought).toContainText('Open for good, once it is paid.');
	await expect(bought).toContainText('Ends by itself with the last payment.');
	await stranger.setViewportSize({ width: 360, height: 700 });
	expect(await stranger.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360);

	const { page } = await buyer(browser, 'Rosalind', CARDS.works, 'evening-course');
	await page.goto('/account');
	const held = page.getByRole('article').filter({ hasText: 'Evening course' });
	await expect(held).toContainText(/The next payment, of .* EUR, is due on/);
	await expect(held.getByRole('link', { name: 'Cancel' })).toHaveCount(0);
	await moveClock(desk, 32);
	await moveClock(desk, 32);
	await page.goto('/account');
	await expect(held).toContainText('Everything is paid. It stays open.');
	await expect(page.getByText('50.00 EUR', { exact: true })).toHaveCount(2);
	await page.getByRole('link', { name: /^R-/ }).last().click();
	await expect(page.getByRole('row', { name: /Evening course, once at joining/ })).toContainText('12.50 EUR');
	await mailTo('rosalind@mail.example', /Everything is paid for Evening course/);
	await moveClock(desk, 60);
	await page.goto('/account');
	await expect(page.getByText('50.00 EUR', { exact: true })).toHaveCount(2);
});

test('what a card was declined for is paid by hand with another, whose bank asks for a second step; cards are changed at any time', async ({
	browser
}) => {
	const { page } = await buyer(browser, 'Leopold', CARDS.failsOnRenewal, 'evening-course');
	const desk = await owner(browser);
	await moveClock(desk, 32);
	await page.goto('/');
	await expect(page.getByRole('status')).toContainText('The card for Evening course was declined.');
	await mailTo('leopold@mail.example', /The payment for Evening course was declined/);
	await page.getByRole('link', { name: 'Pay now' }).click();
	await expect(page.getByText('The card was declined for 50.00 EUR')).toBeVisible();
	const byHand = page.getByRole('button', { name: 'Pay 50.00 EUR with another card' });
	await byHand.click();
	await page.getByLabel(CARDS.declined).check();
	await page.getByRole('button', { name: /^Pay/ }).click();
	await expect(page.getByRole('status').last()).toContainText('nothing was paid');
	await page.getByRole('link', { name: 'Pay now' }).click();
	await byHand.click();
	await page.getByLabel(/…3220/).check();
	await page.getByRole('button', { name: /^Pay/ }).click();
	await page.getByRole('button', { name: /^Yes/ }).click();
	await expect(page.getByRole('status')).toContainText('Paid. It goes on as before');
	const held = page.getByRole('article').filter({ hasText: 'Evening course' });
	await expect(held).toContainText('Charged to the card ending in 3220');
	await held.getByRole('button', { name: 'Change the card' }).click();
	await page.getByRole('link', { name: 'Back without a card' }).click();
	await expect(page.getByRole('status')).toContainText('No card was kept');
	await held.getByRole('button', { name: 'Change the card' }).click();
	await page.getByLabel(CARDS.works).check();
	await page.getByRole('button', { name: 'Keep this card' }).click();
	await expect(held).toContainText('Charged to the card ending in 4242');
	await moveClock(desk, 31);
	await page.goto('/account');
	await expect(held).toContainText('Everything is paid. It stays open.');
});

test('the front and mails take the publisher’s colour, made readable in both themes, and the Desk does not', async ({
	browser
}) => {
	const desk = await owner(browser);
	const stranger = await (await browser.newContext({ colorScheme: 'light' })).newPage();
	const night = await (await browser.newContext({ colorScheme: 'dark' })).newPage();
	const colourOf = async (page: Page) => {
		await page.goto('/checkout/workshop');
		return page
			.getByRole('button', { name: /Go on to pay/ })
			.evaluate((button) => getComputedStyle(button).backgroundColor);
	};
	const before = await colourOf(stranger);
	await desk.goto('/desk/settings/looks');
	await desk.getByRole('checkbox', { name: 'The front and mails have a colour of their own' }).click();
	await desk.getByLabel('Colour', { exact: true }).fill('yellow');
	await desk.keyboard.press('Control+s');
	await expect(desk.getByRole('alert')).toContainText('# and six figures');
	await expect(desk.getByLabel('Colour', { exact: true })).toHaveValue('yellow');
	await desk.getByLabel('Colour', { exact: true }).fill('#7A1FA2');
	await expect(desk.getByText('In the dark theme, made lighter so that it can be read.')).toBeVisible();
	await desk.keyboard.press('Control+s');
	await expect(desk.getByText('Kept.')).toBeVisible();
	expect(await colourOf(stranger)).toBe('rgb(122, 31, 162)');
	const sheet = await stranger.request.get('/_looks/7a1fa2.css');
	expect(sheet.headers()['cache-control']).toContain('immutable');
	for (const none of ['7a1fa', '7A1FA2', 'zzzzzz'])
		expect((await stranger.request.get(`/_looks/${none}.css`)).status()).toBe(404);
	const atNight = await colourOf(night);
	expect([before, 'rgb(122, 31, 162)']).not.toContain(atNight);
	await desk.goto('/desk/plans');
	const newPlan = desk.getByRole('link', { name: 'New plan' });
	expect(await newPlan.evaluate((link) => getComputedStyle(link).backgroundColor)).toBe(before);

	await stranger.goto('/sign-in');
	await stranger.getByLabel('E-mail address').fill('rosalind@mail.example');
	await stranger.getByRole('button', { name: 'Mail me a link instead' }).click();
	const mail = await mailTo('rosalind@mail.example', /^Sign in to/);
	expect(mail.html).toContain('background:#7a1fa2');

	await desk.goto('/desk/settings/looks');
	await desk.getByRole('checkbox', { name: 'The front and mails have a colour of their own' }).click();
	await desk.keyboard.press('Control+s');
	await expect(desk.getByText('Kept.')).toBeVisible();
	expect(await colourOf(stranger)).toBe(before);
});

test('a plan is paused from the Desk, seen in numbers before it is, and the member goes on', async ({
	browser
}) => {
	const { page } = await buyer(browser, 'Theodora', CARDS.works);
	const desk = await owner(browser);
	await desk.goto('/desk/sales?q=theodora');
	await desk.getByRole('link', { name: /^S-/ }).click();
	await desk.getByRole('button', { name: 'Pause', exact: true }).click();
	const dialog = desk.getByRole('alertdialog');
	await dialog.getByRole('radio', { name: 'Pause for 3 months' }).click();
	await expect(dialog).toContainText(/stays open for Theodora until .* The next payment is 12.50 EUR on/);
	// The member has cancelled meanwhile: nothing is done to what is not any more what was looked at.
	await page.goto('/account');
	await page.getByRole('link', { name: 'Cancel' }).click();
	await page.getByLabel('I have no time for it').check();
	await page.getByRole('button', { name: 'Cancel Workshop' }).click();
	await dialog.getByRole('button', { name: 'Pause for 3 months' }).click();
	await expect(desk.getByRole('alert')).toContainText('It has changed since you opened the page');
	await page.getByRole('button', { name: 'Keep Workshop' }).click();
	await desk.reload();
	await desk.getByRole('button', { name: 'Pause', exact: true }).click();
	await dialog.getByRole('radio', { name: 'Pause for 3 months' }).click();
	await dialog.getByRole('button', { name: 'Pause for 3 months' }).click();
	await expect(desk.getByText('a mail tells them')).toBeVisible();
	await mailTo('theodora@mail.example', /Workshop is paused/);
	await page.goto('/account');
	const held = page.getByRole('article').filter({ hasText: 'Workshop' });
	await expect(held).toContainText('goes on by itself on');
	await held.getByRole('button', { name: 'Go on now' }).click();
	await expect(held).toContainText('Renews on');
});

test('the Till repeats, delays and drops what it tells, and what it forges is refused', async ({ page }) => {
	await page.goto(`${TILL}/notifications`);
	for (const [how, status] of [
		['another secret', '401'],
		['an hour old', '401'],
		['altered', '401']
	] as const) {
		await page.getByRole('button', { name: how }).click();
		await expect(page.getByRole('status')).toContainText(`The shop answers: ${status}`);
	}
	await page.goto(`${TILL}/notifications`);
	const row = page.locator('tr').nth(1);
	const sent = Number(/(\d+) sent/.exec((await row.textContent()) ?? '')?.[1]);
	await row.getByRole('button', { name: 'Send again' }).click();
	await expect(row).toContainText(`${sent + 1} sent, answered`);
	await row.getByRole('button', { name: 'In 10 s' }).click();
	await row.getByRole('button', { name: 'Drop' }).click();
	await expect(row).toContainText('dropped');
});

test('a plan is shown and sold only to those who may open what was chosen for it', async ({ browser }) => {
	const desk = await owner(browser);
	await desk.goto('/desk/plans/new');
	await desk.getByLabel('Name', { exact: true }).fill('Second bench');
	await desk.getByLabel('Amount').fill('7');
	await desk.getByLabel('It is shown and sold only to those who may open something else').click();
	await desk.getByRole('button', { name: /^Create the plan/ }).click();
	await expect(desk.getByRole('alert')).toContainText('Choose what they may open.');
	await choose(desk, 'What they may open', 'wheel', /wheel/i);
	await desk.getByRole('button', { name: /^Create the plan/ }).click();
	await desk.waitForURL(/\/desk\/plans\/[0-9a-f-]{36}/);
	await expect(desk.getByRole('button', { name: 'Choose another' })).toBeVisible();

	const page = await (await browser.newContext()).newPage();
	await page.goto('/plans');
	await expect(page.getByText('Workshop').first()).toBeVisible();
	await expect(page.getByText('Second bench')).toHaveCount(0);
	await page.goto('/checkout/second-bench');
	await expect(page).toHaveURL(/\/plans\/second-bench$/);
	await expect(page.getByRole('heading', { name: 'Not for everybody' })).toBeVisible();
	for (const path of ['/plans/second-bench', '/plans/second-bench/__data.json'])
		expect(await (await page.request.get(path)).text()).not.toContain('Second bench');
	// Nor does what the checkout asks while one types, or a form that is sent past its page.
	for (const path of ['/checkout/second-bench/priced', '/checkout/second-bench']) {
		const headers = { origin: FRONT, accept: 'application/json', 'x-sveltekit-action': 'true' };
		const answer = await page.request.post(path, { headers, form: { email: 'x@mail.example' } });
		expect(await answer.text()).not.toMatch(/Second bench|700|7\.00/);
	}
	await page.getByRole('main').getByRole('link', { name: 'Sign in' }).click();
	await expect(page).toHaveURL(/\/sign-in\?next=%2Fplans%2Fsecond-bench$/);

	const { page: holder } = await buyer(browser, 'Rosamund', CARDS.works);
	await holder.goto('/plans');
	await holder.getByRole('link', { name: 'Second bench' }).first().click();
	await expect(holder.getByText('7.00 EUR').first()).toBeVisible();
	await holder.goto('/checkout/second-bench');
	await expect(holder.getByRole('complementary', { name: 'What you buy' })).toContainText('7.00 EUR');
});
