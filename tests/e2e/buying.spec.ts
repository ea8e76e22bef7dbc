/** Ways to buy beside a card: by transfer, for nothing, at another price; each as its buyer and the publisher do it. */
import { readFileSync } from 'node:fs';
import { expect, type Browser, type Page } from '@playwright/test';
import { buyer, CARDS, choose, ELSEWHERE, mailTo, OWNER, owner, pay, POSTBOX, select, test } from './world';

const SLUG = 'reading-room';

/** Opens the link of a mail on a device of its own, and presses. */
async function press(page: Page, to: string, subject: RegExp): Promise<void> {
	const link = /http\S+\/enter\/\S+/.exec((await mailTo(to, subject)).text)?.[0];
	await page.goto(link ?? 'about:blank');
	await page.getByRole('button', { name: 'Sign in and open' }).click();
}

const stranger = async (browser: Browser, how: { javaScriptEnabled?: boolean } = {}) =>
	(await browser.newContext(how)).newPage();

async function order(page: Page, name: string): Promise<string> {
	const email = `${name.toLowerCase()}@mail.example`;
	await page.getByLabel('E-mail address').fill(email);
	await page.getByLabel('Your name').fill(name);
	return email;
}

test('a plan is given a second price, and the site a way to pay without a card', async ({ browser }) => {
	const desk = await owner(browser);
	await desk.goto('/desk/plans/new');
	await desk.getByLabel('Name', { exact: true }).fill('Reading room');
	await desk.getByLabel('Amount').fill('10');
	await desk.getByRole('button', { name: /^Create the plan/ }).click();
	await desk.waitForURL(/\/desk\/plans\/[0-9a-f-]{36}/);
	await desk.getByRole('link', { name: 'Another price' }).click();
	await desk.waitForURL(/\/prices\/new$/);
	await desk.getByLabel('Amount').fill('100');
	await desk.getByRole('button', { name: /^Add the price/ }).click();
	await expect(desk.getByRole('alert')).toContainText('Give it a name');
	await desk.getByLabel('What buyers choose it by').fill('By the year');
	await select(desk.getByLabel('Unit', { exact: true }), 'year');
	await desk.getByRole('button', { name: /^Add the price/ }).click();
	await desk.waitForURL(/\/prices\/[0-9a-f-]{36}/);
	await desk.goto('/desk/settings');
	await desk.getByLabel('Terms of sale').fill('javascript:alert(1)');
	await desk.getByRole('button', { name: /^Keep it/ }).click();
	await expect(desk.getByRole('alert')).toContainText('Type a path of this site');
	await desk.getByLabel('Terms of sale').fill('/terms-of-sale');
	await desk.getByLabel('Contact').fill('mailto:desk@fernhollow.example');
	await desk.getByRole('button', { name: /^Keep it/ }).click();
	await expect(desk.getByText('Kept.')).toBeVisible();
	await desk.goto('/desk/settings/money');
	await select(desk.getByLabel('How buyers pay'), 'By card, or without one');
	await desk.getByLabel('What paying without a card is called').fill('By bank transfer');
	await desk.getByRole('button', { name: /^Keep it/ }).click();
	await expect(desk.getByRole('alert')).toContainText('Write how it is paid');
	await desk.getByLabel('How one pays without a card').fill('To account 4711\nat the bank');
	await desk.getByRole('button', { name: /^Keep it/ }).click();
	await expect(desk.getByText('Kept.')).toBeVisible();
});

test('by transfer, without script: nothing opens before the publisher says that the money came in', async ({
	browser
}) => {
	const page = await stranger(browser, { javaScriptEnabled: false });
	await page.goto(`/checkout/${SLUG}`);
	await expect(page.getByText('With the order these count: Terms')).toBeVisible();
	const foot = page.getByRole('contentinfo');
	await expect(foot.getByRole('link', { name: 'Terms' })).toHaveAttribute('href', '/terms-of-sale');
	await expect(foot.getByRole('link', { name: 'Imprint' })).toHaveCount(0);
	await foot.getByRole('link', { name: 'Find my access' }).click();
	await expect(page).toHaveURL(/sign-in/);
	await page.goBack();
	await page.getByRole('radio', { name: /By the year/ }).check();
	await page.getByRole('radio', { name: 'By bank transfer' }).check();
	await page.getByLabel('E-mail address').fill('no address');
	await page.locator('form button').click();
	// What was typed and chosen is there still.
	await expect(page.getByRole('radio', { name: /By the year/ })).toBeChecked();
	await expect(page.getByRole('radio', { name: 'By bank transfer' })).toBeChecked();
	const email = await order(page, 'Zebedee');
	await page.locator('form button').click();
	await expect(page.getByRole('heading', { name: 'Reading room waits for your payment' })).toBeVisible();
	await expect(page.getByText('100.00 EUR')).toBeVisible();
	await expect(page.getByText('To account 4711')).toBeVisible();
	await expect(page.getByRole('status')).toContainText(`We have written to ${email}`);

	const desk = await owner(browser);
	await desk.goto('/desk');
	await expect(desk.getByRole('button', { name: /of Zebedee/ })).toHaveCount(0);
	await press(page, email, /Confirm your order/);
	await expect(page.getByRole('heading', { name: 'Reading room waits for your payment' })).toBeVisible();
	await expect(page.getByRole('status')).toHaveCount(0);
	await page.goto('/account');
	await expect(page.getByText('You have no plan yet.')).toBeVisible();

	await desk.reload();
	await desk.getByRole('button', { name: 'It came in: 100.00 EUR of Zebedee' }).click();
	await expect(desk.getByRole('button', { name: /of Zebedee/ })).toHaveCount(0);
	await mailTo(email, /Reading room is open for you/);
	await page.reload();
	await expect(page.getByRole('article').filter({ hasText: 'Reading room' })).toContainText(
		'100.00 EUR a year'
	);
	await expect(page.getByRole('link', { name: /^R-/ })).toBeVisible();
});

