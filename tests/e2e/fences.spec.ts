/** Closing and opening at the Desk, by mouse and by keyboard, and what members and strangers find of it. */
import { expect, type Page } from '@playwright/test';
import { ALL_PERMISSIONS, areasOf } from '../../src/core/staff/permissions';
import { settingPlaces } from '../../src/ui/settings-places';
import { buyer, CARDS, choose, FRONT, mailTo, moveClock, owner, select, test } from './world';

test.describe.configure({ mode: 'serial' });

const SECRET = 'Count the clicks and write them down';

async function agree(page: Page): Promise<void> {
	await page.getByRole('button', { name: 'Do it', exact: true }).click();
}

async function make(
	page: Page,
	kind: string,
	title: string,
	over: { text?: string; home?: string; address?: string } = {}
): Promise<void> {
	await page.goto(`/desk/library/new?kind=${kind}`);
	// What is typed before the scripts have run is lost to them.
	await page.waitForLoadState('networkidle');
	await page.getByLabel('Title').fill(title);
	if (over.address) await page.getByLabel('Address').fill(over.address);
	if (over.text) await page.locator('#description').fill(over.text);
	if (over.home) {
		await choose(page, 'Lives in', over.home, over.home);
		await expect(page.locator('input[name=home]').last()).toHaveValue(/[0-9a-f-]{36}/);
	}
	await page.getByRole('button', { name: 'Make it' }).click();
	await page.getByRole('button', { name: 'Publish', exact: true }).click();
	const yes = page.getByRole('button', { name: 'Do it', exact: true });
	await expect(yes.or(page.getByRole('button', { name: 'Take back to a draft' }))).toBeVisible();
	if (await yes.isVisible()) await yes.click();
	await expect(page.getByRole('button', { name: 'Take back to a draft' })).toBeVisible();
}

test('a course with sections and lessons is made, labelled and closed by one fence', async ({ browser }) => {
	const page = await owner(browser);
	await page.goto('/desk/library/labels');
	await page.getByLabel('A new category').fill('Going train');
	await page.getByRole('button', { name: 'Add' }).first().click();
	await expect(page.getByText('Going train is there.')).toBeVisible();
	await make(page, 'course', 'Pendulum', { address: '/courses/pendulum' });
	await make(page, 'section', 'Taking apart', { home: 'Pendulum' });
	for (const title of ['First screw', 'Mainspring', 'Plates'])
		await make(page, 'lesson', title, {
			text: `${SECRET}: ${title}`,
			home: 'Taking apart'
		});

	await page.goto('/desk/fences/new');
	await page.waitForLoadState('networkidle');
	await page.getByLabel('Name', { exact: true }).fill('Pendulum lessons');
	await select(
		page.getByLabel('What it catches', { exact: true }),
		'Everything in a collection or below a page'
	);
	await choose(page, 'The collection or page', 'pend', /Pendulum/);
	await page.getByLabel('Its own page too').uncheck();
	await expect(page.getByText('It catches 4 items.')).toBeVisible();
	await page.getByPlaceholder('/courses/clock/strike').fill('/courses/pendulum/mainspring');
	await page.getByLabel('Does it catch this address?').fill(`${FRONT}/courses/pendulum`);
	await expect(page.getByText('No.', { exact: true })).toBeVisible();
	await page.getByRole('button', { name: '+ Holders of a plan' }).click();
	// Nobody is chosen silently.
	await page.getByRole('checkbox', { name: 'Workshop', exact: true }).check();
	await page.getByRole('button', { name: 'Put up the fence' }).click();
	await expect(page.getByText('What putting up “Pendulum lessons” would do')).toBeVisible();
	await expect(page.getByText(/members? would gain access now/)).toBeVisible();
	await agree(page);
	await expect(page).toHaveURL(/\/desk\/fences\/[0-9a-f-]{36}/);
	await expect(
		page.getByRole('link', {
			name: /Pendulum lessons on Closes everything in the course Pendulum; holders of Workshop/
		})
	).toBeVisible();
});

