/**
 * Makes the demo through Stile's own use cases: the owner, the videos, the plans, the fences, and half a year of orders
 * that are paid at the Till, renewed, declined, cancelled and given back, day after day, with the clock moving forward.
 */
import { v7 as uuidv7 } from 'uuid';
import { copyFile, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { PutObjectCommand, S3Client } from '@aws-sdk/client-s3';
import { ALL_PERMISSIONS, type Permissions } from '../src/core/staff/permissions';
import { NO_LIMITS, type Audience, type Selector } from '../src/core/access/model';
import { fromPlain } from '../src/core/text/rich-text';
import { sequence } from '../src/core/access/sequence';
import { readCaptions } from '../src/core/media/captions';
import { compose, type Stile } from '../src/server/compose';
import { renewingTerms } from '../src/core/billing/terms';
import { accountByEmail } from '../src/server/db/queries/members';
import { assetOfItem } from '../src/server/db/queries/library';
import { livingAgreements } from '../src/server/db/queries/agreements';
import { paymentsOf } from '../src/server/db/queries/sales';
import { NOTIFICATION_PATH } from '../src/server/http/notifications';
import { newToken } from '../src/server/people/sessions';
import { readSettings } from '../src/server/settings';
import { makeFirstOwner, offerOwnership } from '../src/server/usecases/accounts/first-owner';
import { agreeing } from '../src/server/usecases/access/rehearsed-save';
import { saveReleases } from '../src/server/usecases/access/save-releases';
import { memberLabelOf } from '../src/server/usecases/accounts/member-labels';
import { runMany } from '../src/server/usecases/accounts/run-many';
import { makeBatch } from '../src/server/usecases/codes/codes';
import { saveFence, type FenceWish } from '../src/server/usecases/fences/save-fence';
import { createItem, editItem, setState, type ItemWish } from '../src/server/usecases/library/edit-item';
import { saveCaptions, saveChapters } from '../src/server/usecases/library/edit-media';
import { makeLabel, type LabelKind } from '../src/server/usecases/library/labels';
import { showAlso } from '../src/server/usecases/library/placements';
import { receiveFile } from '../src/server/usecases/library/receive-file';
import { createPlan, SOLD_HERE } from '../src/server/usecases/plans/save-plan';
import { savePrice } from '../src/server/usecases/plans/save-price';
import { makeJoinLink, pressLink } from '../src/server/usecases/accounts/sign-in-link';
import { advanceClock, setClock } from '../src/server/usecases/running/advance-clock';
import { saveSite } from '../src/server/usecases/running/save-site';
import { beginOrder } from '../src/server/usecases/sales/begin-order';
import { cancelAgreement } from '../src/server/usecases/sales/steer-agreement';
import { settleReturn } from '../src/server/usecases/sales/look-at-order';
import { receiveNotification } from '../src/server/usecases/sales/receive-notification';
import { refundPayment } from '../src/server/usecases/sales/refund-payment';
import { CAPTIONS, CHAPTERS, makeFiles } from './files';
import { makeFilms } from './media';
import {
	CODES,
	OPEN_DAY,
	COURSE,
	LABELS,
	LAPSED,
	MEMBER,
	MEMBERS,
	OWNER,
	PAGES,
	PLANS,
	SITE,
	VIDEOS,
	type DemoMember,
	WAITING
} from './scenario';

const DAY_MS = 86_400_000;
const HALF_A_YEAR_DAYS = 183;

const NOTHING: ItemWish = {
	kind: 'page',
	title: '',
	text: [],
	address: '',
	homeId: null,
	categoryId: null,
	tagIds: [],
	base: 'closed',
	extension: null,
	target: null,
	showsPoster: false
};

const labels = new Map<string, Promise<string>>();
/** Items of the films, by the names of their files. */
const filmItems = new Map<string, string>();

/** Copies that are handed over. */
const handedOver = await mkdtemp(join(tmpdir(), 'stile-demo-'));
const films = await makeFilms(process.env.DEMO_MEDIA ?? '.stile/media');
// Nobody is let in by it meanwhile: on a machine that does other things it may wait longer for the database than one that serves.
const stile = await compose(readSettings({ ...process.env, STILE_PATIENCE_MS: '20000' }));
const { app } = stile;
const listener = await takeNotifications(stile, Number(process.env.STILE_PORT));
const today = Date.now();
await setClock(app, today - HALF_A_YEAR_DAYS * DAY_MS);

const owner = await makeOwner();
const plans = await makePlans();
const welcome = await makeVideos();
const course = await makeCourseAndPages();
const shelf = await makeShelf();
await fillBucket();
for (const { at, happen } of story()) {
	const to = at > app.clock.business() ? at : app.clock.business() + 1;
	await advance(to);
	await happen();
}
await labelMembers();
await advance(Math.max(Date.now(), app.clock.business() + 1));
await setClock(app, Math.max(Date.now(), app.clock.business()));
await orderWithoutCard();

await writeFile(
	process.env.DEMO_SEEDED ?? '.stile/seeded.json',
	JSON.stringify({
		signIns: { owner: { email: OWNER.email, password: OWNER.password }, member: MEMBER, lapsed: LAPSED },
		samples: {
			video: welcome.protectedAddress,
			openVideo: welcome.openAddress,
			plan: '/plans/apprentice',
			course: COURSE.address,
			lesson: course.lesson,
			file: shelf.file,
			audio: shelf.audio,
			page: PAGES.suppliers.address
		}
	})
);
listener.close();
listener.closeAllConnections();
await stile.stop();
await rm(handedOver, { recursive: true });

/** Stile itself is not running yet, so the Till's notifications are taken here, by the same use case. */
function takeNotifications({ app }: Stile, port: number): Promise<Server> {
	const server = createServer((req, res) => {
		void (async () => {
			const chunks: Buffer[] = [];
			for await (const chunk of req as AsyncIterable<Buffer>) chunks.push(chunk);
			const received = await receiveNotification(app, 'card', {
				method: req.method ?? '',
				path: NOTIFICATION_PATH,
				header: (name) => req.headers[name]?.toString() ?? null,
				body: Buffer.concat(chunks)
			});
			res.writeHead(received.ok ? 200 : 401).end();
		})().catch(() => res.writeHead(500).end());
	});
	return new Promise((resolve) => server.listen(port, '127.0.0.1', () => resolve(server)));
}

async function advance(to: number): Promise<void> {
	const moved = await advanceClock(app, stile.runner, owner, to);
	if (!moved.ok) throw new Error(`The clock could not be moved: ${moved.code}`);
}

async function makeOwner(): Promise<{ id: string; permissions: Permissions }> {
	const token = await offerOwnership(app);
	if (!token) throw new Error('There is an owner already: begin with an empty database');
	await makeFirstOwner(app, {
		token,
		...OWNER,
		siteName: SITE.siteName,
		zone: SITE.zone,
		currency: SITE.currency
	});
	const account = await accountByEmail(app.db, OWNER.email);
	if (!account) throw new Error('The owner was not made');
	const owner = { id: account.id, permissions: ALL_PERMISSIONS };
	for (const part of ['site', 'access', 'mail', 'money', 'tax'] as const)
		await agreeing((agreedTo) => saveSite(app, owner, part, SITE, { agreedTo }));
	return owner;
}

async function makePlans(): Promise<Map<string, string>> {
	const made = new Map<string, string>();
	for (const { key, name, lines, minor, unit, rung, byYear } of PLANS) {
		const terms = renewingTerms({ minor, currency: SITE.currency }, { count: 1, unit });
		const access = { kind: 'while-paid' as const };
		const shown = {
			isPublic: true,
			isOnSale: true,
			payBy: null,
			note: '',
			lessFor: null,
			isOpenAtOnce: true,
			...SOLD_HERE,
			sellsAsGift: true,
			priceName: byYear?.name ?? ''
		};
		const wish = { name, lines, terms, access, ...shown, ladder: 'Workshop', rung };
		const planId = await createPlan(app, owner, { ...wish, afterLapse: 'stand-still' });
		made.set(key, planId);
		if (!byYear) continue;
		const yearly = renewingTerms(
			{ minor: byYear.minor, currency: SITE.currency },
			{ count: 1, unit: 'year' }
		);
		const saved = await savePrice(app, owner, planId, null, { name: byYear.yearName, terms: yearly });
		if (!saved.ok) throw new Error(`The price by the year was not kept: ${saved.code}`);
	}
	return made;
}

async function makeVideos(): Promise<{ openAddress: string; protectedAddress: string }> {
	const addresses: { address: string; isOpen: boolean }[] = [];
	for (const video of VIDEOS) {
		const upload = join(handedOver, `${video.file}.mp4`);
		await copyFile(films.get(video.file) ?? '', upload);
		const received = await receiveFile(app, owner, { path: upload, name: `${video.file}.mp4` });
		if (!received.ok) throw new Error(`The film ${video.file} was refused: ${received.problem.code}`);
		await stile.runner.runDue('media');
		if ((await assetOfItem(app.db, received.itemId))?.state !== 'ready')
			throw new Error(`${video.file} was not prepared`);
		const address = `/videos/${video.file}`;
		const { title, text } = video;
		await edit(received.itemId, {
			...NOTHING,
			kind: 'video',
			title,
			text: fromPlain(text),
			address,
			categoryId: await label('category', video.category),
			tagIds: await Promise.all(video.tags.map((tag) => label('tag', tag))),
			showsPoster: true
		});
		filmItems.set(video.file, received.itemId);
		await publish(received.itemId);
		await putUp(
			video.title,
			{ kind: 'items', itemIds: [received.itemId] },
			[
				video.plans.length === 0
					? { kind: 'anyone' }
					: { kind: 'holders', planIds: video.plans.map((key) => plans.get(key) ?? '') }
			],
			video.notice
		);
		addresses.push({ address, isOpen: video.plans.length === 0 });
	}
	return {
		openAddress: addresses.find((a) => a.isOpen)?.address ?? '/',
		protectedAddress: addresses.find((a) => !a.isOpen)?.address ?? '/'
	};
}

/** A shelf of files for every plan, and the first hour of the podcast. */
async function makeShelf(): Promise<{ file: string; audio: string }> {
	const files = await makeFiles(process.env.DEMO_MEDIA ?? '.stile/media');
	const homeId = await make({
		kind: 'shelf',
		title: 'Tables and templates',
		address: '/tables',
		base: 'open'
	});
	for (const path of [files.tables, files.dial, files.counts]) {
		const received = await bringIn(path, homeId);
		await publish(received);
	}
	await putUp(
		'Tables and templates',
		{ kind: 'within', collectionId: homeId, withPage: false, extensions: [] },
		[{ kind: 'holders', planIds: [...plans.values()] }],
		'Tables and templates come with every plan.',
		{
			crossings: [
				{
					audience: { kind: 'holders', planIds: [...plans.values()] },
					window: null,
					limits: { ...NO_LIMITS, uses: 'site' },
					isThroughout: false
				}
			]
		}
	);
	const audio = await bringIn(files.hour, null);
	await stile.runner.runDue('media');
	await publish(audio);
	await putUp('The Escapement Hour', { kind: 'items', itemIds: [audio] }, [{ kind: 'signed-in' }], null);
	const slow = (await app.rights.policy()).byAddress.get('/videos/escapement');
	const read = readCaptions(CAPTIONS);
	if (slow && read.ok) {
		await saveCaptions(app, owner, slow.id, { language: 'en', label: 'English', cues: read.cues });
		await saveChapters(app, owner, slow.id, CHAPTERS);
	}
	const addressOf = async (id: string) => (await app.rights.policy()).resources.get(id)?.address ?? '/';
	const policy = await app.rights.policy();
	const first = [...policy.resources.values()].find(
		(one) => one.homeId === homeId && one.extension === 'pdf'
	);
	return { file: first?.address ?? '/', audio: await addressOf(audio) };
}

/** A copy is handed over: what is received is moved into storage. */
async function bringIn(path: string, homeId: string | null): Promise<string> {
	const upload = join(handedOver, 'upload');
	await copyFile(path, upload);
	const received = await receiveFile(app, owner, { path: upload, name: basename(path), homeId });
	if (!received.ok) throw new Error(`${basename(path)} was refused: ${received.problem.code}`);
	return received.itemId;
}

/** Objects to browse and to take in. */
async function fillBucket(): Promise<void> {
	const { bucket } = app.settings;
	if (!bucket) return;
	const files = await makeFiles(process.env.DEMO_MEDIA ?? '.stile/media');
	const client = new S3Client({
		endpoint: bucket.endpoint,
		region: bucket.region,
		credentials: { accessKeyId: bucket.accessKey, secretAccessKey: bucket.secretKey },
		forcePathStyle: true,
		requestChecksumCalculation: 'WHEN_REQUIRED'
	});
	for (const [key, path] of [
		['podcast/The Escapement Hour 2.mp3', files.hour],
		['templates/moon dial.pdf', files.dial]
	] as const)
		await client.send(new PutObjectCommand({ Bucket: bucket.name, Key: key, Body: await readFile(path) }));
	client.destroy();
}

/** A category or tag by its name, made once. */
function label(kind: LabelKind, name: string): Promise<string> {
	const key = `${kind} ${name}`;
	const known = labels.get(key) ?? makeLabel(app, owner, kind, name);
	labels.set(key, known);
	return known;
}

async function make(wish: Partial<ItemWish>): Promise<string> {
	const made = await createItem(app, owner, { ...NOTHING, ...wish });
	if (made.kind !== 'saved') throw new Error(`${wish.title} was not made: ${made.kind}`);
	await publish(made.itemId);
	return made.itemId;
}

async function edit(itemId: string, wish: ItemWish): Promise<void> {
	const edited = await agreeing((agreedTo) => editItem(app, owner, itemId, wish, agreedTo));
	if (edited.kind !== 'saved') throw new Error(`${wish.title} was not edited`);
}

async function publish(itemId: string): Promise<void> {
	const wish = { state: 'published' as const, publishAt: null };
	const moved = await agreeing((agreedTo) => setState(app, owner, itemId, wish, agreedTo));
	if (moved.kind !== 'saved') throw new Error(`${itemId} was not published`);
}

async function putUp(
	name: string,
	selector: Selector,
	audiences: Audience[],
	notice: string | null,
	over: Partial<FenceWish> = {}
): Promise<void> {
	const wish: FenceWish = {
		name,
		isOn: true,
		mode: 'replaces',
		selector,
		crossings: audiences.map((audience) => ({
			audience,
			window: null,
			limits: NO_LIMITS,
			isThroughout: false
		})),
		turnAway:
			notice === null ? null : { ...SITE.turnAway, answer: { kind: 'notice', text: fromPlain(notice) } },
		listing: 'shown',
		...over
	};
	const saved = await agreeing((agreedTo) =>
		saveFence(app, owner, { fenceId: null, revision: 1, wish, agreedTo })
	);
	if (saved.kind !== 'saved') throw new Error(`The fence ${name} was refused`);
}

/** The course opens a lesson a week for apprentices and at once for the others; the suppliers are for the upper two. */
async function makeCourseAndPages(): Promise<{ lesson: string }> {
	const of = (...keys: string[]): Audience => ({
		kind: 'holders',
		planIds: keys.map((key) => plans.get(key) ?? '')
	});
	const { title, text, address } = COURSE;
	const courseId = await make({ kind: 'course', title, text: fromPlain(text), address, base: 'open' });
	const lessonIds: string[] = [];
	for (const section of COURSE.sections) {
		const sectionId = await make({ kind: 'section', title: section.title, homeId: courseId, base: 'open' });
		for (const lesson of section.lessons) {
			const lessonId = await make({
				kind: 'lesson',
				title: lesson.title,
				text: fromPlain(lesson.text),
				homeId: sectionId,
				categoryId: await label('category', 'Going train')
			});
			lessonIds.push(lessonId);
			if (lesson.film) await showOn(lessonId, filmItems.get(lesson.film) ?? '');
		}
	}
	const lessons: Selector = { kind: 'within', collectionId: courseId, withPage: false, extensions: [] };
	await putUp('Lessons of the pendulum clock', lessons, [of('apprentice', 'journeyman', 'patron')], null);
	const weekly = sequence({
		ids: lessonIds,
		first: { count: 0, unit: 'week' },
		step: { count: 1, unit: 'week' },
		closes: { kind: 'never' }
	});
	const wishes = [...weekly].map(([id, window]) => ({ target: { kind: 'resource' as const, id }, window }));
	await agreeing((agreedTo) => saveReleases(app, owner, plans.get('apprentice') ?? '', wishes, agreedTo));

	const { suppliers, brass, visit } = PAGES;
	const page = ({ title, address, text }: typeof visit) => ({
		kind: 'page' as const,
		title,
		address,
		text,
		base: 'open' as const
	});
	const suppliersId = await make(page(suppliers));
	await make({ ...page(brass), homeId: suppliersId });
	await make(page(visit));
	const below: Selector = { kind: 'within', collectionId: suppliersId, withPage: true, extensions: [] };
	await putUp(
		'Suppliers',
		below,
		[of('journeyman', 'patron')],
		'Our suppliers are for those who work at the bench already.',
		{ listing: 'left-out' }
	);
	await makeBatch(app, owner, {
		name: CODES.name,
		code: CODES.code,
		count: 1,
		does: { kind: 'gives', planId: plans.get('apprentice') ?? '', days: CODES.days },
		startsAt: null,
		endsAt: null,
		usesPerCode: 200
	});
	const { percent, payments } = OPEN_DAY;
	await makeBatch(app, owner, {
		name: OPEN_DAY.name,
		code: OPEN_DAY.code,
		count: 1,
		does: {
			kind: 'takes-off',
			discount: { off: { kind: 'percent', percent }, payments },
			planIds: null,
			isOncePerBuyer: true
		},
		startsAt: null,
		endsAt: null,
		usesPerCode: 100
	});
	return { lesson: `${COURSE.address}/letting-down-the-mainspring` };
}

/** What only staff say of members. */
async function labelMembers(): Promise<void> {
	for (const [name, emails] of Object.entries(LABELS)) {
		const labelId = await memberLabelOf(app, owner, name);
		const members = await Promise.all(emails.map((email) => accountByEmail(app.db, email)));
		await agreeing((agreedTo) =>
			runMany(
				app,
				owner,
				members.map((member) => member?.id ?? ''),
				{ kind: 'give', planId: labelId, until: null },
				agreedTo
			)
		);
	}
}

/** Everything that people do, in the order of its days. */
function story(): { at: number; happen: () => Promise<void> }[] {
	const events = MEMBERS.flatMap((member, i) => {
		// Not all at midnight.
		const minute = ((i * 37) % 600) * 60_000;
		const on = (daysAgo: number) => today - daysAgo * DAY_MS - DAY_MS / 2 + minute;
		const { cancels, refunded } = member;
		return [
			{ at: on(member.joined), happen: () => buy(member) },
			...(cancels ? [{ at: on(cancels.daysAgo), happen: () => cancel(member, cancels) }] : []),
			...(refunded ? [{ at: on(refunded.daysAgo), happen: () => refund(member, refunded.why) }] : [])
		];
	});
	return events.sort((a, b) => a.at - b.at);
}

async function buy(member: DemoMember): Promise<void> {
	const device = newToken();
	const order = async () => {
		const begun = await beginOrder(app, {
			planSlug: member.plan,
			priceId: null,
			payBy: null,
			...{ code: member.code, country: member.country, taxId: member.taxId },
			seenMinor: null,
			memberId: null,
			email: member.email,
			name: member.name,
			password: member.password,
			deviceToken: device,
			next: null,
			client: member.email
		});
		if (!begun.ok) throw new Error(`${member.name} could not order: ${begun.code}`);
		return begun;
	};
	if (member.stumbles) {
		const first = await order();
		await payAtTill(first.payUrl, 'declined');
		await settleReturn(app, first.orderId, device, null);
	}
	const begun = await order();
	await payAtTill(begun.payUrl, member.card);
	const returned = await settleReturn(app, begun.orderId, device, null);
	if (returned?.kind !== 'paid') throw new Error(`${member.name} did not pay: ${returned?.kind}`);
}

/** Orders, and presses the link in the mail: the money is waited for from then on. */
async function orderWithoutCard(): Promise<void> {
	const { name, email, plan } = WAITING;
	const device = newToken();
	const wish = { planSlug: plan, priceId: null, payBy: 'offline' as const, memberId: null, email, name };
	const begun = await beginOrder(app, {
		...wish,
		...{ code: '', country: 'DE', taxId: '' },
		seenMinor: null,
		password: '',
		deviceToken: device,
		next: null,
		client: email
	});
	if (!begun.ok) throw new Error(`${name} could not order: ${begun.code}`);
	const link = await makeJoinLink(app, email, `/checkout/return/${begun.orderId}`, {
		orderId: begun.orderId
	});
	await pressLink(app, link.split('/').at(-1) ?? '', { orderToken: device, sessionToken: null }, true);
}

async function payAtTill(payUrl: string, card: string): Promise<void> {
	const response = await fetch(payUrl, {
		method: 'POST',
		body: new URLSearchParams({ card }),
		redirect: 'manual'
	});
	if (response.status !== 303) throw new Error(`The Till answered ${response.status}`);
}

async function cancel(member: DemoMember, why: NonNullable<DemoMember['cancels']>): Promise<void> {
	const account = await accountByEmail(app.db, member.email);
	const [living] = account ? await livingAgreements(app.db, account.id, app.clock.business()) : [];
	if (account && living)
		await cancelAgreement(app, account.id, living.id, { reason: why.reason, words: why.words });
}

async function refund(member: DemoMember, why: string): Promise<void> {
	const account = await accountByEmail(app.db, member.email);
	const paid = account
		? (await paymentsOf(app.db, account.id)).find((payment) => payment.state === 'captured')
		: null;
	if (!paid) return;
	const { id: paymentId, amountMinor } = paid;
	await refundPayment(app, owner, { id: uuidv7(), paymentId, amountMinor, endsAccess: true, why });
}

/** Shows on a lesson what a film shows, and agrees to whomever that opens it to. */
async function showOn(itemId: string, fromItemId: string): Promise<void> {
	const show = (agreedTo: string | null) => showAlso(app, owner, { itemId, fromItemId, agreedTo });
	const first = await show(null);
	if (!first.ok && first.code === 'opens-wider') await show(first.yes);
}
