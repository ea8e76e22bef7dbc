/** What was free begins to cost something, and one thing is sold alone: from the Desk to a stranger who buys it. */
import { expect } from '@playwright/test';
import { CARDS, owner, pay, select, test } from './world';

test('a page that anyone could read is put behind a plan, then sold alone, and opens to whoever buys it', async ({
	browser
}) => {
	const desk = await owner(browser);
	await desk.goto('/desk/library/new?kind=page');
	await desk.waitForLoadState('networkidle');
	await desk.getByLabel('Title').fill('Winter letter');
	await desk.locator('#description').fill('Keep the oil off the pallets.');
	await desk.getByRole('button', { name: 'Make it' }).click();
	await desk.getByRole('button', { name: 'Publish', exact: true }).click();
	await desk.getByRole('button', { name: 'Do it', exact: true }).click();
	await expect(desk.getByRole('button', { name: 'Take back to a draft' })).toBeVisible();
	const itemPage = desk.url();

	const stranger = await (await browser.newContext()).newPage();
	await stranger.goto('/winter-letter');
	await expect(stranger.getByText('Keep the oil off the pallets.')).toBeVisible();

	await desk.getByRole('link', { name: 'Begin to charge for it' }).click();
	await expect(desk.getByRole('heading', { name: 'From free to paid' })).toBeVisible();
	await desk.getByRole('button', { name: 'Show what it would do' }).click();
	await expect(desk.getByText('Choose the plan that opens it from now on.').first()).toBeVisible();
	await select(desk.getByLabel('The plan', { exact: true }), 'Workshop');
	await desk.getByRole('radio', { name: 'Everybody who has an account' }).click();
	await desk.getByRole('button', { name: 'Show what it would do' }).click();
	await expect(desk.getByText(/members keep what was open to them/)).toBeVisible();
	await expect(desk.getByText(/Would close to the public: Winter letter/)).toBeVisible();
	// Nothing is done before the yes.
	await stranger.reload();
	await expect(stranger.getByText('Keep the oil off the pallets.')).toBeVisible();
	await desk.getByRole('button', { name: 'Do it' }).click();
	await expect(desk.getByText(/members keep it as before/)).toBeVisible();
	await stranger.reload();
	await expect(stranger.getByText('Keep the oil off the pallets.')).toHaveCount(0);

	await desk.goto(itemPage);
	await desk.getByRole('button', { name: 'Sell it alone' }).click();
	await expect(desk.getByText('Type a price, such as 5 or 5.50.')).toBeVisible();
	await desk.getByLabel('Price, paid once').fill('4.50');
	await desk.getByRole('button', { name: 'Sell it alone' }).click();
	await expect(desk.getByText('4.50 EUR once, open for good.')).toBeVisible();

	await stranger.reload();
	await expect(stranger.getByText('This, and nothing else.')).toBeVisible();
	await stranger.getByRole('link', { name: 'Buy Winter letter' }).click();
	await stranger.getByLabel('E-mail address').fill('teasel@mail.example');
	await stranger.getByLabel('Your name').fill('Teasel');
	await pay(stranger, CARDS.works);
	await stranger.waitForURL('**/thanks/**');
	await stranger.goto('/winter-letter');
	await expect(stranger.getByText('Keep the oil off the pallets.')).toBeVisible();
	// It opens nothing else.
	await stranger.goto('/videos/wheel');
	await expect(stranger.locator('video')).toHaveCount(0);
	await desk.goto('/desk/insight/earned?by=item');
	await expect(desk.getByRole('cell', { name: 'Winter letter', exact: true })).toBeVisible();
});