test('a stranger reads the outside of the course, and nothing of its lessons, whichever list is asked', async ({
	page,
	request
}) => {
	await page.goto('/courses/pendulum');
	await expect(page.getByRole('heading', { name: 'Taking apart' })).toBeVisible();
	await page.getByRole('link', { name: 'Mainspring' }).click();
	await expect(page.getByRole('heading', { name: 'This is closed to visitors' })).toBeVisible();
	await expect(page.getByRole('link', { name: 'First screw' })).toBeVisible();
	for (const path of [
		'/',
		'/sitemap.xml',
		'/courses/pendulum/mainspring',
		'/courses/pendulum/mainspring/__data.json',
		'/courses/pendulum/__data.json'
	])
		expect(await (await request.get(path)).text(), path).not.toContain(SECRET);
	expect(await (await request.get('/sitemap.xml')).text()).toContain('/courses/pendulum');
});

test('releases are laid out, dragged and moved by keys, rehearsed and saved', async ({ browser }) => {
	const page = await owner(browser);
	await page.goto('/desk/releases');
	await page.waitForLoadState('networkidle');
	await page.getByRole('button', { name: 'What can be done with Taking apart' }).click();
	await page.getByRole('menuitem', { name: 'Lay out what is in it' }).click();
	await page.getByRole('button', { name: 'Lay it out' }).click();
	await expect(page.getByText('Changed: 3 releases')).toBeVisible();
	const plates = page.getByRole('slider', { name: /Plates/ });
	await expect(plates).toHaveAttribute('aria-valuetext', 'after 2 weeks');
	await plates.focus();
	await page.keyboard.press('ArrowRight');
	await expect(plates).toHaveAttribute('aria-valuetext', 'after 3 weeks');
	// What has no end is shortened from where the board ends, after 20 weeks.
	await page.keyboard.press('Shift+ArrowLeft');
	await expect(plates).toHaveAttribute('aria-valuetext', 'after 3 weeks, for 16 weeks');
	await page.keyboard.press('Enter');
	await page.getByRole('textbox', { name: 'Closes after, how many' }).fill('4');
	await page.getByRole('button', { name: 'Take it' }).click();
	await expect(plates).toHaveAttribute('aria-valuetext', 'after 3 weeks, for 4 weeks');
	await expect(plates).toBeFocused();

	const spring = page.getByRole('slider', { name: /Mainspring/ });
	const track = (await spring.boundingBox())!;
	const drag = async (from: number, to: number) => {
		await page.mouse.move(track.x + ((from + 0.3) * track.width) / 20, track.y + 20);
		await page.mouse.down();
		await page.mouse.move(track.x + ((to + 0.3) * track.width) / 20, track.y + 20, { steps: 4 });
	};
	await drag(1, 9);
	await expect(spring).toHaveAttribute('aria-valuetext', 'after 9 weeks');
	await page.keyboard.press('Escape');
	await expect(spring).toHaveAttribute('aria-valuetext', 'after 1 week');
	await page.mouse.up();
	await drag(1, 2);
	await page.mouse.up();
	await expect(spring).toHaveAttribute('aria-valuetext', 'after 2 weeks');

	await page.getByRole('button', { name: /^Keep it/ }).click();
	await expect(
		page.getByText('What the releases of “First screw” and 2 more would do for Workshop')
	).toBeVisible();
	const table = await page.request.get(
		(await page.getByRole('link', { name: /All of it as a table/ }).getAttribute('href')) ?? ''
	);
	expect(await table.text()).toContain('Plates,loses later');
	await agree(page);
	await expect(page.getByText('Kept.', { exact: true })).toBeVisible();
	await page.reload();
	await expect(plates).toHaveAttribute('aria-valuetext', 'after 3 weeks, for 4 weeks');
});

