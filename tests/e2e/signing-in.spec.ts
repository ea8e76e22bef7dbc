/** A code from an app on the phone, besides the mailed link: set up, asked for, and what to do when the phone is lost. */
import { expect, type Browser, type Page } from '@playwright/test';
import { codeAt } from '../../src/server/people/second-factor';
import { buyer, CARDS, FRONT, mailTo, owner, test } from './world';

const VETCH = 'vetch@mail.example';

/** Signs in by mail as far as that goes, without any script. */
async function byLink(browser: Browser, next: string): Promise<Page> {
	const page = await (await browser.newContext({ javaScriptEnabled: false })).newPage();
	await page.goto(`/sign-in?find&next=${encodeURIComponent(next)}`);
	const asked = Date.now();
	await page.getByLabel('E-mail address').fill(VETCH);
	await page.getByRole('button', { name: 'Mail me the link' }).click();
	await expect(page.getByRole('status')).toBeVisible();
	const mail = await mailTo(VETCH, /^Sign in to/, asked);
	await page.goto(/\/enter\/[\w-]+/.exec(mail.text)?.[0] ?? '');
	await page.getByRole('button', { name: /^Sign in/ }).click();
	return page;
}

test('a member sets up a code, and from then on neither link nor lost phone lets somebody in without one', async ({
	browser
}) => {
	const bought = await buyer(browser, 'Vetch', CARDS.works);
	// Whoever only paid on the address has to show first that it is theirs.
	await bought.page.goto('/account/second');
	await expect(bought.page.getByText(`First show that the address ${VETCH} is yours`)).toBeVisible();

	const page = await byLink(browser, '/account/details');
	await expect(page).toHaveURL(/\/account\/details$/);
	await page.getByRole('link', { name: 'Set it up' }).click();
	const secret = (await page.locator('code').innerText()).replaceAll(' ', '');
	await expect(page.getByRole('img', { name: 'The picture for the app' })).toBeVisible();
	const code = page.getByLabel('The code that the app shows');
	await code.fill(codeAt(secret, Date.now() - 3_600_000));
	await page.getByRole('button', { name: 'Ask for a code from now on' }).click();
	await expect(page.getByText('This is not the code of now.').first()).toBeVisible();
	// The app has read the picture: a mistake asks for no other.
	expect((await page.locator('code').innerText()).replaceAll(' ', '')).toBe(secret);
	await code.fill(codeAt(secret, Date.now()));
	await page.getByRole('button', { name: 'Ask for a code from now on' }).click();
	await expect(page.getByRole('heading', { name: 'Your recovery codes' })).toBeVisible();
	const codes = await page
		.getByRole('listitem')
		.filter({ hasText: /^(?:\w{4}-){3}\w{4}$/ })
		.allInnerTexts();
	expect(codes).toHaveLength(10);
	await mailTo(VETCH, /^A code is asked for/);
	await bought.page.goto('/account');
	await expect(bought.page).toHaveURL(/\/sign-in/);

	const again = await byLink(browser, '/account/details');
	await expect(again).toHaveURL(/\/sign-in\/code\?next=%2Faccount%2Fdetails$/);
	expect((await again.request.get('/account/details', { maxRedirects: 0 })).status()).toBe(303);
	const asked = again.getByLabel('The code that the app shows');
	await asked.fill(codeAt(secret, Date.now() - 3_600_000));
	await again.getByRole('button', { name: 'Sign in', exact: true }).click();
	await expect(again.getByText('This is neither the code of now').first()).toBeVisible();
	// The code of now was taken when it was set up; the next one counts already.
	await asked.fill(codeAt(secret, Date.now() + 30_000));
	await again.getByRole('button', { name: 'Sign in', exact: true }).click();
	await expect(again).toHaveURL(/\/account\/details$/);
	await expect(again.getByText('A code is asked for, since')).toBeVisible();

	const lost = await byLink(browser, '/account/second');
	await lost.getByLabel('The code that the app shows').fill(codes[4]?.toLowerCase() ?? '');
	await lost.getByRole('button', { name: 'Sign in', exact: true }).click();
	await expect(lost.getByText('9 recovery codes are left.')).toBeVisible();
	await lost.getByLabel('A code from the app, or a recovery code').fill(codes[5] ?? '');
	await lost.getByRole('button', { name: 'Ask for no code any more' }).click();
	await expect(lost.getByText('No code is asked for any more.')).toBeVisible();
	await expect(await byLink(browser, '/account/second')).toHaveURL(/\/account\/second$/);
});

test('nobody asks the staff for a code who has none', async ({ browser }) => {
	const desk = await owner(browser);
	await desk.goto('/desk/settings/staff');
	const asks = desk.getByRole('switch', { name: /Whoever works here is asked for a code/ });
	await asks.click();
	await desk.locator('form[action="?/code"]').getByRole('button', { name: 'Save' }).click();
	await expect(desk.getByText('Set up your own code first').first()).toBeVisible();
	const other = await (await browser.newContext({ baseURL: FRONT })).newPage();
	await other.goto('/sign-in/code');
	await expect(other).toHaveURL(/\/sign-in$/);
});
