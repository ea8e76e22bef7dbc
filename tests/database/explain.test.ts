/** Every page of the Desk, the front's lists and what is done every day, over 20,000 items and members: what is read for it. */
import { eq, notInArray } from 'drizzle-orm';
import { writeFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { makeCrowd, type Crowd } from '../../bench/lib/crowd';
import { decideAddress } from '$core/access/decide/decide';
import { CALL_EVENTS } from '$core/listeners/listening';
import { ALL_PERMISSIONS } from '$core/staff/permissions';
import { asOf } from '$server/reads/desk/as-of';
import { lookOf } from '$server/rights/look';
import { shownLibrary, shownPlans } from '$server/rights/shown';
import {
	askedOf,
	earnedPage,
	earnedRows,
	incomePage,
	movedPage,
	outcomesPage,
	staysPage
} from '$server/reads/desk/insight';
import { round } from '$server/jobs/housekeeping';
import { signIn } from '$server/usecases/accounts/sign-in';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { addMember } from '$server/usecases/accounts/run-members';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { memberLabelOf } from '$server/usecases/accounts/member-labels';
import { runMany } from '$server/usecases/accounts/run-many';
import { makeBatch } from '$server/usecases/codes/codes';
import { saveFence } from '$server/usecases/fences/save-fence';
import { importTable } from '$server/usecases/library/import-table';
import { changeMany } from '$server/usecases/library/write-many';
import { takeUse } from '$server/usecases/library/uses';
import { receiveFile } from '$server/usecases/library/receive-file';
import { noteReport, writeAgain } from '$server/usecases/mail/returns';
import { sendAllNow } from '$server/usecases/mail/waiting';
import { makeListener } from '$server/usecases/running/listeners';
import { tellPlaces } from '$server/usecases/running/tell-listeners';
import { addExtra } from '$server/usecases/plans/save-extras';
import { answerExtra, extrasAfter } from '$server/usecases/sales/take-extra';
import { giveSeats, takeSeat } from '$server/usecases/sales/seats';
import { askToWait, tellWaiting } from '$server/usecases/sales/waiting-list';
import { cancelAgreement } from '$server/usecases/sales/steer-agreement';
import { sentMails } from '$server/db/schema/running';
import { accounts } from '$server/db/schema/people';
import { agreements, extraAnswers, prices, waitingList } from '$server/db/schema/sales';
import { EARNERS } from '$server/db/queries/earned';
import { whoOpened } from '$server/db/queries/keepers';
import { agreementsOf } from '$server/db/queries/agreements';
import { seatsFor } from '$server/db/queries/seats';
import { extrasOf } from '$server/db/queries/extras';
import { withPlaces } from '$server/db/queries/places';
import { paymentsOf, planById } from '$server/db/queries/sales';
import { grantsOf } from '$server/db/queries/members';
import { explained, recording } from './statements';
import {
	buy,
	endGrant,
	FENCE,
	giveGrant,
	holding,
	makeWorld,
	refundWhole,
	scratch,
	redeem,
	type World
} from './world';

const SIZE = 20_000;
/** More rows than this, and it has to be by a key or to stand in the list below. */
const FEW = 500;

/** Whole tables that are read, and no others: why, and how many rows at most. */
interface Whole {
	table: string;
	or?: string;
	is: RegExp;
	most: number;
	/** The database takes one way or another, as its statistics fall out. */
	isSometimes?: true;
}
const WHOLE_TABLES: Record<string, Whole> = {
	'what carries a text that somebody looks for, in the Library': {
		table: 'items',
		or: 'item_texts',
		is: /(`plain`|`address`) like/,
		most: SIZE * 2.2
	},
	'members by a part of a name or address': { table: 'accounts', is: /`name` like/, most: SIZE * 1.1 },
	'payments by a part of a name or number': {
		table: 'orders',
		or: 'payments',
		is: /from `payments` .*`name` like/,
		most: SIZE * 2.2
	},
	'subscriptions by a part of a name or number': {
		table: 'agreements',
		is: /from `agreements` .*`name` like/,
		most: SIZE * 1.1
	},
	'orders by a part of a name or number': {
		table: 'orders',
		is: /from `orders` .*`name` like/,
		most: SIZE * 1.1
	},
	'what was bought of one plan': {
		table: '<subquery2>',
		is: /order_lines.plan_id = \?/,
		most: SIZE * 0.1
	},
	'some pages of orders, the newest first': {
		table: 'orders',
		is: /from `orders` .*order by `orders`.`created_at` desc/,
		most: 1500,
		isSometimes: true
	},
	'all titles, once until one changes': {
		table: 'items',
		is: /`items`.`home_id`, `items`.`position` from `items` inner join [^?]*\?\) order by `items`.`created_at`/,
		most: SIZE * 1.1
	},
	'texts that name an item': { table: 'items', or: 'item_texts', is: /`blocks` like/, most: SIZE * 2.2 },
	'the rows of the Library, once until one changes': {
		table: 'items',
		or: 'item_pictures',
		is: /`items`.`changed_at`, `assets`.`id`, `assets`.`state`/,
		most: SIZE * 1.1
	},
	'all members, once': {
		table: 'accounts',
		is: /^select `id`, `created_at` from `accounts`/,
		most: SIZE * 1.1
	},
	'all grants, once': {
		table: 'grants',
		is: /`from_at`.* from `grants` left join .* order by/,
		most: SIZE * 1.1
	},
	'what began in a span with a first stretch': {
		table: 'agreements',
		is: /firstLasts.count'\) is not null/,
		most: SIZE * 1.1
	},
	'who is on the list of those that listen, each minute that somebody listens': {
		table: 'told_places',
		or: 'grants',
		is: /from `told_places` (where not exists|inner join `accounts`)/,
		most: SIZE * 1.1
	},
	'all tenures, once': { table: 'tenures', is: /^select [^?]* from `tenures`$/, most: SIZE * 1.1 }
};