test('a release where no fence lets the plan in is a warning with its mend, and what is kept can be put back', async ({
	browser
}) => {
	const page = await owner(browser);
	await make(page, 'page', 'Opening hours', { text: 'Daily', address: '/hours' });
	await page.goto('/desk/releases');
	await page.waitForLoadState('networkidle');
	await page.getByRole('searchbox').fill('plattes');
	await expect(page.getByRole('list', { name: 'Release board' }).getByRole('slider')).toHaveCount(3);
	await page.getByRole('searchbox').fill('');
	const open = page.getByRole('slider', { name: /^Opening hours,/ });
	await open.focus();
	await page.keyboard.press('ArrowRight');
	await expect(open).toHaveAttribute('aria-valuetext', /after 1 week\. .* does nothing\.$/);
	await page.getByRole('button', { name: /^Keep it/ }).click();
	await expect(page.getByText('Kept.', { exact: true })).toBeVisible();
	const mend = page.getByRole('link', { name: /^Fence it for/ });
	await expect(mend).toBeVisible();
	const led = await page.context().newPage();
	await led.goto((await mend.getAttribute('href')) ?? '');
	await expect(led.getByText('Opening hours', { exact: true }).first()).toBeVisible();
	await expect(led.getByRole('checkbox', { name: 'Workshop' })).toBeChecked();
	await page.getByRole('button', { name: 'Put back what stood there before' }).click();
	await expect(open).toHaveAttribute('aria-valuetext', 'as what it is in');
	await page.getByRole('button', { name: /^Keep it/ }).click();
	await expect(mend).toHaveCount(0);
});

test('a new member is let into the first lesson, told when the next opens, and let in when it does', async ({
	browser
}) => {
	const { page } = await buyer(browser, 'Tamsin', CARDS.works);
	await page.goto('/courses/pendulum/first-screw');
	await expect(page.getByText(`${SECRET}: First screw`)).toBeVisible();
	await page.getByRole('link', { name: 'Mainspring' }).click();
	await expect(page.getByRole('heading', { name: 'This opens for you later' })).toBeVisible();
	await expect(page.getByText(/Opens later on/)).toBeVisible();
	const desk = await owner(browser);
	await moveClock(desk, 15);
	await page.reload();
	await expect(page.getByText(`${SECRET}: Mainspring`)).toBeVisible();
});

test('the member’s page follows the time rail, and every mark says why', async ({ browser }) => {
	const page = await owner(browser);
	await page.goto('/desk/members?q=tamsin');
	await page.getByRole('link', { name: 'Tamsin' }).click();
	const row = page
		.getByRole('region', { name: 'What this member can open' })
		.locator('li')
		.filter({ hasText: 'Plates' });
	await expect(row.getByText(/Opens later/)).toBeVisible();
	await row.getByRole('button').click();
	await expect(page.getByText(/its release opens/)).toBeVisible();
	await expect(page.getByRole('link', { name: 'Edit the release' })).toBeVisible();
	await page.keyboard.press('Escape');
	await page.keyboard.press(']');
	await expect(row.getByText(/^Open(?!s)/)).toBeVisible();
	await page.keyboard.press('n');
	await expect(row.getByText(/Opens later/)).toBeVisible();
	await page.getByLabel('As of').focus();
	for (let n = 0; n < 3; n++) await page.keyboard.press('PageDown');
	await expect(page).toHaveURL(/asof=\d+/);
	await expect(page.getByLabel(/by the rules of then/)).toBeVisible();
});

test('the other side shows the front as somebody else, for looking only', async ({ browser }) => {
	const page = await owner(browser);
	await page.goto('/desk/library?q=mainspring');
	await page.getByRole('link', { name: /Mainspring/ }).click();
	// Keys are heard once the scripts run.
	await page.waitForLoadState('networkidle');
	await page.keyboard.press('o');
	const front = page.frameLocator('iframe[title="The front, as somebody else"]');
	await expect(front.getByRole('heading', { name: 'This is closed to visitors' })).toBeVisible();
	await expect(front.getByText('For looking only')).toBeVisible();
	await select(page.getByLabel('Look as'), 'as a holder of');
	await page.getByLabel('Days ago').fill('30');
	await expect(front.getByText(`${SECRET}: Mainspring`)).toBeVisible();
	await select(page.getByLabel('Look as'), 'as a member');
	await choose(page, 'Member', 'tams', /Tamsin/);
	await expect(front.getByText(/as Tamsin/)).toBeVisible();
	const address = (await page.locator('iframe').getAttribute('src')) ?? '';
	const account = await page.request.get(address.replace('/courses/pendulum/mainspring', '/account'));
	expect(await account.text()).not.toContain('tamsin@mail.example');
	expect(account.headers()['set-cookie']).toBeUndefined();
	const post = await page.request.post(address, { headers: { origin: FRONT }, form: {} });
	expect(post.status()).toBe(405);
	const stranger = await (await browser.newContext()).newPage();
	expect((await stranger.request.get(address)).status()).toBe(404);
	await page.keyboard.press('Escape');
	await expect(page.locator('iframe')).toHaveCount(0);

	// Where the page has no rail, the panel has one of its own.
	await page.goto('/desk/plans');
	await page.waitForLoadState('networkidle');
	await page.keyboard.press('o');
	const panel = page.getByRole('complementary', { name: 'The other side' });
	await select(panel.getByLabel('Look as'), 'as a holder of');
	await panel.getByRole('textbox', { name: 'Path' }).fill('/courses/pendulum/mainspring');
	await expect(front.getByRole('heading', { name: 'This opens for you later' })).toBeVisible();
	await panel.getByLabel('Days ago').fill('13');
	await panel.getByRole('button', { name: /Next change/ }).click();
	await expect(front.getByText(`${SECRET}: Mainspring`)).toBeVisible();
});