test('an order is refused with a reason that its buyer reads', async ({ browser }) => {
	const page = await stranger(browser);
	await page.goto(`/checkout/${SLUG}`);
	await page.getByRole('radio', { name: 'By bank transfer' }).check();
	// A password would be nobody's: the address is not known to be theirs.
	await expect(page.getByLabel(/Password/)).toHaveCount(0);
	const email = await order(page, 'Barnaby');
	await page.getByRole('button', { name: 'Order for 10.00 EUR' }).click();
	await page.waitForURL(/\/checkout\/return\//);
	await press(page, email, /Confirm your order/);
	const desk = await owner(browser);
	await desk.goto('/desk');
	await desk.getByRole('button', { name: 'Refuse: 10.00 EUR of Barnaby' }).click();
	await desk.getByLabel('Why').fill('Nothing came in a month.');
	await desk.getByRole('button', { name: 'Refuse it' }).click();
	await expect(desk.getByRole('button', { name: /of Barnaby/ })).toHaveCount(0);
	expect((await mailTo(email, /has ended/)).text).toContain('Nothing came in a month.');
	await page.goto('/account');
	await expect(page.getByText('Waits for your payment')).toHaveCount(0);
});

test('joining for nothing: a new address is in at once, and a known one reads the same and gets a mail', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/plans/new');
	await desk.getByLabel('Name', { exact: true }).fill('Letters');
	await desk.getByLabel('Amount').fill('0');
	await desk.getByRole('radio', { name: 'Nothing more' }).click();
	await expect(desk.getByText('Buyers read: free')).toBeVisible();
	await desk.getByRole('button', { name: /^Create the plan/ }).click();
	await desk.waitForURL(/\/desk\/plans\/[0-9a-f-]{36}/);

	const page = await stranger(browser);
	await page.goto('/checkout/letters');
	await expect(page.getByText('How do you pay?')).toHaveCount(0);
	const email = await order(page, 'Perpetua');
	await page.getByRole('button', { name: 'Join for nothing' }).click();
	await expect(page.getByRole('heading', { name: 'Letters waits for you' })).toBeVisible();
	const read = await page.getByRole('main').innerText();
	await page.getByRole('button', { name: 'Open it' }).click();
	await page.waitForURL(/\/account$/);
	await expect(page.getByRole('article').filter({ hasText: 'Letters' })).toContainText('free');
	await mailTo(email, /Letters is open for you/);

	// Somebody else types an address that has an account.
	const other = await stranger(browser);
	await other.goto('/checkout/letters');
	await other.getByLabel('E-mail address').fill('zebedee@mail.example');
	await other.getByLabel('Your name').fill('Nobody');
	await other.getByRole('button', { name: 'Join for nothing' }).click();
	await expect(other.getByRole('heading', { name: 'Letters waits for you' })).toBeVisible();
	expect((await other.getByRole('main').innerText()).replace('zebedee@', 'perpetua@')).toBe(read);
	await other.getByRole('button', { name: 'Open it' }).click();
	await expect(other.getByRole('status')).toContainText('The way in is in the mail to zebedee@mail.example');
	await other.goto('/account');
	await expect(other).toHaveURL(/sign-in/);
	await press(other, 'zebedee@mail.example', /Open Letters/);
	await other.goto('/account');
	await expect(other.getByRole('article').filter({ hasText: 'Letters' })).toBeVisible();
});

test('a first stretch for nothing asks for a card and charges it nothing', async ({ browser }) => {
	const desk = await owner(browser);
	await desk.goto('/desk/plans/new');
	await desk.getByLabel('Name', { exact: true }).fill('Trial bench');
	await desk.getByLabel('Amount').fill('0');
	await desk.getByRole('button', { name: 'Another price or length at first, a fee' }).click();
	await desk.getByRole('button', { name: /^Create the plan/ }).click();
	await expect(desk.getByRole('alert')).toContainText('An amount is more than 0.');
	await desk.getByLabel('Each time after the first').fill('12');
	await desk.getByLabel('The first stretch lasts').fill('2');
	await desk.getByRole('button', { name: /^Create the plan/ }).click();
	await desk.waitForURL(/\/desk\/plans\/[0-9a-f-]{36}/);
	const page = await stranger(browser);
	await page.goto('/checkout/trial-bench');
	await expect(page.getByRole('complementary')).toContainText('free for 2 weeks, then 12.00 EUR a month');
	await order(page, 'Ignatius');
	await page.getByRole('button', { name: 'Go on to give your card' }).click();
	await page.getByLabel(CARDS.works).check();
	await page.getByRole('button', { name: 'Keep this card' }).click();
	await expect(page.getByText('Nothing was charged.')).toBeVisible();
	await page.goto('/account');
	await expect(page.getByRole('article').filter({ hasText: 'Trial bench' })).toContainText(
		'The first stretch ends on'
	);
	await expect(page.getByText('None yet.')).toBeVisible();
});

test('up a ladder one pays what is missing, down one uses what is paid, and never pays for two', async ({
	browser
}) => {
	const desk = await owner(browser);
	for (const [n, [name, amount]] of [
		['Lower bench', '9'],
		['Upper bench', '18']
	].entries()) {
		await desk.goto('/desk/plans/new');
		await desk.getByLabel('Name', { exact: true }).fill(name ?? '');
		await desk.getByLabel('Amount').fill(amount ?? '');
		await desk.getByLabel('Ladder').fill('Benches');
		await desk.getByLabel('Rung').fill(String(n + 1));
		await desk.getByRole('button', { name: /^Create the plan/ }).click();
		await desk.waitForURL(/\/desk\/plans\/[0-9a-f-]{36}/);
	}
	const { page } = await buyer(browser, 'Osric', CARDS.works, 'lower-bench');
	await page.goto('/plans/upper-bench');
	await page.getByRole('link', { name: 'Move to Upper bench' }).click();
	await expect(page.getByRole('heading', { name: 'Move from Lower bench' })).toBeVisible();
	await expect(page.getByText('you have this')).toBeVisible();
	await page.getByRole('link', { name: 'Move to Upper bench' }).click();
	const sum = page.getByRole('table');
	await expect(sum.getByRole('row').first()).toContainText('18.00 EUR');
	await expect(sum).toContainText('What you have not used of Lower bench');
	await expect(sum.getByRole('row').last()).toContainText(/9\.0\d EUR/);
	await page.setViewportSize({ width: 360, height: 700 });
	expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360);
	await page.setViewportSize({ width: 1280, height: 800 });
	// Of two tabs, the first that is pressed counts; the other is shown how it stands.
	const other = await page.context().newPage();
	await other.goto(page.url());
	await pay(page, CARDS.works);
	await page.waitForURL('**/thanks/**');
	await mailTo('osric@mail.example', /You have Upper bench now/);
	await other.getByRole('button', { name: /Go on to pay/ }).click();
	await other.waitForURL(/\/account\/move\/[0-9a-f-]{36}$/);
	await expect(other.getByRole('listitem').filter({ hasText: 'Upper bench' }).first()).toContainText(
		'you have this'
	);
	await page.goto('/account');
	const held = page.getByRole('article').filter({ hasText: 'Upper bench' });
	await expect(held).toContainText('18.00 EUR a month');
	await expect(page.getByRole('article').filter({ hasText: 'Lower bench' })).toHaveCount(0);

	await held.getByRole('link', { name: 'Move to another plan or price' }).click();
	await page.getByRole('link', { name: 'Move to Lower bench' }).click();
	await page.getByRole('button', { name: 'Move to Lower bench then' }).click();
	await expect(page.getByRole('status')).toContainText('Until then everything stays as it is.');
	await expect(held).toContainText(/From \d+ \w+ \d{4} on: Lower bench/);
	await held.getByRole('link', { name: 'Move to another plan or price' }).click();
	await page.getByRole('button', { name: 'Stay with Upper bench' }).click();
	await expect(page.getByRole('status')).toContainText('It stays as it was.');
	await expect(held).not.toContainText('Lower bench');
});

