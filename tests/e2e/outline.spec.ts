/** A course as its outline: written, ordered and filled by keyboard and by mouse. */
import { readFileSync } from 'node:fs';
import { expect, type Locator, type Page } from '@playwright/test';
import { files, owner, test } from './world';

test.describe.configure({ mode: 'serial' });

const titles = (page: Page): Promise<string[]> =>
	page.locator('input[data-row]').evaluateAll((all) => all.map((one) => (one as HTMLInputElement).value));
const row = (page: Page, title: string): Locator => page.getByRole('group', { name: title, exact: true });
const title = (page: Page, of: string): Locator => row(page, of).getByRole('textbox');
const kept = (page: Page): Promise<void> => expect(page.getByText('Being kept …')).toHaveCount(0);

async function openCourse(page: Page): Promise<void> {
	await page.goto('/desk/library?q=Turning');
	await page.getByRole('link', { name: 'Turning on the lathe' }).click();
	await expect(page.getByRole('heading', { name: 'Turning on the lathe' })).toBeVisible();
}

test('a course of 12 lessons is written in under 20 presses', async ({ browser }) => {
	const page = await owner(browser);
	await page.addInitScript(() => {
		const count = () =>
			sessionStorage.setItem('presses', String(Number(sessionStorage.getItem('presses') ?? 0) + 1));
		addEventListener('pointerdown', count, true);
		// A space in a title is a letter of it.
		const isTyped = ({ key, target }: KeyboardEvent) => key === ' ' && target instanceof HTMLInputElement;
		const isPress = (event: KeyboardEvent) => (event.key === 'Enter' || event.key === ' ') && !isTyped(event);
		addEventListener('keydown', (event) => isPress(event) && count(), true);
	});
	await page.goto('/desk/library/new?kind=course');
	await page.waitForLoadState('networkidle');
	await page.getByLabel('Title').click();
	await page.keyboard.type('Turning on the bench');
	await page.keyboard.press('Enter');
	await expect(page).toHaveURL(/\/desk\/library\/[0-9a-f-]{36}/);
	for (let n = 1; n <= 12; n++) {
		await expect(page.locator('input[data-row]').nth(n - 1)).toBeFocused();
		await page.keyboard.type(`Lesson ${n}`);
		await page.keyboard.press('Enter');
	}
	await kept(page);
	expect(await page.evaluate(() => Number(sessionStorage.getItem('presses')))).toBeLessThan(20);
	await page.reload();
	await expect.poll(() => titles(page)).toEqual(Array.from({ length: 12 }, (_, n) => `Lesson ${n + 1}`));
	await title(page, 'Lesson 1').fill('The bed');
	await page.keyboard.press('ArrowDown');
	await page.getByLabel('Title', { exact: true }).fill('Turning on the lathe');
	await page.keyboard.press('Control+s');
	await expect(page.getByText('Kept', { exact: false }).first()).toBeVisible();
	await page.reload();
	await expect.poll(async () => (await titles(page))[0]).toBe('The bed');
});

test('rows are ordered by keys and by dragging, and go from section to section', async ({ browser }) => {
	const page = await owner(browser);
	await openCourse(page);
	await title(page, 'Lesson 12').focus();
	// An empty row after the last one becomes a section.
	await page.keyboard.press('Enter');
	await page.keyboard.press('Shift+Tab');
	await page.keyboard.type('Finishing');
	await page.keyboard.press('Enter');
	await page.keyboard.type('Polish');
	await title(page, 'Lesson 12').focus();
	await page.keyboard.press('Alt+ArrowDown');
	await expect(title(page, 'Lesson 12')).toBeFocused();
	await title(page, 'The bed').focus();
	await page.keyboard.press('Alt+ArrowDown');
	await kept(page);
	await page.reload();
	await expect
		.poll(() => titles(page))
		.toEqual([
			...['Lesson 2', 'The bed', ...Array.from({ length: 9 }, (_, n) => `Lesson ${n + 3}`)],
			...['Finishing', 'Lesson 12', 'Polish']
		]);

	const handle = row(page, 'Lesson 2').getByRole('button', { name: /^Move/ });
	const from = (await handle.boundingBox())!;
	const to = (await row(page, 'Lesson 4').boundingBox())!;
	await page.mouse.move(from.x + 6, from.y + 8);
	await page.mouse.down();
	await page.mouse.move(from.x + 8, from.y + 30, { steps: 5 });
	await page.mouse.move(from.x + 8, to.y + to.height - 4, { steps: 15 });
	await expect(page.locator('input[data-row]').nth(0)).toHaveValue('The bed');
	const moved = page.waitForResponse((answer) => answer.url().includes('?/outline'));
	await page.mouse.up();
	expect((await moved).status()).toBe(200);
	await kept(page);
	await page.reload();
	const now = await titles(page);
	expect(now.indexOf('Lesson 2')).toBeGreaterThan(now.indexOf('Lesson 3'));

	// Esc, then Tab leaves; Tab alone would move the row.
	await title(page, 'Polish').focus();
	await page.keyboard.press('Escape');
	await page.keyboard.press('Tab');
	await expect(page.getByRole('link', { name: 'Open Polish' })).toBeFocused();
	await page.getByRole('link', { name: 'Open Polish' }).press('Enter');
	await expect(page.getByLabel('Title', { exact: true })).toHaveValue('Polish');
	await expect(title(page, 'Lesson 12')).toBeVisible();
});

test('a film that is dropped on a row becomes its content, and several become lessons in their order', async ({
	browser
}) => {
	const page = await owner(browser);
	await openCourse(page);
	const { silent } = files();
	const film = readFileSync(silent).toString('base64');
	const drop = async (on: Locator, names: string[]) => {
		const dataTransfer = await page.evaluateHandle(
			([names, film]) => {
				const data = new DataTransfer();
				const bytes = Uint8Array.from(atob(film), (letter) => letter.charCodeAt(0));
				for (const name of names) data.items.add(new File([bytes], name, { type: 'video/mp4' }));
				return data;
			},
			[names, film] as const
		);
		await on.dispatchEvent('drop', { dataTransfer });
	};
	await drop(row(page, 'The bed'), ['bed.mp4']);
	await expect(row(page, 'The bed').getByText('0:04')).toBeVisible({ timeout: 60_000 });
	await drop(row(page, 'Polish'), ['10 rouge.mp4', '9 buff.mp4']);
	await kept(page);
	await expect(row(page, '9 buff').getByText('0:04')).toBeVisible({ timeout: 60_000 });
	await expect(row(page, '10 rouge').getByText('0:04')).toBeVisible({ timeout: 60_000 });
	await page.reload();
	await expect
		.poll(async () => (await titles(page)).slice(-4))
		.toEqual(['Lesson 12', 'Polish', '9 buff', '10 rouge']);
});