test('Settings say what single standings get by default, and refuse to send anybody in a circle', async ({
	browser
}) => {
	const page = await owner(browser);
	await page.goto('/desk/settings/access');
	await page.waitForLoadState('networkidle');
	await page.getByRole('button', { name: 'Those who have used it up' }).click();
	const own = page.getByRole('region', { name: 'Those who have used it up' });
	await page.getByRole('button', { name: /^Keep it/ }).click();
	await expect(page.getByText(/Write the notice, or choose another way/).first()).toBeVisible();
	await select(own.getByLabel('How'), 'Sent elsewhere');
	await own.getByLabel('To this path').fill('/courses/pendulum/plates');
	await page.getByRole('button', { name: /^Keep it/ }).click();
	await expect(page.getByText(/sent to a page that is closed to them too/).first()).toBeVisible();
	await own.getByLabel('To this path').fill('/plans');
	await page.getByRole('button', { name: /^Keep it/ }).click();
	await expect(page.getByText('Kept.', { exact: true })).toBeVisible();
	await page.reload();
	await expect(page.getByRole('heading', { name: 'Those who have used it up' })).toBeVisible();
});

test('a setting is found by typing, and the keyboard is led to it; each of the staff chooses their mails', async ({
	browser
}) => {
	const page = await owner(browser);
	await page.goto('/desk/settings/programs');
	await page.waitForLoadState('networkidle');
	await page.getByLabel('Find in the settings').fill('curency');
	const found = page.getByRole('list', { name: 'Settings found' });
	await found.getByRole('link', { name: /Currency for new prices/ }).press('Enter');
	await expect(page.getByLabel('Currency for new prices', { exact: true })).toBeFocused();
	await page.getByLabel('Find in the settings').fill('curency xylophone');
	await expect(found).toHaveText('No setting is called that.');

	await page.goto('/desk');
	await page.waitForLoadState('networkidle');
	for (const { label, href } of settingPlaces(areasOf(ALL_PERMISSIONS), true)) {
		await page.goto(href);
		const id = new URL(href, FRONT).hash.slice(1);
		await expect(page.locator(`#${id}, [data-field="${id}"]`).first(), label).toBeAttached();
	}

	await page.getByRole('button', { name: 'More' }).click();
	await page.getByRole('menuitem', { name: 'Mails to you' }).click();
	await page.waitForLoadState('networkidle');
	const joins = page.getByRole('radiogroup', { name: 'Who joins' });
	await expect(joins.getByRole('radio', { name: 'Once a day' })).toBeChecked();
	await joins.getByRole('radio', { name: 'At once' }).click();
	await page.keyboard.press('Control+s');
	await expect(page.getByText('Kept.', { exact: true })).toBeVisible();
	await page.reload();
	await expect(joins.getByRole('radio', { name: 'At once' })).toBeChecked();
});