test('a code that gives a plan, typed with an address and without script, opens it there at once, and by the mailed link for good', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/codes');
	const fold = desk.getByRole('button', { name: 'Make codes' });
	if ((await fold.getAttribute('aria-expanded')) === 'false') await fold.click();
	await desk.getByLabel('Name', { exact: true }).fill('Open day');
	await select(desk.getByLabel('Plan', { exact: true }), 'Workshop');
	await desk.getByLabel('For days').fill('7');
	await desk.getByRole('radio', { name: 'One of your own' }).click();
	await desk.getByLabel('The code').fill('open day');
	await desk.getByRole('button', { name: 'Make them' }).click();
	await desk.waitForURL(/\/desk\/codes\/[0-9a-f-]{36}/);

	const page = await stranger(browser, { javaScriptEnabled: false });
	await page.goto('/code');
	await page.getByLabel('Code', { exact: true }).fill('open-day');
	await page.getByRole('button', { name: 'Redeem' }).click();
	await expect(page.getByRole('alert')).toContainText('This code gives you a plan');
	await page.getByLabel('Your e-mail address').fill('Philippa');
	await page.getByRole('button', { name: 'Redeem' }).click();
	await expect(page.getByRole('alert')).toContainText('such as name@host.example');
	await expect(page.getByLabel('Code', { exact: true })).toHaveValue('open-day');
	await page.getByLabel('Your e-mail address').fill('philippa@mail.example');
	await page.getByRole('button', { name: 'Redeem' }).click();
	await expect(page.getByRole('heading', { name: 'Workshop is open' })).toBeVisible();
	await expect(page.getByText(/It stays open until .+\./)).toBeVisible();
	await expect(page.getByRole('status')).toContainText('It is open on this device.');
	const film = async (who: Page) =>
		(await (await who.request.get('/videos/wheel')).text()).includes('<video');
	expect(await film(page)).toBe(true);
	// The address of that page tells nobody else anything.
	expect((await (await stranger(browser)).request.get(new URL(page.url()).pathname)).status()).toBe(404);

	const phone = await stranger(browser);
	await press(phone, 'philippa@mail.example', /Open Workshop/);
	await expect(phone).toHaveURL(/\/videos\/wheel$/);
	await phone.goto('/account');
	await expect(phone.getByText('Given by a code.')).toBeVisible();
	expect(await film(page)).toBe(false);
});

test('a code takes off what it says, also without script: read before paying, on the receipt, in the account, at the Desk', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/codes');
	// Open by itself where there are no codes yet.
	const fold = desk.getByRole('button', { name: 'Make codes' });
	if ((await fold.getAttribute('aria-expanded')) === 'false') await fold.click();
	await desk.getByLabel('Name', { exact: true }).fill('Letter of spring');
	await desk.getByRole('radio', { name: 'It takes something off a price' }).click();
	await desk.getByRole('radio', { name: 'One of your own' }).click();
	await desk.getByLabel('The code').fill('spring 25');
	await desk.getByRole('button', { name: 'Make them' }).click();
	await expect(desk.getByRole('alert')).toContainText('A whole number from 1 to 100.');
	// What was chosen and typed is there still.
	await expect(desk.getByLabel('The code')).toHaveValue('spring 25');
	await desk.getByRole('textbox', { name: 'Percent' }).fill('25');
	await desk.getByRole('radio', { name: 'So many' }).click();
	await desk.getByRole('textbox', { name: 'How many' }).fill('2');
	await expect(desk.getByText('25 % off the first 2 payments')).toBeVisible();
	await desk.getByRole('checkbox', { name: 'Reading room' }).click();
	await desk.getByRole('button', { name: 'Make them' }).click();
	await desk.waitForURL(/\/desk\/codes\/[0-9a-f-]{36}/);
	await expect(desk.getByText('25 % off the first 2 payments, for Reading room.')).toBeVisible();

	const page = await stranger(browser, { javaScriptEnabled: false });
	// Typed where codes are redeemed, it leads to what can be bought.
	await page.goto('/code?code=spring25');
	await page.getByRole('button', { name: 'Redeem' }).click();
	await expect(page).toHaveURL(/\/plans\?code=SPRING25/);
	await page.goto(`/checkout/${SLUG}`);
	const email = await order(page, 'Peregrine');
	await page.getByText('Have you a code?').click();
	await page.getByLabel('Code', { exact: true }).fill('never');
	await page.getByRole('button', { name: 'Use it' }).click();
	await expect(page.getByText('There is no such code.').last()).toBeVisible();
	await expect(page.getByLabel('E-mail address')).toHaveValue(email);
	await page.getByLabel('Code', { exact: true }).fill('SPRING-25');
	// Going on with what has not been shown shows it first.
	await page.locator('form button').click();
	await expect(page.getByText('With SPRING25: 25 % off the first 2 payments.')).toBeVisible();
	await expect(page.getByText('7.50 EUR today')).toBeVisible();
	await pay(page, CARDS.works);
	await expect(page.getByText('7.50 EUR', { exact: false })).toBeVisible();
	await page.goto('/account');
	await expect(page.getByRole('article').filter({ hasText: 'Reading room' })).toContainText('7.50 EUR');
	await page.getByRole('link', { name: /^R-/ }).click();
	await expect(page.getByText('10.00 EUR less 2.50 EUR')).toBeVisible();
	const [file] = await Promise.all([
		page.waitForEvent('download'),
		page.getByRole('link', { name: 'As PDF' }).click()
	]);
	expect(file.suggestedFilename()).toMatch(/^R-\d{4}-\d{5}\.pdf$/);
	await desk.reload();
	await expect(desk.getByRole('row', { name: /SPRING25/ })).toContainText('1');
	const other = await stranger(browser);
	await other.goto(`/checkout/${SLUG}?code=SPRING25`);
	await expect(other.getByText('This code has been used as often as it can be.')).toBeVisible();
});

test('a gift is bought for another address, told by mail, and opens when it is opened there', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/plans/new');
	await desk.getByLabel('Name', { exact: true }).fill('Escapement evenings');
	await desk.getByLabel('Amount').fill('24');
	await desk.getByRole('checkbox', { name: 'It can be bought as a gift' }).check();
	await desk.getByRole('button', { name: /^Create the plan/ }).click();
	await desk.waitForURL(/\/desk\/plans\/[0-9a-f-]{36}/);

	const page = await stranger(browser);
	await page.goto('/plans/escapement-evenings');
	await page.getByRole('link', { name: 'Give it to somebody' }).click();
	await expect(page.getByRole('heading', { name: 'Give Escapement evenings' })).toBeVisible();
	await expect(page.getByText('Opens for one month, from when they open it.')).toBeVisible();
	await page.getByLabel('Their e-mail address').fill('gaspard@mail.example');
	await page.getByLabel('Your words to them').fill('For the winter.');
	await page.getByLabel('Your e-mail address').fill('gaspard@mail.example');
	await page.getByLabel('Your name').fill('Gaspard');
	await page.getByRole('button', { name: /Go on to pay/ }).click();
	await expect(page.getByText('This is your own address.').first()).toBeVisible();
	await expect(page.getByLabel('Your words to them')).toHaveValue('For the winter.');
	await page.getByLabel('Their e-mail address').fill('hedwig@mail.example');
	// A declined card keeps for whom it is.
	await pay(page, CARDS.declined);
	await expect(page.getByRole('alert')).toContainText('declined');
	await expect(page.getByLabel('Their e-mail address')).toHaveValue('hedwig@mail.example');
	await pay(page, CARDS.works);
	await expect(page.getByRole('heading', { name: 'Your gift is paid' })).toBeVisible();
	await page.getByRole('link', { name: 'See it in your account' }).click();
	await expect(page.getByText('You have no plan yet.')).toBeVisible();
	await expect(page.getByText(/Told on .+, not opened yet/)).toBeVisible();

	const heir = await stranger(browser);
	await press(heir, 'hedwig@mail.example', /Gaspard gives you Escapement evenings/);
	await expect(heir.getByText('For the winter.')).toBeVisible();
	await heir.getByRole('button', { name: 'Open it now' }).click();
	await heir.goto('/account');
	await expect(heir.getByRole('article').filter({ hasText: 'Escapement evenings' })).toContainText('A gift.');
	await expect(heir.getByText('24.00')).toHaveCount(0);
	await page.reload();
	await expect(page.getByText(/Opened on/)).toBeVisible();
	await page.getByRole('link', { name: /^R-/ }).click();
	await expect(page.getByText('Escapement evenings, a gift')).toBeVisible();
});

