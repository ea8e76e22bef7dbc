/**
 * Makes the demo through Stile's own use cases: the owner, the videos, the plans, the fences, and half a year of orders
 * that are paid at the Till, renewed, declined, cancelled and given back, day after day, with the clock moving forward.
 */
import { copyFile, mkdtemp, writeFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Audience } from '../src/core/access/model';
import { compose, type Stile } from '../src/server/compose';
import { accountByEmail } from '../src/server/db/queries/members';
import { assetOfItem } from '../src/server/db/queries/library';
import { livingSubscriptions, paymentsOf } from '../src/server/db/queries/sales';
import { NOTIFICATION_PATH } from '../src/server/http/front';
import { newToken } from '../src/server/http/sessions';
import { readSettings } from '../src/server/settings';
import { makeFirstOwner, offerOwnership } from '../src/server/usecases/accounts/first-owner';
import { saveFence } from '../src/server/usecases/fences/save-fence';
import { editItem, setPublished } from '../src/server/usecases/library/edit-item';
import { receiveVideo } from '../src/server/usecases/library/receive-video';
import { createPlan } from '../src/server/usecases/plans/save-plan';
import { advanceClock, setClock } from '../src/server/usecases/running/advance-clock';
import { saveSite } from '../src/server/usecases/running/save-site';
import { beginOrder } from '../src/server/usecases/sales/begin-order';
import { cancelSubscription } from '../src/server/usecases/sales/cancel-subscription';
import { settleReturn } from '../src/server/usecases/sales/look-at-order';
import { receiveNotification } from '../src/server/usecases/sales/receive-notification';
import { refundPayment } from '../src/server/usecases/sales/refund-payment';
import { makeFilms } from './media';
import { LAPSED, MEMBER, MEMBERS, OWNER, PLANS, SITE, VIDEOS, type DemoMember } from './scenario';

const DAY_MS = 86_400_000;
const HALF_A_YEAR_DAYS = 183;

const films = await makeFilms(process.env.DEMO_MEDIA ?? '.stile/media');
const stile = await compose(readSettings(process.env));
const { app } = stile;
const listener = await takeNotifications(stile, Number(process.env.STILE_PORT));
const today = Date.now();
await setClock(app, today - HALF_A_YEAR_DAYS * DAY_MS);

const owner = await makeOwner();
const plans = await makePlans();
const welcome = await makeVideos();
for (const { at, happen } of story()) {
	const to = at > app.clock.business() ? at : app.clock.business() + 1;
	await advance(to);
	await happen();
}
await advance(Math.max(Date.now(), app.clock.business() + 1));
await setClock(app, Math.max(Date.now(), app.clock.business()));

await writeFile(
	process.env.DEMO_SEEDED ?? '.stile/seeded.json',
	JSON.stringify({
		signIns: { owner: { email: OWNER.email, password: OWNER.password }, member: MEMBER, lapsed: LAPSED },
		samples: { video: welcome.protectedAddress, openVideo: welcome.openAddress, plan: '/plans/apprentice' }
	})
);
listener.close();
listener.closeAllConnections();
await stile.stop();

/** Stile itself is not running yet, so the Till's notifications are taken here, by the same use case. */
function takeNotifications({ app }: Stile, port: number): Promise<Server> {
	const server = createServer((req, res) => {
		void (async () => {
			const chunks: Buffer[] = [];
			for await (const chunk of req as AsyncIterable<Buffer>) chunks.push(chunk);
			const received = await receiveNotification(app, {
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
	const moved = await advanceClock(app, (queue) => stile.runner.runDue(queue), owner, to);
	if (!moved.ok) throw new Error(`The clock could not be moved: ${moved.code}`);
}

async function makeOwner(): Promise<{ id: string }> {
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
	await saveSite(app, account, SITE);
	return { id: account.id };
}

async function makePlans(): Promise<Map<string, string>> {
	const made = new Map<string, string>();
	for (const { key, name, lines, minor, unit } of PLANS) {
		const price = { minor, currency: SITE.currency };
		made.set(key, await createPlan(app, owner, { name, lines, price, unit, isPublic: true, isOnSale: true }));
	}
	return made;
}

async function makeVideos(): Promise<{ openAddress: string; protectedAddress: string }> {
	const folder = await mkdtemp(join(tmpdir(), 'stile-demo-'));
	const addresses: { address: string; isOpen: boolean }[] = [];
	for (const video of VIDEOS) {
		const upload = join(folder, `${video.file}.mp4`);
		await copyFile(films.get(video.file) ?? '', upload);
		const received = await receiveVideo(app, owner, { path: upload, name: `${video.file}.mp4` });
		if (!received.ok) throw new Error(`The film ${video.file} was refused: ${received.code}`);
		await stile.runner.runDue('media');
		if ((await assetOfItem(app.db, received.itemId))?.state !== 'ready')
			throw new Error(`${video.file} was not prepared`);
		const address = `/videos/${video.file}`;
		await editItem(app, owner, received.itemId, {
			title: video.title,
			description: video.description,
			address,
			showsPoster: true
		});
		const audience: Audience =
			video.plans.length === 0
				? { kind: 'anyone' }
				: { kind: 'holders', planIds: video.plans.map((key) => plans.get(key) ?? '') };
		await saveFence(app, owner, null, {
			name: video.title,
			isOn: true,
			mode: 'replaces',
			itemIds: [received.itemId],
			audiences: [audience],
			turnAway: video.notice === null ? null : { kind: 'notice', text: video.notice }
		});
		await setPublished(app, owner, received.itemId, true);
		addresses.push({ address, isOpen: video.plans.length === 0 });
	}
	return {
		openAddress: addresses.find((a) => a.isOpen)?.address ?? '/',
		protectedAddress: addresses.find((a) => !a.isOpen)?.address ?? '/'
	};
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
	if (returned?.state !== 'captured') throw new Error(`${member.name} did not pay: ${returned?.state}`);
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
	const [living] = account ? await livingSubscriptions(app.db, account.id) : [];
	if (account && living)
		await cancelSubscription(app, account.id, living.id, { reason: why.reason, words: why.words });
}

async function refund(member: DemoMember, why: string): Promise<void> {
	const account = await accountByEmail(app.db, member.email);
	const paid = account
		? (await paymentsOf(app.db, account.id)).find((payment) => payment.state === 'captured')
		: null;
	if (paid) await refundPayment(app, owner, paid.id, why);
}