test('a fence says what its change would do, keeps two editors apart, and is switched off and on', async ({
	browser
}) => {
	const [one, two] = [await owner(browser), await owner(browser)];
	for (const page of [one, two]) {
		await page.goto('/desk/fences');
		await page.getByRole('link', { name: /Pendulum lessons/ }).click();
		await page.getByRole('heading', { name: 'Pendulum lessons' }).waitFor();
	}
	await one.getByLabel('Name', { exact: true }).fill('Lessons of the pendulum');
	await one.getByRole('button', { name: /^Keep it/ }).click();
	await expect(one.getByText('Saved. It counts from now on.')).toBeVisible();
	await two.getByLabel('Name', { exact: true }).fill('Something else');
	await two.getByRole('button', { name: /^Keep it/ }).click();
	await expect(two.getByText('Somebody else saved this fence while you were editing it')).toBeVisible();
	await expect(two.getByLabel('Name', { exact: true })).toHaveValue('Something else');

	await one.getByRole('switch', { name: 'On', exact: true }).uncheck();
	await one.getByRole('button', { name: /^Keep it/ }).click();
	await expect(one.getByText(/members? would lose access now/)).toBeVisible();
	await one.getByRole('switch', { name: 'On', exact: true }).check();
	await select(one.getByLabel('What it catches', { exact: true }), 'Paths that a pattern matches');
	await one.getByRole('textbox', { name: 'Pattern' }).fill('(?=x)');
	await expect(one.getByText(/Look-arounds and back references are not taken/)).toBeVisible();
	await one.getByRole('textbox', { name: 'Pattern' }).fill('^/courses/pendulum/p');
	await expect(one.getByText('It catches 1 item.')).toBeVisible();
	await expect(one.getByText('no longer caught').first()).toBeVisible();
	await expect(one.getByText(/does not hold on to the beginning and the end/)).toBeVisible();
});

test('many items are changed at once: every action says what it would do, and its yes is to that action alone', async ({
	browser
}) => {
	const page = await owner(browser);
	const states = async () => {
		await page.goto('/desk/library?q=Plates&state=archived');
		const plates = await page.getByRole('link', { name: /^Plates/ }).count();
		await page.goto('/desk/library?q=screw&state=archived');
		return [plates, await page.getByRole('link', { name: /^First screw/ }).count()];
	};
	await page.goto('/desk/library?kind=lesson');
	await page.waitForLoadState('networkidle');
	await page.getByLabel('Choose Plates').check();
	await page.getByLabel('Choose First screw').check();
	await expect(page.getByText('2 chosen')).toBeVisible();

	await page.getByRole('button', { name: 'Archive' }).click();
	await expect(page.getByRole('heading', { name: 'Archive 2 items?' })).toBeVisible();
	await expect(page.getByText(/would lose access now/).first()).toBeVisible();
	// Another action after the question was left: it is asked for itself, and the first is not done.
	await page.getByRole('button', { name: 'Leave it as it was' }).click();
	await page.getByRole('button', { name: 'To drafts' }).click();
	await expect(page.getByRole('heading', { name: 'Take 2 items back to drafts?' })).toBeVisible();
	await expect(page.locator('input[type=hidden][name=do]')).toHaveValue('draft');
	expect(await states()).toEqual([0, 0]);

	await page.goto('/desk/library?kind=lesson');
	await page.waitForLoadState('networkidle');
	await page.getByLabel('Choose Plates').check();
	await page.getByLabel('Choose First screw').check();
	await page.getByRole('button', { name: 'Archive' }).click();
	await agree(page);
	await expect(page.getByText('2 items changed.')).toBeVisible();
	expect(await states()).toEqual([1, 1]);

	await page.goto('/desk/library?kind=lesson&state=archived');
	await page.waitForLoadState('networkidle');
	await page.getByLabel('All of them').check();
	await page.getByRole('button', { name: 'Publish', exact: true }).click();
	await expect(page.getByText(/would gain access now/).first()).toBeVisible();
	await agree(page);
	await expect(page.getByText('2 items changed.')).toBeVisible();
	expect(await states()).toEqual([0, 0]);
	// A label moves nobody here: it is set at once.
	await page.goto('/desk/library?kind=lesson');
	await page.waitForLoadState('networkidle');
	await page.getByLabel('Choose Plates').check();
	await page.getByRole('button', { name: 'Label …' }).click();
	await select(page.getByLabel('Category for them'), 'Going train');
	await page.getByRole('button', { name: 'Set category' }).click();
	await expect(page.getByText('One item changed.')).toBeVisible();
});

