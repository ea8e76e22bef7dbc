/**
 * Every page of the Desk and the lists of the front at 10,000 items and 10,000 subscribers, each asked for several times in
 * turn by one browser; and what is pressed in Chromium. Limits: 300 ms and 200 KB for the Desk, 50 ms for the front, 100 ms
 * from a press to what it shows.
 */
import { createConnection, type RowDataPacket } from 'mysql2/promise';
import { launch, portsFrom } from '../scripts/lib/launch.mjs';
import { compose } from '../src/server/compose';
import { tagsOfItem } from '../src/server/db/queries/library';
import { accountByEmail } from '../src/server/db/queries/members';
import { beginSession } from '../src/server/people/sessions';
import { sessionCookie } from '../src/server/http/cookies';
import { readSettings } from '../src/server/settings';
import { transact } from '../src/server/transact';
import { keepMissingIncome } from '../src/server/usecases/sales/keep-missing-income';
import { makeFirstOwner, offerOwnership } from '../src/server/usecases/accounts/first-owner';
import { makeCrowd, type Crowd } from './lib/crowd';
import { interactionTimes } from './lib/interactions';
import { percentile, report, rounded } from './lib/report';

const FOLDER = '.stile/bench';
const SIZE = { items: 10_000, members: 10_000 };
const LIMITS = { deskMs: 300, deskKb: 200, frontMs: 50, interactionMs: 100 };
const ROUNDS = 5;

const world = await launch({
	folder: FOLDER,
	ports: portsFrom(4300),
	isFresh: true,
	say: (_name, work) => work()
});
try {
	const { cookie, crowd, tagIds } = await filled();
	await world.startStile();
	const front = world.settings.STILE_ORIGIN ?? '';
	const database = await createConnection(world.settings.STILE_DATABASE_URL ?? '');
	const questions = async () => {
		const [rows] = await database.query<RowDataPacket[]>("SHOW GLOBAL STATUS LIKE 'Questions'");
		return Number(rows[0]?.Value);
	};

	const measured: Record<string, { ms: number; firstMs: number; kb: number; queries: number }> = {};
	for (const [name, path] of Object.entries(pagesOf(crowd))) {
		const headers = { cookie: name.startsWith('desk') ? cookie : '', 'accept-encoding': 'gzip' };
		const times: number[] = [];
		let kb = 0;
		const before = await questions();
		for (let round = 0; round <= ROUNDS; round++) {
			const at = performance.now();
			const response = await fetch(front + path, { headers });
			const text = await response.text();
			times.push(performance.now() - at);
			if (response.status !== 200) throw new Error(`${path} answered ${response.status}`);
			kb = Buffer.byteLength(text) / 1024;
		}
		const [first = 0, ...rest] = times;
		measured[name] = {
			ms: rounded(percentile(rest, 0.5)),
			firstMs: rounded(first),
			kb: Math.round(kb),
			queries: Math.round(((await questions()) - before) / (ROUNDS + 1))
		};
	}
	await database.end();
	const interactions = await interactionTimes(front, cookie, crowd.planIds[0] ?? '');
	const desk = Object.entries(measured).filter(([name]) => name.startsWith('desk'));
	const lists = Object.entries(measured).filter(([name]) => !name.startsWith('desk'));
	const most = (of: typeof desk, key: 'ms' | 'kb' | 'queries') =>
		Math.max(...of.map(([, figures]) => figures[key]));
	report('desk', {
		...SIZE,
		slowestMs: most(desk, 'ms'),
		largestKb: most(desk, 'kb'),
		queriesPerPage: most(desk, 'queries'),
		frontSlowestMs: most(lists, 'ms'),
		titleSaveMs: await titleSave(front, cookie, crowd, tagIds),
		interactionMs: Math.max(...Object.values(interactions)),
		interactions,
		limits: LIMITS,
		pages: measured
	});
} finally {
	await world.stop();
}

/** With the tags of the first lesson. */
async function filled(): Promise<{ cookie: string; crowd: Crowd; tagIds: string[] }> {
	const stile = await compose(readSettings({ ...world.settings, STILE_LOG_LEVEL: 'error' }));
	const { app } = stile;
	try {
		const email = 'ottilie@fernhollow.example';
		await makeFirstOwner(app, {
			token: (await offerOwnership(app)) ?? '',
			email,
			name: 'Ottilie Fern',
			password: 'gear train of four',
			siteName: 'Fernhollow Clock School',
			zone: 'Europe/Vienna',
			currency: 'EUR'
		});
		const crowd = await makeCrowd(app, SIZE);
		await keepMissingIncome(app);
		const owner = await accountByEmail(app.db, email);
		const session = await transact(app, null, (work) => beginSession(work, owner?.id ?? '', 'password'));
		return {
			cookie: `${sessionCookie(app)}=${session.token}`,
			crowd,
			tagIds: await tagsOfItem(app.db, crowd.itemIds[0] ?? '')
		};
	} finally {
		await stile.stop();
	}
}