let world: World;
let crowd: Crowd;
let statements: ReturnType<typeof recording>;

beforeAll(async () => {
	// What is asked is looked at here, and not how long a machine takes for it on which other tests run.
	world = await makeWorld(60_000);
	const { app } = world;
	crowd = await makeCrowd(app, { items: SIZE, members: SIZE });
	// An update works recurring income out of what was there, in the background: of a few of them here.
	await app.db
		.update(agreements)
		.set({ isIncomeKept: true })
		.where(notInArray(agreements.memberId, crowd.memberIds.slice(0, 20)));
	await makeIntake();
	statements = recording(app.db, app.vital.db);
}, 300_000);
afterAll(() => world.end());

/** Of the first plan: a price for the first buyers, whoever waits for it, and something that is offered after it. */
async function makeIntake(): Promise<void> {
	const { app } = world;
	const [, planId = '', otherId = ''] = crowd.planIds;
	await app.db.update(prices).set({ firstBuyers: SIZE }).where(eq(prices.planId, planId));
	await app.db
		.insert(waitingList)
		.values(Array.from({ length: 4 * FEW }, (_, n) => ({ planId, email: `waits-${n}@mail.example`, at: n })));
	await app.db
		.update(agreements)
		.set({ seats: 5 })
		.where(eq(agreements.memberId, crowd.memberIds[7] ?? ''));
	const priceId = (await planById(app.db, otherId))?.price.priceId ?? '';
	await addExtra(app, null, planId, { priceId, words: '', less: null });
	const [extra] = await extrasOf(app.db, planId);
	for (let n = 0; n < SIZE; n += 1000)
		await app.db.insert(extraAnswers).values(
			crowd.orderIds.slice(n, n + 1000).map((orderId) => ({
				...{ orderId, extraId: extra?.id ?? '', takes: false, at: 1 }
			}))
		);
}

interface Loaded {
	load?: (event: never) => Promise<unknown>;
	GET?: (event: never) => Promise<Response>;
}

const ROUTES = import.meta.glob<Loaded>([
	'/src/routes/**/+page.server.ts',
	'/src/routes/**/+layout.server.ts',
	'/src/routes/**/+server.ts'
]);

async function insight(app: World['app']) {
	const url = new URL('http://127.0.0.1/desk/insight');
	return { url, asked: await askedOf(app, url) };
}

function written(): string {
	const path = scratch('words.txt');
	writeFileSync(path, 'words of a clock');
	return path;
}

async function listeningTo(url: string): Promise<string> {
	const wish = { name: 'List', url, events: [...CALL_EVENTS], planIds: null };
	const made = await makeListener(world.app, null, wish);
	if (made.kind === 'refused') throw new Error(made.code);
	return made.id;
}