test('access is checked for any member, item, address and moment, by hand and by the API', async ({
	browser,
	request
}) => {
	const page = await owner(browser);
	await page.goto('/desk/check');
	await choose(page, 'Who', 'tams', /Tamsin/);
	await choose(page, 'What', 'plates', /Plates/);
	await expect(page.getByText(/Tamsin, “Plates”/)).toBeVisible();
	await expect(page.getByRole('heading', { name: 'Over time' })).toBeVisible();
	await page.goto(page.url().replace(/member=[^&]+&?/, ''));
	await expect(page.getByRole('heading', { name: 'All members, and “Plates”' })).toBeVisible();
	await page
		.locator('li')
		.filter({ has: page.getByRole('link', { name: 'Tamsin' }) })
		.getByRole('button')
		.click();
	await expect(page.getByText(/its release opens/)).toBeVisible();
	await page.keyboard.press('Escape');
	const csv = await page.request.get(
		(await page.getByRole('link', { name: /As a table/ }).getAttribute('href')) ?? ''
	);
	expect(await csv.text()).toContain('Tamsin,Opens later');
	await page.goto('/desk');
	await page.waitForLoadState('networkidle');
	await page.keyboard.press('Control+k');
	await page.getByPlaceholder(/^Anything/).fill('tamsin plates');
	await expect(page.getByText('Tamsin: Plates')).toBeVisible();

	await page.goto('/desk/settings/programs');
	await page.getByLabel('A new key for').fill('Our own site');
	await page.getByRole('button', { name: 'Make a key' }).click();
	const key = (await page.getByText(/^stile_/).textContent()) ?? '';
	const ask = (data: object, token = key) =>
		request.post('/api/v1/decisions', { data, headers: { authorization: `Bearer ${token}` } });
	expect((await ask({ address: '/courses/pendulum/plates' }, 'wrong')).status()).toBe(401);
	const answer = await (
		await ask({ member: 'tamsin@mail.example', address: '/courses/pendulum/plates' })
	).json();
	expect(answer).toMatchObject({ verdict: 'opens-later', address: '/courses/pendulum/plates' });
	expect(answer.why.map((step: { code: string }) => step.code)).toContain('window-later');
	expect(await (await ask({ address: '/courses/pendulum/plates', at: 'soon' })).json()).toMatchObject({
		error: 'bad-moment'
	});
	expect(await (await ask({ address: '/sign-in' })).json()).toMatchObject({ verdict: 'open' });
});

test('a fence for everyone signed in offers strangers a free account, made by a mailed link', async ({
	browser,
	page
}) => {
	const desk = await owner(browser);
	await make(desk, 'page', 'Bench notes', { text: `${SECRET}: bench`, address: '/bench' });
	await desk.goto('/desk/fences/new');
	await desk.waitForLoadState('networkidle');
	await desk.getByLabel('Name', { exact: true }).fill('Bench notes');
	await choose(desk, 'Add an item', 'bench', /Bench notes/);
	await desk.getByRole('button', { name: '+ Everyone signed in' }).click();
	await desk.getByRole('button', { name: 'Put up the fence' }).click();
	await agree(desk);
	await expect(desk).toHaveURL(/\/desk\/fences\/[0-9a-f-]{36}/);

	await page.goto('/bench');
	await expect(page.getByText(`${SECRET}: bench`)).toHaveCount(0);
	await page.getByLabel(/A free account opens this/).fill('no address');
	await page.getByRole('button', { name: 'Mail me the way in' }).click();
	await expect(page.getByRole('alert')).toBeVisible();
	await page.getByLabel(/A free account opens this/).fill('tove@mail.example');
	await page.getByRole('button', { name: 'Mail me the way in' }).click();
	await expect(page.getByText('A link is on its way to tove@mail.example')).toBeVisible();
	const mail = await mailTo('tove@mail.example', /account/);
	await page.goto(/\/enter\/\S+/.exec(mail.text)?.[0] ?? '');
	await page.locator('main form button').click();
	await expect(page).toHaveURL(/\/bench$/);
	await expect(page.getByText(`${SECRET}: bench`)).toBeVisible();
});