test('a program elsewhere is told who bought and where it is sent, and later what it refused', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/plans/new');
	await desk.getByLabel('Name', { exact: true }).fill('Dial kit');
	await desk.getByLabel('Amount').fill('30');
	await desk.getByRole('checkbox', { name: 'Something of it is sent by post' }).check();
	await desk.getByRole('button', { name: /^Create the plan/ }).click();
	await desk.waitForURL(/\/desk\/plans\/[0-9a-f-]{36}/);
	await desk.goto('/desk/settings/programs/new');
	await desk.getByLabel('The program').fill('Packing table');
	await desk.getByLabel('Its address').fill('http://list.example/told');
	await desk.getByRole('button', { name: 'Make it' }).click();
	await expect(desk.getByRole('alert')).toContainText('begins with https://');
	await desk.getByLabel('Its address').fill(`${ELSEWHERE}/told`);
	await desk.getByRole('button', { name: 'Make it' }).click();
	const said = await desk.getByRole('status').innerText();
	const elsewhere = await stranger(browser);
	await elsewhere.goto(`${ELSEWHERE}/list`);
	await elsewhere.getByLabel('The secret of its calls').fill(/secret: (\S+)/.exec(said)?.[1] ?? '');
	await elsewhere.getByLabel('answers 422').check();
	await elsewhere.getByRole('button', { name: 'Keep it' }).click();
	await desk.getByRole('link', { name: 'On to a trial call' }).click();
	await desk.getByRole('button', { name: 'Make a trial call' }).click();
	await expect(desk.getByText('It answered 422: No list is called that.')).toBeVisible();
	await elsewhere.getByLabel('takes what it is told').check();
	await elsewhere.getByRole('button', { name: 'Keep it' }).click();
	await desk.goto('/desk');
	await desk.getByRole('link', { name: 'Look at it: Packing table' }).click();
	await desk.getByRole('button', { name: 'Send the refused again' }).click();
	await expect(desk.getByText('It answered 200: Taken.')).toBeVisible();

	const page = await stranger(browser);
	await page.goto('/checkout/dial-kit');
	await order(page, 'Bertil');
	await page.getByLabel('Street and number').fill('Millrace 4');
	await page.getByRole('button', { name: /Go on to pay/ }).click();
	await expect(page.getByRole('alert')).toContainText('Type the town.');
	await expect(page.getByLabel('Street and number')).toHaveValue('Millrace 4');
	await page.getByLabel('Name on the parcel').fill('Bertil');
	await page.getByLabel('Town').fill('Vienna');
	await page.locator('[name=postalCountry]').selectOption('AT');
	await pay(page, CARDS.works);
	await expect(page.getByText('What comes by post is sent to:')).toBeVisible();
	await expect(page.getByText('AUSTRIA')).toBeVisible();
	await expect
		.poll(async () => {
			await elsewhere.goto(`${ELSEWHERE}/list`);
			return elsewhere.locator('main').innerText();
		})
		.toMatch(/bertil@mail\.example joined Dial kit[^]*bertil@mail\.example bought Dial kit for 30\.00 EUR/);
	await desk.reload();
	await desk.getByRole('button', { name: 'What is sent' }).nth(1).click();
	await expect(desk.getByText('"street": "Millrace 4"')).toBeVisible();
	await desk.getByRole('button', { name: 'End', exact: true }).click();
	await desk.getByRole('button', { name: 'Tell it nothing more' }).click();
	await expect(desk.getByText('By now: told nothing any more')).toBeVisible();
	await expect(desk.getByRole('button', { name: 'Make a trial call' })).toHaveCount(0);

	await desk.goto('/desk/sales?q=Bertil');
	await desk
		.getByRole('row', { name: /Bertil/ })
		.getByRole('link', { name: /^S-/ })
		.click();
	await desk.getByRole('button', { name: 'Mend it' }).click();
	await desk.getByLabel('Street and number').fill('');
	await desk.getByRole('button', { name: 'Keep it' }).click();
	await expect(desk.getByText('Type the street and the number.')).toBeVisible();
	await desk.getByLabel('Street and number').fill('Quay 1');
	await desk.getByRole('button', { name: 'Keep it' }).click();
	await expect(desk.getByText('Mended.', { exact: false })).toBeVisible();
	await expect(desk.getByRole('definition').filter({ hasText: 'Quay 1' })).toBeVisible();
});

test('plans are put in order by keys, and stand so where they are offered', async ({ browser }) => {
	const desk = await owner(browser);
	await desk.goto('/desk/plans/order');
	const names = () =>
		desk.locator('#editor').getByRole('listitem').locator('span.font-medium').allInnerTexts();
	const before = await names();
	const up = desk.getByRole('button', { name: 'Reading room up' });
	await up.focus();
	for (let n = 0; n < before.indexOf('Reading room'); n++) await desk.keyboard.press('Enter');
	expect((await names())[0]).toBe('Reading room');
	// The keyboard stays where it was, and at the top nothing more happens.
	await expect(up).toBeFocused();
	await desk.keyboard.press('Enter');
	expect((await names())[0]).toBe('Reading room');
	await desk.getByRole('button', { name: 'Keep this order' }).click();
	await desk.waitForURL(/\/desk\/plans$/);
	const page = await stranger(browser);
	await page.goto('/plans');
	await expect(page.getByRole('article').first()).toContainText('Reading room');
});

test('payments are refunded many at once, after what that comes to was said in numbers', async ({
	browser
}) => {
	await buyer(browser, 'Odile', CARDS.works, SLUG);
	await buyer(browser, 'Teodor', CARDS.works, SLUG);
	const desk = await owner(browser);
	await desk.goto('/desk/sales?state=paid');
	await select(desk.getByLabel('Plan', { exact: true }), 'Reading room');
	await expect(desk).toHaveURL(/plan=/);
	await desk.getByRole('checkbox', { name: /Odile$/ }).check();
	await desk.getByRole('checkbox', { name: /Teodor$/ }).check();
	const foot = desk.getByRole('group', { name: 'What is chosen' });
	const ask = async () => {
		await foot.getByRole('button', { name: /^Refund/ }).click();
		await desk.getByRole('radio', { name: 'What they pay for ends, and closes' }).click();
		await desk.getByRole('button', { name: 'Say what that would do' }).click();
		await expect(desk.getByRole('dialog')).toContainText('2 payments go back: 20.00 EUR.');
	};
	await ask();
	await desk.getByRole('button', { name: 'Leave it as it was' }).click();
	await expect(desk.getByRole('row', { name: /Odile/ })).toContainText('Paid');
	await ask();
	await desk.getByRole('button', { name: 'Do it' }).click();
	await expect(foot.getByRole('status')).toContainText('Done with 2 payments.');
	await desk.goto('/desk/sales?state=refunded&q=Teodor');
	await expect(desk.getByRole('row', { name: /Teodor/ })).toContainText('Refunded');
	await expect
		.poll(async () => (await mailTo('odile@mail.example', /on its way back/)).text)
		.toContain('10.00 EUR');
	await desk.goto('/desk/sales/agreements?state=ended');
	await expect(desk.getByRole('row', { name: /Odile/ })).toContainText('ended');
	await desk.goto('/desk/sales/orders?q=Odile');
	await expect(desk.getByRole('row', { name: /Odile/ })).toContainText('Reading room');
});