/** What a route reads when somebody opens it. */
async function open(
	route: string,
	params: Record<string, string> = {},
	search = '',
	memberId: string | null = crowd.memberIds[3] ?? null
): Promise<void> {
	const { app } = world;
	const standing = memberId === null ? null : await app.rights.standing(memberId);
	const look = await lookOf(app, standing, null, '192.0.2.1');
	const path = `/${route.replace(/\(\w+\)\/?/g, '').replace(/\[(?:\.\.\.)?(\w+)\]/g, (_, name: string) => params[name] ?? '')}`;
	const url = new URL(`http://127.0.0.1:4999${path}${search}`);
	const itemId = look.policy.byAddress.get(path)?.id ?? null;
	const event = {
		locals: {
			app,
			look,
			path,
			viewer: standing && { id: memberId, name: '', email: '', permissions: ALL_PERMISSIONS },
			access: {
				itemId,
				decision: itemId
					? await app.rights.decide(memberId, itemId)
					: decideAddress(look.policy, look.viewer, path, look.now)
			}
		},
		url,
		params,
		cookies: { get: () => undefined, set: () => {}, delete: () => {} },
		request: new Request(url),
		getClientAddress: () => '192.0.2.1',
		setHeaders: () => {},
		depends: () => {},
		parent: async () => ({ choices: {} })
	} as never;
	const found = ['+layout.server.ts', '+page.server.ts', '+server.ts'].flatMap(
		(file) => ROUTES[`/src/routes/${route}/${file}`] ?? []
	);
	if (found.length === 0) throw new Error(`there is no route ${route}`);
	for (const module of await Promise.all(found.map((one) => one()))) {
		try {
			await module.load?.(event);
			if (module.GET) await (await module.GET(event)).text();
		} catch (cause) {
			throw new Error(`${route}${search} could not be opened: ${JSON.stringify(cause)} ${String(cause)}`, {
				cause
			});
		}
	}
}