test('a plan is let into a page on its own page, and that is taken back', async ({ browser }) => {
	const page = await owner(browser);
	await page.goto('/desk/plans');
	await page.getByRole('link', { name: /^Workshop/ }).click();
	await page.waitForLoadState('networkidle');
	const opens = page.locator('form[action="?/opens"]');
	await choose(page, 'Add something that it opens', 'hours', /Opening hours/);
	await opens.getByRole('button', { name: /^Keep it/ }).click();
	await expect(page.getByText('What “Workshop opens what I choose” would do')).toBeVisible();
	await page.getByRole('button', { name: 'Leave it as it was' }).click();
	await expect(page.getByText('What “Workshop opens what I choose” would do')).toHaveCount(0);
	await opens.getByRole('button', { name: /^Keep it/ }).click();
	await agree(page);
	await page.getByRole('link', { name: 'Take it back' }).click();
	await expect(
		page.getByRole('heading', { name: /^Take back the fence “What Workshop opens”/ })
	).toBeVisible();
	await page.getByRole('button', { name: 'Take it back' }).click();
	await agree(page);
	await expect(page.getByText('Taken back. It stands at the top')).toBeVisible();
});

test('a code opens a page on a device nobody is signed in on; a page that hides is like none', async ({
	browser
}) => {
	const desk = await owner(browser);
	await make(desk, 'page', 'Fair notes', { text: SECRET, address: '/fair' });
	await make(desk, 'page', 'Hidden', { text: SECRET, address: '/hidden' });
	await desk.goto('/desk/codes');
	await desk.getByLabel('Name', { exact: true }).fill('Fair');
	await desk.getByRole('radio', { name: 'It lets its holder cross the fences that name it' }).click();
	await desk.getByLabel('One of your own').check();
	await desk.getByLabel('The code').fill('FAIR-26');
	await desk.getByRole('button', { name: 'Make them' }).click();
	await expect(desk.getByRole('cell', { name: 'FAIR26' })).toBeVisible();
	await desk.goto('/desk/fences/new');
	await desk.getByLabel('Name', { exact: true }).fill('Fair');
	await choose(desk, 'Add an item', 'fair', /Fair notes/);
	await desk.getByRole('button', { name: '+ Holders of a code' }).click();
	await select(desk.getByLabel('Codes', { exact: true }), 'Fair');
	await desk.getByRole('button', { name: 'Put up the fence' }).click();
	await expect(desk.getByText('Would close to the public: Fair notes.')).toBeVisible();
	await agree(desk);
	await expect(desk).toHaveURL(/\/desk\/fences\/[0-9a-f-]{36}/);
	await desk.goto('/desk/fences/new');
	await desk.getByLabel('Name', { exact: true }).fill('Hidden');
	await select(desk.getByLabel('What it catches', { exact: true }), 'One path');
	await desk.getByRole('textbox', { name: 'Path' }).fill('https://clock.example/hidden');
	await expect(desk.getByText(/Leave the host away/).first()).toBeVisible();
	await desk.getByRole('textbox', { name: 'Path' }).fill('/hidden/');
	await expect(desk.getByText('It catches 1 item.')).toBeVisible();
	await desk.getByLabel('Something of its own').check();
	await select(desk.getByLabel('How', { exact: true }).first(), 'As if there were no such page');
	await desk.getByRole('button', { name: 'Put up the fence' }).click();
	await agree(desk);
	await expect(desk).toHaveURL(/\/desk\/fences\/[0-9a-f-]{36}/);

	const page = await (await browser.newContext()).newPage();
	await page.goto('/fair');
	await expect(page.getByRole('heading', { name: 'This is closed to visitors' })).toBeVisible();
	// In the notice itself: a wrong one is said, and nothing is lost.
	await page.getByLabel('If you were given a code, it opens this').fill('fair27');
	await page.getByRole('button', { name: 'Redeem' }).click();
	await expect(page.getByRole('alert')).toContainText('There is no such code');
	await page.getByLabel('Code', { exact: true }).fill('fair26');
	await page.getByRole('button', { name: 'Redeem' }).click();
	await expect(page).toHaveURL(/\/fair$/);
	await expect(page.getByText(SECRET)).toBeVisible();

	// That it answers in every way like what does not exist: attacks.spec.ts.
	expect((await page.request.get('/hidden')).status()).toBe(404);
	expect(await (await page.request.get('/sitemap.xml')).text()).not.toContain('/hidden');
});