test('an intake: a place for the first buyer, a list for the next, who is told when there is room, and one first day', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/plans/new');
	await desk.getByLabel('Name', { exact: true }).fill('Winter bench');
	await desk.getByLabel('Amount').fill('50');
	await desk.getByRole('radio', { name: 'Nothing more' }).click();
	await desk.getByText('An intake:').click();
	await desk.getByLabel('For the first buyers alone').fill('0');
	await desk
		.getByRole('group', { name: /^All begin together/ })
		.getByRole('spinbutton')
		.first()
		.click();
	await desk.keyboard.type('010920991000');
	await desk.getByLabel('A waiting list while it cannot be bought').check();
	await desk.getByRole('button', { name: /^Create the plan/ }).click();
	await expect(desk.getByRole('alert')).toContainText('A whole number from 1');
	await desk.getByLabel('For the first buyers alone').fill('1');
	await desk.getByRole('button', { name: /^Create the plan/ }).click();
	await desk.waitForURL(/\/desk\/plans\/[0-9a-f-]{36}/);

	const first = await stranger(browser);
	await first.goto('/checkout/winter-bench');
	await expect(first.getByText('One of 1 places is left.')).toBeVisible();
	await expect(first.getByText('Begins for everybody on 1 Sept 2099')).toBeVisible();
	await order(first, 'Ludmila');
	await pay(first, CARDS.works);
	await first.waitForURL('**/thanks/**');
	await expect(first.getByRole('heading', { name: 'Winter bench is yours' })).toBeVisible();
	await first.getByRole('link', { name: 'To your account' }).click();
	await expect(first.getByRole('article').filter({ hasText: 'Winter bench' })).toContainText('Opens later');
	expect((await mailTo('ludmila@mail.example', /it begins on/)).text).toContain('1 September 2099');

	const next = await stranger(browser, { javaScriptEnabled: false });
	await next.goto('/checkout/winter-bench');
	await next.getByRole('link', { name: 'See Winter bench' }).click();
	await expect(next.getByText('All places are taken by now.')).toBeVisible();
	await next.getByLabel('E-mail address').fill('no address');
	await next.getByRole('button', { name: 'Tell me when it can be bought' }).click();
	await expect(next.getByText('Type your e-mail address')).toBeVisible();
	await next.getByLabel('E-mail address').fill('marit@mail.example');
	await next.getByRole('button', { name: 'Tell me when it can be bought' }).click();
	await expect(next.getByRole('status')).toContainText('A mail is on its way to marit@mail.example');
	const mail = await mailTo('marit@mail.example', /Shall we tell you when Winter bench/);
	await next.goto(/http\S+\/mails\/waiting\/\S+/.exec(mail.text)?.[0] ?? 'about:blank');
	await next.getByRole('button', { name: 'Yes, tell me' }).click();
	await expect(next.getByRole('status')).toContainText('You are on the waiting list');

	await desk.reload();
	await expect(desk.getByText('1 of 1 places taken')).toBeVisible();
	await desk.getByRole('link', { name: 'Who waits' }).click();
	await expect(desk.getByText('marit@mail.example')).toBeVisible();
	await desk.getByRole('link', { name: 'Winter bench' }).click();
	await desk.waitForURL(/\/desk\/plans\/[0-9a-f-]{36}/);
	await desk.getByLabel('For the first buyers alone').fill('2');
	await desk
		.getByRole('button', { name: /^Keep it/ })
		.first()
		.click();
	await expect(desk.getByText('Saved.')).toBeVisible();
	const told = await mailTo('marit@mail.example', /^Winter bench is on sale/);
	await next.goto(/http\S+\/checkout\/winter-bench/.exec(told.text)?.[0] ?? 'about:blank');
	await expect(next.getByRole('heading', { name: 'Buy Winter bench' })).toBeVisible();
	await desk.reload();
	await expect(desk.getByText('Nobody waits for it.')).toBeVisible();
});

test('something is offered after paying, taken by one press without script, and its price is read in dollars', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/plans/new');
	await desk.getByLabel('Name', { exact: true }).fill('Winding key');
	await desk.getByLabel('Amount').fill('5');
	await desk.getByRole('radio', { name: 'Nothing more' }).click();
	await desk.getByRole('button', { name: /^Create the plan/ }).click();
	await desk.waitForURL(/\/desk\/plans\/[0-9a-f-]{36}/);
	await desk.getByRole('link', { name: 'Another price' }).click();
	await desk.waitForURL(/\/prices\/new$/);
	await desk.getByLabel('Amount').fill('6');
	await choose(desk, 'Currency', 'USD', /^USD/);
	await desk.getByRole('radio', { name: 'Nothing more' }).click();
	await desk.getByRole('button', { name: /^Add the price/ }).click();
	await desk.waitForURL(/\/prices\/[0-9a-f-]{36}/);

	await desk.goto('/desk/plans');
	await desk.getByRole('link', { name: /^Reading room/ }).click();
	await desk.getByRole('link', { name: 'What is offered after it' }).click();
	await desk.getByRole('button', { name: 'Offer it' }).click();
	await expect(desk.getByRole('alert')).toContainText('Choose what is offered.');
	await select(desk.getByLabel('What', { exact: true }), /^Winding key: 5\.00 EUR/);
	await desk.getByLabel('What you say of it').fill('It fits every clock of the course.');
	await desk.getByLabel('It costs less there').check();
	await desk.getByLabel('Percent', { exact: true }).last().fill('20');
	await desk.getByRole('button', { name: 'Offer it' }).click();
	await expect(desk.getByText('It is offered from now on.')).toBeVisible();
	await expect(desk.getByText('Nobody has answered yet.')).toBeVisible();

	const page = await stranger(browser, { javaScriptEnabled: false });
	await page.goto(`/checkout/${SLUG}`);
	await order(page, 'Ambrose');
	await pay(page, CARDS.works);
	await page.waitForURL('**/thanks/**');
	await expect(page.getByText('It fits every clock of the course.')).toBeVisible();
	await expect(page.getByText('instead of 5.00 EUR')).toBeVisible();
	await page.getByRole('button', { name: 'Yes, add it for 4.00 EUR' }).click();
	await expect(page.getByRole('status').first()).toContainText('Winding key is yours, too: 4.00 EUR.');
	await expect(page.getByRole('button', { name: 'No, thank you' })).toHaveCount(0);
	await mailTo('ambrose@mail.example', /Winding key is open for you/);
	await page.goto('/account');
	await expect(page.getByRole('article').filter({ hasText: 'Winding key' })).toContainText('Open');
	await desk.reload();
	await expect(desk.getByText('Taken by 1 of 1 who answered.')).toBeVisible();

	const abroad = await stranger(browser, { javaScriptEnabled: false });
	await abroad.goto('/plans/winding-key');
	await expect(abroad.getByRole('article')).toContainText('5.00 EUR');
	await abroad.getByRole('link', { name: 'USD' }).click();
	await expect(abroad.getByRole('article')).toContainText('6.00 USD');
	await abroad.goto('/checkout/winding-key');
	await expect(abroad.getByRole('button', { name: 'Go on to pay 6.00 USD' })).toBeVisible();
	await abroad.goto(`/checkout/${SLUG}`);
	await expect(abroad.getByRole('button', { name: 'Go on to pay 10.00 EUR' })).toBeVisible();
	await expect(abroad.getByRole('status')).toContainText('There is no price in USD');
});