/** By name; those of the Desk begin with "desk". */
function pagesOf(crowd: Crowd): Record<string, string> {
	const [itemId] = crowd.itemIds.slice(-2);
	const [memberId] = crowd.memberIds.slice(7);
	return {
		desk: '/desk',
		deskLibrary: '/desk/library',
		deskLibrarySearch: '/desk/library?q=pendulum&kind=video',
		deskLibraryUnfenced: '/desk/library?fenced=no',
		deskLibraryByTitle: '/desk/library?order=title',
		deskLibraryRows: '/desk/library/rows?kind=lesson&from=7000',
		deskItem: `/desk/library/${itemId}`,
		deskLesson: `/desk/library/${crowd.itemIds[5]}`,
		deskCourse: `/desk/library/${crowd.courseIds[1]}`,
		deskMedia: `/desk/library/${itemId}/media`,
		deskNewItem: '/desk/library/new',
		deskLabels: '/desk/library/labels',
		deskBringIn: '/desk/library/bring-in',
		deskMembers: '/desk/members',
		deskMembersPage: '/desk/members?page=90',
		deskMembersLapsed: '/desk/members?state=lapsed',
		deskMemberLabels: '/desk/members/labels',
		deskMember: `/desk/members/${memberId}`,
		deskFences: '/desk/fences',
		deskFence: `/desk/fences/${crowd.fenceIds[3]}`,
		deskFenceOfItems: `/desk/fences/${crowd.fenceIds.at(-1)}`,
		deskNewFence: '/desk/fences/new',
		deskReleases: '/desk/releases',
		deskReleasesCourse: `/desk/releases?within=${crowd.courseIds[1]}`,
		deskPlans: '/desk/plans',
		deskPlan: `/desk/plans/${crowd.planIds[0]}`,
		deskPractice: '/desk/practice',
		deskExtras: `/desk/plans/${crowd.planIds[0]}/extras`,
		deskWaiting: `/desk/members/waiting/${crowd.planIds[0]}`,
		deskSales: '/desk/sales',
		deskAgreements: '/desk/sales/agreements',
		deskOrders: '/desk/sales/orders',
		deskOrder: `/desk/sales/${crowd.orderIds[9]}`,
		deskInsight: '/desk/insight',
		deskInsightMoved: '/desk/insight/moved?why=new',
		deskEarned: '/desk/insight/earned',
		deskStays: '/desk/insight/stays',
		deskOutcomes: '/desk/insight/outcomes',
		deskItemsEarned: '/desk/insight/earned?by=item',
		deskCharge: '/desk/plans/charge',
		deskCodes: '/desk/codes',
		deskCodeBatch: `/desk/codes/${crowd.batchId}`,
		deskCheck: '/desk/check',
		deskCheckOne: `/desk/check?member=${memberId}&item=${itemId}`,
		deskCheckAll: `/desk/check?item=${itemId}`,
		deskFind: '/desk/find?q=escapement',
		deskSettings: '/desk/settings',
		deskSettingsTold: '/desk/settings/told',
		deskSettingsPrograms: '/desk/settings/programs',
		deskMail: '/desk/mail',
		deskMailBack: '/desk/mail?state=back',
		deskMailReturned: '/desk/mail/returned',
		deskMailSender: '/desk/mail/sender',
		deskSettingsMedia: '/desk/settings/media',
		home: '/',
		plans: '/plans',
		category: '/categories/category-3',
		tag: '/tags/tag-3',
		course: '/courses/course-2',
		item: '/videos/wheel-1',
		siteMap: '/sitemap.xml'
	};
}

/** A new title, saved as the form of the item's page does it. */
async function titleSave(
	front: string,
	cookie: string,
	crowd: Crowd,
	tagIds: readonly string[]
): Promise<number> {
	const itemId = crowd.itemIds[0] ?? '';
	const times: number[] = [];
	for (let round = 0; round < ROUNDS; round++) {
		const page = await (await fetch(`${front}/desk/library/${itemId}`, { headers: { cookie } })).text();
		const revision = /name="revision" value="([^"]*)"/.exec(page)?.[1] ?? '';
		const body = new URLSearchParams({
			title: `A title that is new ${round}`,
			kind: 'lesson',
			address: '/courses/course-0/part-0/lesson-0',
			home: crowd.sectionIds[0] ?? '',
			position: '0',
			base: 'closed',
			showsPoster: 'yes',
			revision
		});
		for (const tagId of tagIds) body.append('tags', tagId);
		const at = performance.now();
		const response = await fetch(`${front}/desk/library/${itemId}?/save`, {
			method: 'POST',
			headers: { cookie, origin: front, accept: 'application/json', 'x-sveltekit-action': 'true' },
			body
		});
		const answer = await response.text();
		times.push(performance.now() - at);
		if (!/"type":"(success|redirect)"/.test(answer))
			throw new Error(`The title was not saved: ${answer.slice(0, 300)}`);
	}
	return rounded(percentile(times, 0.5));
}