describe('what the database is asked', () => {
	it('is asked for every page', async () => {
		const [memberId = '', itemId = '', lessonId = ''] = [
			crowd.memberIds[7],
			crowd.itemIds.at(-1),
			crowd.itemIds[5]
		];
		const desk = (name: string) => `desk/(frame)${name}`;
		const labelId = await memberLabelOf(world.app, null, 'At the fair');
		await open(desk(''));
		for (const search of [
			'',
			'?q=pendulum&kind=video',
			'?fenced=no',
			`?home=${crowd.sectionIds[1]}`,
			`?category=${crowd.categoryIds[1]}`,
			`?tag=${crowd.tagIds[1]}&state=published`
		])
			await open(desk('/library'), {}, search);
		for (const id of [itemId, lessonId, crowd.courseIds[0] ?? '']) await open(desk('/library/[id]'), { id });
		await open(desk('/library/[id]/media'), { id: itemId });
		await open(desk('/library/labels'));
		await open(desk('/library/bring-in'));
		for (const search of [
			...[
				'',
				'?page=5',
				'?q=number%20777',
				'?q=member.777@mail',
				'?state=holds',
				'?state=lapsed',
				'?state=never'
			],
			...[`?plan=${crowd.planIds[1]}`, `?plan=${crowd.planIds[1]}&state=runs-out`, `?label=${labelId}`],
			'?came=2026-01-01&came-to=2026-02-01&ended=2026-01-01'
		])
			await open(desk('/members'), {}, search);
		await open(desk('/members/labels'));
		await open(desk('/members/[id]'), { id: memberId });
		await open(desk('/fences'));
		await open(desk('/fences/[id]'), { id: crowd.fenceIds[3] ?? '' });
		await open(desk('/fences/new'), {}, `?item=${itemId}`);
		for (const search of ['', `?within=${crowd.courseIds[1]}`]) await open(desk('/releases'), {}, search);
		await open(desk('/releases/coming'));
		await open(desk('/check/item.csv'), {}, `?item=${itemId}`);
		await open(desk('/check/member.csv'), {}, `?member=${memberId}`);
		await open(desk('/check/why'), {}, `?item=${itemId}&member=${memberId}`);
		await open(desk('/plans'));
		const [, planId = ''] = crowd.planIds;
		await open(desk('/plans/[id]'), { id: planId });
		await open(desk('/plans/[id]/extras'), { id: planId });
		for (const search of ['', '?page=15'])
			await open(desk('/members/waiting/[plan]'), { plan: planId }, search);
		for (const state of ['', 'waiting', 'paid', 'declined', 'refunded', 'disputed'])
			for (const search of ['', '&page=5', '&q=C-777'])
				await open(desk('/sales'), {}, `?state=${state}${search}`);
		for (const search of [`?plan=${crowd.planIds[1]}`, '?from=2026-01-01&from-to=2026-02-01'])
			await open(desk('/sales'), {}, search);
		for (const state of ['', 'running', 'owing', 'ended'])
			for (const search of ['', '&page=5', '&q=C-777', `&plan=${crowd.planIds[1]}`])
				await open(desk('/sales/agreements'), {}, `?state=${state}${search}`);
		for (const state of ['', 'paid', 'open'])
			for (const search of ['', '&page=5', '&q=C-777', `&plan=${crowd.planIds[1]}`])
				await open(desk('/sales/orders'), {}, `?state=${state}${search}`);
		await open(desk('/sales/[id]'), { id: crowd.orderIds[9] ?? '' });
		for (const search of ['', '?page=9', '?state=sent&page=5', '?state=back', '?q=member%20777'])
			await open(desk('/mail'), {}, search);
		await open(desk('/mail/returned'));
		await open(desk('/mail/words'));
		await open(desk('/mail/sender'));
		await open(desk('/codes'));
		await open(desk('/codes/[id]'), { id: crowd.batchId });
		for (const search of [`?member=${memberId}&item=${itemId}`, `?item=${itemId}`])
			await open(desk('/check'), {}, search);
		for (const search of ['?q=escapement', '?q=member%20777%20pendulum', '?kinds=member&q=777'])
			await open(desk('/find'), {}, search);
		await open(desk('/settings'));
		await open(desk('/settings/media'));
		const listener = await listeningTo('https://list.example/told');
		await open(desk('/settings/programs'));
		for (const search of ['', '?state=refused'])
			await open(desk('/settings/programs/[id]'), { id: listener }, search);
		await open(desk('/settings/programs/[id]/calls.csv'), { id: listener });
		for (const route of ['(front)', '(front)/plans', 'sitemap.xml']) await open(route, {}, '', null);
		await open('(front)/categories/[slug]', { slug: 'category-3' });
		await open('(front)/tags/[slug]', { slug: 'tag-3' });
		await open('(front)/plans/[slug]', { slug: 'workshop-1' });
		const seen = await lookOf(world.app, null, null, null);
		await askToWait(world.app, { planSlug: 'workshop-1', memberId, email: '', client: '192.0.2.1' });
		await withPlaces(world.app.db, await shownPlans(world.app), { now: seen.now });
		const [forMany] = await agreementsOf(world.app.db, memberId);
		await open('(front)/account/seats/[id]', { id: forMany?.id ?? '' }, '', memberId);
		await open('(front)/account/seat/[id]', { id: forMany?.id ?? '' }, '', memberId);
		await open('(front)/account', {}, '', memberId);
		await open('(front)/account/details', {}, '', memberId);
		await open('(front)/checkout/[slug]', { slug: 'workshop-1' }, '', memberId);
		for (const path of [
			'courses/course-2',
			'courses/course-0/part-0/lesson-0',
			'videos/wheel-1',
			'files/wheel-0'
		])
			await open('(front)/[...path]', { path }, '', memberId);
		await asOf(
			world.app,
			new URL(`http://127.0.0.1/?asof=${world.app.clock.business() - 86_400_000}&rules=then`)
		);
		await shownLibrary(world.app);
	}, 300_000);

	it('is asked for what is done every day', async () => {
		const { app } = world;
		const [planId = ''] = crowd.planIds;
		app.outbound = { ...app.outbound, post: async () => ({ status: 200, answer: '' }) };
		await listeningTo('');
		const bought = await buy(world, 'workshop-1', 'rowan.elm@mail.example');
		await signIn(app, { email: 'rowan.elm@mail.example', password: 'wrong', client: '192.0.2.1' });
		const extras = await extrasAfter(app, {
			orderId: bought.orderId,
			device: null,
			memberId: bought.memberId
		});
		const taken = {
			extraId: extras?.next?.id ?? '',
			seenMinor: extras?.next?.todayMinor ?? null,
			takes: true
		};
		await answerExtra(app, { orderId: bought.orderId, device: null, memberId: bought.memberId }, taken);
		await tellWaiting(app, crowd.planIds[1] ?? '');
		const [forMany] = await agreementsOf(app.db, crowd.memberIds[7] ?? '');
		await giveSeats(app, crowd.memberIds[7] ?? '', forMany?.id ?? '', ['rowan.elm@mail.example']);
		const [seat] = await seatsFor(app.db, 'rowan.elm@mail.example');
		await app.db.update(accounts).set({ provedAt: 1 }).where(eq(accounts.id, bought.memberId));
		await takeSeat(app, bought.memberId, seat?.id ?? '');
		await cancelAgreement(app, crowd.memberIds[7] ?? '', forMany?.id ?? '', {
			reason: 'no-time',
			words: ''
		} as never);
		const [agreement] = await agreementsOf(app.db, bought.memberId);
		await cancelAgreement(app, bought.memberId, agreement?.id ?? '', {
			reason: 'no-time',
			words: ''
		} as never);
		const [payment] = await paymentsOf(app.db, bought.memberId);
		await refundWhole(app, null, payment?.id ?? '', 'asked for it');
		const added = await addMember(app, null, {
			email: 'teasel@mail.example',
			name: 'Teasel',
			planId,
			until: null
		});
		if (!added.ok) throw new Error(added.code);
		await giveGrant(app, null, {
			memberId: added.memberId,
			planId: crowd.planIds[1] ?? '',
			from: app.clock.business(),
			until: null,
			why: 'by hand'
		});
		const some = crowd.memberIds.slice(0, 5);
		const labelId = await memberLabelOf(app, null, 'At the fair');
		await agreeing((yes) => runMany(app, null, some, { kind: 'give', planId: labelId, until: null }, yes));
		await agreeing((yes) => runMany(app, null, some, { kind: 'end', planId: crowd.planIds[1] ?? '' }, yes));
		const [grant] = await grantsOf(app.db, added.memberId);
		await endGrant(app, null, grant?.id ?? '', 'by hand');
		await takeUse(app, added.memberId, crowd.itemIds[0] ?? '');
		await agreeing((agreedTo) =>
			saveFence(app, null, {
				fenceId: null,
				revision: 1,
				agreedTo,
				wish: {
					...FENCE,
					selector: { kind: 'items', itemIds: crowd.itemIds.slice(0, 3) },
					crossings: [holding(planId)]
				}
			})
		);
		await agreeing((yes) =>
			changeMany(app, null, crowd.itemIds.slice(0, 3), { categoryId: crowd.categoryIds[0] ?? null }, yes)
		);
		await agreeing((yes) => importTable(app, null, 'title,address,kind,tags\nOil,/oil,page,wet\n', yes));
		const batch = await makeBatch(app, null, {
			name: 'Fair',
			code: 'SPRING',
			count: 1,
			does: { kind: 'gives' as const, planId, days: 7 },
			startsAt: null,
			endsAt: null,
			usesPerCode: null
		});
		expect(batch.ok).toBe(true);
		await redeem(app, { memberId: added.memberId }, 'SPRING');
		const [mail] = await app.db.select({ id: sentMails.id }).from(sentMails).limit(1);
		await noteReport(app, { mailId: mail?.id ?? '', fate: 'gone', code: '5.1.1', words: '' });
		await writeAgain(app, null, crowd.memberIds[0] ?? '');
		await sendAllNow(app, null);
		await receiveFile(app, null, { path: written(), name: 'words.txt' });
		await deleteMember(app, null, added.memberId);
		await tellPlaces(app);
		await round(app);
		const { asked, url } = await insight(app);
		for (const page of [incomePage(app, asked), movedPage(app, asked, url), staysPage(app, asked)])
			await page;
		await outcomesPage(app, asked);
		for (const by of EARNERS) await earnedPage(app, asked, by);
		await earnedRows(app, asked, new URL(`${url}?by=plan&key=${planId}`));
		await whoOpened(app.db, [...(await app.rights.policy()).resources.keys()].slice(0, 400));
		for (const lane of ['mail', 'sign-in', 'payments', 'billing', 'calls'] as const)
			await world.stile.runner.runDue(lane);
	}, 300_000);

	it('is found by keys: whole tables are read for what stands here, and for nothing else', async () => {
		const [tables] = await world.app.pool.query('SHOW TABLES');
		const names = (tables as Record<string, string>[]).map((row) => Object.values(row)[0] ?? '');
		await world.app.pool.query(`ANALYZE TABLE ${names.map((name) => `\`${name}\``).join(', ')}`);
		const scans: string[] = [];
		const met = new Set<string>();
		for (const statement of statements())
			for (const { table, rows, isByKey } of await explained(world.app.db, statement)) {
				if (isByKey || rows <= FEW) continue;
				const named = Object.entries(WHOLE_TABLES).find(
					([, one]) =>
						(one.table === table || one.or === table) && one.is.test(statement.sql) && rows <= one.most
				);
				if (named) met.add(named[0]);
				else scans.push(`${table} ${rows}: ${statement.sql.slice(0, 1000)}`);
			}
		expect(scans).toEqual([]);
		// What is not met any more does not stand in the list.
		const always = Object.keys(WHOLE_TABLES).filter((name) => !WHOLE_TABLES[name]?.isSometimes);
		expect(always.filter((name) => !met.has(name))).toEqual([]);
	}, 60_000);
});