test('a plan is bought for three, whose seats are given, taken from the mailbox and taken back, without script', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/plans/new');
	await desk.getByLabel('Name', { exact: true }).fill('Bench for many');
	await desk.getByLabel('Amount').fill('20');
	await desk.getByLabel('It can be bought for several people').check();
	await desk.getByRole('button', { name: /^Create the plan/ }).click();
	await desk.waitForURL(/\/desk\/plans\/[0-9a-f-]{36}/);

	const page = await stranger(browser, { javaScriptEnabled: false });
	await page.goto('/checkout/bench-for-many');
	await order(page, 'Wilhelmina');
	await page.getByLabel('For how many people?').fill('300');
	await page.getByRole('button', { name: 'Go on to pay 20.00 EUR' }).click();
	await expect(page.getByRole('alert')).toContainText('Type for how many people, from 1 to 200.');
	await page.getByLabel('For how many people?').fill('3');
	// What is paid is read before it is.
	await page.getByRole('button', { name: 'Go on to pay 20.00 EUR' }).click();
	await expect(page.getByText('For all 3 people together.')).toBeVisible();
	await expect(page.getByRole('button', { name: 'Go on to pay 60.00 EUR' })).toBeVisible();
	await pay(page, CARDS.works);
	await page.waitForURL('**/thanks/**');
	await page.goto('/account');
	await page.getByRole('link', { name: 'Its people' }).click();
	await expect(page.getByText('Of 3 seats 2 are free; the first is yours.')).toBeVisible();
	await page.getByLabel('Addresses').fill('gregor@mail.example\nno address');
	await page.getByRole('button', { name: 'Give them a seat' }).click();
	await expect(page.getByText('This is no e-mail address: no')).toBeVisible();
	await expect(page.getByLabel('Addresses')).toHaveValue('gregor@mail.example\nno address');
	await page.getByLabel('Addresses').fill('gregor@mail.example\nhenrike@mail.example');
	await page.getByRole('button', { name: 'Give them a seat' }).click();
	await expect(page.getByRole('status')).toContainText('2 mails are on their way.');

	const other = await stranger(browser);
	await press(other, 'gregor@mail.example', /Wilhelmina has a seat for you: Bench for many/);
	await other.getByRole('button', { name: 'Take it' }).click();
	await other.goto('/account');
	await expect(other.getByRole('article').filter({ hasText: 'Bench for many' })).toContainText(
		'A seat that somebody bought for you.'
	);
	await page.reload();
	await expect(page.getByText(/^Came on/)).toBeVisible();
	await expect(page.getByText(/not come yet/)).toBeVisible();
	await page.getByRole('button', { name: 'Take the seat of gregor' }).click();
	await expect(page.getByRole('status')).toContainText('the seat is free');
	await other.reload();
	await expect(other.getByText('You have no plan yet.')).toBeVisible();
	await page.getByLabel('For how many people in all?').fill('4');
	await page.getByRole('button', { name: 'See what that comes to' }).click();
	await expect(page.getByRole('heading', { name: 'Bench for many, for 4 people' })).toBeVisible();
	await pay(page, CARDS.works);
	await page.goto('/account');
	await page.getByRole('link', { name: 'Its people' }).click();
	await expect(page.getByText('Of 4 seats 2 are free; the first is yours.')).toBeVisible();
	await desk.goto('/desk/sales/orders?q=Wilhelmina');
	await expect(desk.getByRole('row', { name: /for 3 people/ })).toBeVisible();
});

test('the publisher practises: buys as somebody made up, reads the mail, moves time on, and deletes all of it', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/practice?begin=/plans/reading-room');
	await desk.getByRole('button', { name: 'Begin to practise' }).click();
	await desk.waitForURL('**/plans/reading-room');
	await expect(desk.getByRole('note')).toContainText('no money moves');
	await desk.goto('/checkout/reading-room?next=/videos/wheel');
	await expect(desk.getByRole('link', { name: 'Sign in', exact: true }).first()).toBeVisible();
	await order(desk, 'Practised');
	await desk.getByRole('button', { name: /Go on to pay/ }).click();
	await desk.waitForURL('**/desk/practice/pay/**');
	await desk.getByLabel(/^…3220/).check();
	await desk.getByRole('button', { name: /^Pay/ }).click();
	await expect(desk.getByRole('heading')).toHaveText('The bank asks: is it you?');
	await desk.getByRole('button', { name: /^Yes/ }).click();
	await desk.waitForURL('**/thanks/**');
	await expect(desk.getByText('Order PS-10001')).toBeVisible();

	// The Desk shows the practice book alone, and of the site nothing can be changed.
	await desk.goto('/desk/sales/orders');
	await expect(desk.getByRole('row')).toHaveCount(2);
	await expect(desk.getByRole('row', { name: /PS-10001/ })).toContainText('Paid');
	await desk.goto('/desk/library');
	await expect(desk.getByText('while you practise it stays as it is')).toBeVisible();
	await desk.goto('/desk/practice');
	await desk.getByRole('link', { name: /Reading room is open for you/ }).click();
	const link = desk.getByRole('list', { name: 'Links in it' }).getByRole('link', { name: /\/enter\// });
	await expect(link).toBeVisible();
	await desk.getByLabel('Move on by days').fill('40');
	await desk.getByRole('button', { name: 'Move on' }).click();
	await expect(desk.getByRole('status').filter({ hasText: 'fell due' })).toBeVisible();
	await expect(desk.getByRole('region', { name: 'At the processor' }).getByRole('listitem')).toHaveCount(2);
	await desk.getByRole('button', { name: /^Bank/ }).first().click();
	await desk.getByRole('menuitem', { name: 'The buyer’s bank takes it back' }).click();
	await expect(desk.getByText('taken back by the bank')).toBeVisible();

	// Another tab goes over with this one, so that nothing is pressed in the one book and done in the other.
	const tab = await desk.context().newPage();
	await tab.goto('/desk/sales/orders');
	await expect(tab.getByRole('note', { name: 'Practice' })).toBeVisible();
	await desk.getByRole('note', { name: 'Practice' }).getByRole('button', { name: 'Leave practice' }).click();
	await expect(desk.getByRole('heading', { name: 'Practise buying' })).toBeVisible();
	await expect(tab.getByRole('note', { name: 'Practice' })).toBeHidden();
	await expect(tab.getByText('PS-10001')).toBeHidden();
	await tab.close();
	expect(await (await desk.request.get(`${POSTBOX}/api/mails?to=practised@mail.example`)).json()).toEqual([]);

	await expect(desk.getByText(/^1 buyer, 1 order/)).toBeVisible();
	await desk.getByRole('button', { name: 'Delete all of it' }).click();
	await desk.getByRole('alertdialog').getByRole('button', { name: 'Delete all of it' }).click();
	await expect(desk.getByRole('status')).toContainText('Deleted: 1 buyer and 1 order.');
	await expect(desk.getByText('Nothing stands in it.')).toBeVisible();
});

test('several things are bought in one order, without script, and each goes on by itself', async ({
	browser
}) => {
	const desk = await owner(browser);
	for (const [name, amount] of [
		['Dial letters', '4'],
		['Movement letters', '6']
	] as const) {
		await desk.goto('/desk/plans/new');
		await desk.getByLabel('Name', { exact: true }).fill(name);
		await desk.getByLabel('Amount').fill(amount);
		await desk.getByRole('button', { name: /^Create the plan/ }).click();
		await desk.waitForURL(/\/desk\/plans\/[0-9a-f-]{36}/);
	}
	const page = await stranger(browser, { javaScriptEnabled: false });
	await page.goto('/checkout/dial-letters?with=movement-letters');
	await expect(page.getByText('All of it: 10.00 EUR today.')).toBeVisible();
	await page.getByRole('checkbox', { name: /^Movement letters/ }).uncheck();
	const email = await order(page, 'Together');
	await page.getByRole('button', { name: 'Go on to pay 10.00 EUR' }).click();
	// What is paid is read before it is paid, and what was typed stays.
	await expect(page.getByLabel('E-mail address')).toHaveValue(email);
	const details = page.locator('details', { hasText: 'Take something else with it' });
	if (!(await details.evaluate((node: HTMLDetailsElement) => node.open)))
		await details.locator('summary').click();
	await page.getByRole('checkbox', { name: /^Movement letters/ }).check();
	await page.getByRole('button', { name: 'Go on to pay 4.00 EUR' }).click();
	await expect(page.getByText('All of it: 10.00 EUR today.')).toBeVisible();
	await pay(page, CARDS.works);
	await page.waitForURL('**/thanks/**');
	await expect(page.getByRole('heading', { level: 1 })).toHaveText(
		'Open for you: Dial letters, Movement letters'
	);
	await page.goto('/account');
	await expect(page.getByText('10.00 EUR')).toHaveCount(1);
	await expect(page.getByRole('heading', { name: /Dial letters/ })).toBeVisible();
	await expect(page.getByRole('heading', { name: /Movement letters/ })).toBeVisible();
	await page.getByRole('link', { name: /^R-|^I-/ }).click();
	await expect(page.getByRole('row')).toHaveText([/Dial letters/, /Movement letters/, /10\.00 EUR/]);

	await desk.goto('/desk/sales/orders');
	await desk.getByRole('searchbox').fill(email);
	await expect(desk.getByRole('row')).toHaveCount(2);
	await desk.getByRole('row').getByRole('link', { name: /^S-/ }).click();
	await expect(desk.getByRole('button', { name: 'Cancel at the end of what is paid' })).toHaveCount(2);
});

test('prices stand on another site without scripts, and every press leaves the frame', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/plans');
	await desk.getByRole('button', { name: 'Hand it on …' }).click();
	const html = await desk.getByRole('textbox', { name: 'A piece of HTML for another site' }).inputValue();
	expect(html).toContain('/embed/plans"');

	const page = await stranger(browser);
	const [, address = ''] = /src="([^"]+)"/.exec(html) ?? [];
	// The same machine by another name is another site.
	await page.goto(`${ELSEWHERE.replace('127.0.0.1', 'localhost')}/prices`);
	const frame = page.frameLocator('iframe');
	await expect(frame.getByRole('article').first()).toBeVisible();
	const shown = await page.request.get(address);
	expect(await shown.text()).not.toContain('<script type="module"');
	expect(shown.headers()['x-frame-options']).toBeUndefined();
	expect((await page.request.get(new URL('/plans', address).href)).headers()['x-frame-options']).toBe('DENY');
	await frame
		.getByRole('article')
		.filter({ hasText: 'Escapement evenings' })
		.getByRole('link', { name: 'Buy' })
		.click();
	await page.waitForURL(/\/checkout\/escapement-evenings/);
	await expect(page.getByRole('heading', { name: 'Buy Escapement evenings' })).toBeVisible();
	// Chosen ones, in their order; what there is not is left out.
	await page.goto(`${address}?of=escapement-evenings,nothing,${SLUG}`);
	await expect(page.getByRole('article').getByRole('heading')).toHaveText([
		'Escapement evenings',
		'Reading room'
	]);
});

test('whoever signs in lands at what is open, finds their access by address, and takes along what is kept of them', async ({
	browser
}) => {
	const page = await stranger(browser);
	await page.goto('/');
	await page.getByRole('navigation').getByRole('link', { name: 'Find my access' }).click();
	await page.getByLabel('E-mail address').fill('peregrine@mail.example');
	await page.getByRole('button', { name: 'Mail me the link' }).click();
	await expect(page.getByRole('status')).toContainText('peregrine@mail.example');
	await press(page, 'peregrine@mail.example', /Sign in|sign in/);
	await page.waitForURL(({ pathname }) => !pathname.startsWith('/enter'));
	await page.goto('/account/details');
	await page.getByLabel('Pages and mails speak').selectOption('de');
	await page.getByRole('button', { name: 'Save the language' }).click();
	await expect(page.getByRole('status')).toContainText('Seiten und Mails sprechen sie von nun an.');
	await page.goto('/plans');
	await expect(page.locator('html')).toHaveAttribute('lang', 'de');
	expect(await (await (await stranger(browser)).request.get('/plans')).text()).toContain('lang="en"');
	await page.goto('/account/details');
	await page.getByLabel('Seiten und Mails sprechen').selectOption('');
	await page.getByRole('button', { name: 'Sprache speichern' }).click();
	await expect(page.locator('html')).toHaveAttribute('lang', 'en');
	const [file] = await Promise.all([
		page.waitForEvent('download'),
		page.getByRole('link', { name: 'Take it along' }).click()
	]);
	const data = JSON.parse(readFileSync(await file.path(), 'utf8')) as { account: object; orders: object[] };
	expect(data.account).toMatchObject({ email: 'peregrine@mail.example' });
	expect(data.orders).toMatchObject([{ totalMinor: 750, discount: { payments: 2 } }]);
	expect((await (await stranger(browser)).request.get('/account/details/data.json')).url()).toContain(
		'/sign-in'
	);
});

test('tax on top: set by the publisher, said before paying by the buyer’s country, taken off for a business abroad, summed up by quarter', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/settings/tax');
	await desk.getByRole('radio', { name: /Tax comes on top of prices/ }).click();
	await desk.getByRole('combobox', { name: 'Where you pay taxes' }).fill('Germ');
	await desk.getByRole('option', { name: 'Germany' }).click();
	await desk.getByRole('button', { name: /^Keep it/ }).click();
	await expect(desk.getByText('Your own country has no rate for today. Add it.').first()).toBeVisible();
	await desk.getByRole('button', { name: 'Put in those of the European Union' }).click();
	await desk.getByRole('button', { name: /^Keep it/ }).click();
	await expect(desk.getByText('Kept.', { exact: true })).toBeVisible();

	const page = await stranger(browser);
	await page.goto(`/checkout/${SLUG}`);
	await order(page, 'Winifred');
	await page.getByLabel('Password, if you want one').fill('a bell for every hour');
	await page.getByLabel('Country').selectOption('Austria');
	await expect(page.getByText('10.00 EUR, and 2.00 EUR USt: 20% in Austria.')).toBeVisible();
	await page.getByText('I buy for a business').click();
	await page.getByLabel('Tax number of the business').fill('ATU12345676');
	await page.getByLabel('Tax number of the business').press('Tab');
	await expect(page.getByText(/A digit of this number cannot be right/)).toBeVisible();
	await page.getByLabel('Tax number of the business').fill('ATU 12345675');
	await page.getByLabel('Tax number of the business').press('Tab');
	await expect(page.getByText(/Without USt: as a business in Austria/)).toBeVisible();
	await expect(page.getByText('10.00 EUR today')).toBeVisible();
	// Nothing that was typed is lost by it.
	await expect(page.getByLabel('Password, if you want one')).toHaveValue('a bell for every hour');
	await pay(page, CARDS.works);
	await page.goto('/account');
	await page.getByRole('link', { name: /^I-/ }).click();
	await expect(page.getByText(/Reverse charge: the tax is owed by the buyer/)).toBeVisible();

	// Without script the sum is shown before anything is paid.
	const plain = await stranger(browser, { javaScriptEnabled: false });
	await plain.goto(`/checkout/${SLUG}`);
	await order(plain, 'Dunstan');
	await plain.getByLabel('Country').selectOption('France');
	await plain.getByRole('button', { name: 'Go on to pay 11.90 EUR' }).click();
	await expect(plain.getByText('This is what it comes to now. Look at it, then go on.')).toBeVisible();
	await expect(plain.getByText('10.00 EUR, and 2.00 EUR TVA: 20% in France.')).toBeVisible();
	await pay(plain, CARDS.works);
	await expect(plain.getByText('12.00 EUR', { exact: false }).first()).toBeVisible();

	await desk.goto('/desk/sales/tax');
	await expect(desk.getByRole('row', { name: /France/ })).toContainText('2.00 EUR');
	await expect(desk.getByRole('row', { name: /Austria/ })).toContainText('Owed by the buyer');
	const [file] = await Promise.all([
		desk.waitForEvent('download'),
		desk.getByRole('link', { name: 'Every document (CSV)' }).click()
	]);
	expect(readFileSync(await file.path(), 'utf8')).toContain(
		'Winifred,AT,ATU12345675,AT,USt,20,buyer,10.00,0.00,EUR'
	);
});

test('mails are signed with a key that is made at the Desk, once it is written into the names of the domain', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/mail/sender');
	await desk.waitForLoadState('networkidle');
	await desk.getByRole('button', { name: 'Look what stands there' }).click();
	const [spf, dkim] = ['SPF', 'DKIM'].map((name) => desk.getByRole('region', { name }));
	await expect(spf!).toContainText('Missing');
	await desk.getByRole('button', { name: 'Make a key to sign with' }).click();
	await expect(desk.getByText('The key is made.')).toBeVisible();
	await expect(dkim!).toContainText('mails go out unsigned until it does');
	await expect(desk.getByRole('button', { name: 'Make another key' })).toHaveCount(0);
	const [name, text] = [
		await desk.getByLabel('Name (DKIM)', { exact: true }).inputValue(),
		await desk.getByLabel('Text (DKIM)', { exact: true }).inputValue()
	];
	expect(name).toMatch(/^stile1\._domainkey\./);
	await desk.request.post(`${POSTBOX}/names`, { form: { name, text, do: 'add' } });
	await desk.getByRole('button', { name: 'Look again' }).click();
	await expect(desk.getByText('Mails are signed, with the key “stile1”.')).toBeVisible();
	await expect(dkim!).toContainText('Good');

	const since = Date.now();
	const page = await stranger(browser);
	await page.goto('/sign-in');
	await page.getByLabel('E-mail address').fill(OWNER.email);
	await page.getByRole('button', { name: 'Mail me a link instead' }).click();
	expect((await mailTo(OWNER.email, /./, since)).signedBy).toBe(name);

	await desk.goto('/desk');
	await expect(desk.getByText('SPF and DMARC do not stand in the names')).toBeVisible();
	await expect(desk.getByRole('link', { name: 'Look at it: Mails that arrive' })).toBeVisible();
});

test('a mail that comes back is said at the Desk and in the account, and is over once another address is proved', async ({
	browser
}) => {
	const [old, better] = ['petronella@mail.example', 'petronella.vane@mail.example'];
	const { page } = await buyer(browser, 'Petronella', CARDS.works);
	const access = await mailTo(old, /is open for you/);
	const desk = await owner(browser);
	await desk.request.post(`${POSTBOX}/mails/${access.id}/returned`, { form: { story: 'gone' } });

	await desk.goto('/desk/mail/returned');
	await desk.waitForLoadState('networkidle');
	await desk.getByRole('button', { name: 'Look into it now' }).click();
	// It may have been read by itself a moment ago.
	await expect(desk.getByText(/^(Reports read: 1|Nothing new lay in the mailbox)\.$/)).toBeVisible();
	await desk.reload();
	const row = desk.getByRole('listitem').filter({ hasText: old });
	await expect(row).toContainText('Nobody has the address');
	await row.getByRole('link', { name: 'Petronella' }).click();
	await expect(desk.getByText(`Nobody has the address ${old}`)).toBeVisible();
	await desk.goto('/desk');
	await expect(desk.getByText('1 member is not reached by mail any more.')).toBeVisible();

	await page.goto('/account');
	await expect(page.getByText(`Mails to ${old} come back`)).toBeVisible();
	await page.getByRole('link', { name: 'Give another address' }).click();
	await page.getByLabel('Another address').fill(better);
	await page.getByRole('button', { name: 'Write to it' }).click();
	await expect(page.getByRole('status')).toContainText(better);
	const link = /\/account\/address\/[\w-]+/.exec((await mailTo(better, /new address/)).text)?.[0] ?? '';
	await page.goto(link);
	await page.getByRole('button', { name: 'Use this address' }).click();
	await expect(page.getByRole('status')).toContainText(`Your address is ${better} now`);
	await page.locator('#content').getByRole('link', { name: 'Your account' }).click();
	await expect(page.getByText('come back')).toHaveCount(0);

	await desk.goto('/desk/mail/returned');
	await expect(desk.getByText('Every member can be written to')).toBeVisible();
	await desk.goto('/desk/mail?state=gone');
	await expect(desk.getByRole('row', { name: /Petronella/ })).toContainText('Nobody has the address');
});
