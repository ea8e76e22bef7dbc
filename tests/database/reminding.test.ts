/** Members are reminded of what they began to buy: once, where the site does so, and until one press ends it. */
import { eq } from 'drizzle-orm';
import { once } from 'node:events';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { simpleParser, type ParsedMail } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { smtpMailer } from '$server/adapters/smtp-mailer';
import { accountById } from '$server/db/queries/members';
import { accounts } from '$server/db/schema/people';
import { jobs } from '$server/db/schema/running';
import { plans } from '$server/db/schema/sales';
import { createFront } from '$server/http/front';
import { addMember } from '$server/usecases/accounts/run-members';
import { createPlan } from '$server/usecases/plans/save-plan';
import { saveSite } from '$server/usecases/running/save-site';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import { endingPath, reminded, remind, wishReminders } from '$server/usecases/sales/remind';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { actions } from '../../src/routes/(front)/mails/[token]/+page.server';
import { makeShop, makeWorld, order, passDays, PLAN, type World } from './world';

const WREN = 'wren@mail.example';
const HOURS = 24;

let world: World;
let memberId: string;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	await reminding(HOURS);
	const added = await addMember(world.app, null, { email: WREN, name: 'Wren', planId: null, until: null });
	if (!added.ok) throw new Error(added.code);
	({ memberId } = added);
	await world.app.db.update(accounts).set({ provedAt: 1, claimedAt: 1 }).where(eq(accounts.id, memberId));
	await world.stile.runner.runDue('mail');
	world.mails.length = 0;
});
afterEach(() => world.end());

async function reminding(remindsAfterHours: number | null) {
	await agreeing(async (agreedTo) =>
		saveSite(world.app, null, 'money', { ...(await world.app.site()), remindsAfterHours }, { agreedTo })
	);
	await world.app.rights.refresh();
}
async function begin(over: Parameters<typeof order>[2] = {}, slug = shop.slug) {
	const begun = await order(world, slug, { memberId, ...over });
	if (!begun.ok) throw new Error(begun.code);
	return { orderId: begun.orderId, ref: begun.payUrl.split('/').at(-1) ?? '' };
}
async function mails() {
	await world.stile.runner.runDue('billing');
	await world.stile.runner.runDue('mail');
	return world.mails.splice(0).filter(({ subject }) => subject.startsWith('You began to buy'));
}
const day = () => passDays(world, 1);

describe('a reminder', () => {
	it('comes when its hours have passed, leads on to the checkout, and says where one press ends it', async () => {
		await begin({ next: '/videos/wheel' });
		expect(await mails()).toEqual([]);
		await day();
		const [mail, ...others] = await mails();
		expect(others).toEqual([]);
		expect(mail).toMatchObject({ to: WREN, subject: 'You began to buy Workshop' });
		expect(mail?.text).toMatch(/\/enter\/[\w-]+/);
		expect(mail?.endedAt).toBe(`http://127.0.0.1:4999${endingPath(world.app, memberId)}`);
		expect(mail?.text).toContain(mail?.endedAt);
		await day();
		expect(await mails()).toEqual([]);
	});

	it('is none where it was bought meanwhile, and be it between the job and the mail', async () => {
		const { orderId, ref } = await begin();
		await remind(world.app, orderId);
		world.processor.becomes(ref, 'captured');
		await settleReturn(world.app, orderId, 'device', memberId);
		expect(await mails()).toEqual([]);
	});

	it('is one for what was begun again since', async () => {
		await begin();
		await begin({ deviceToken: 'telephone' });
		await day();
		expect(await mails()).toHaveLength(1);
	});

	it('is one a week, however much was begun', async () => {
		await createPlan(world.app, null, { ...PLAN, name: 'Evening' });
		await begin();
		await begin({}, 'evening');
		await day();
		expect(await mails()).toHaveLength(1);
		await passDays(world, 5);
		await begin({}, 'evening');
		await day();
		expect(await mails()).toEqual([]);
		await begin({ deviceToken: 'third' }, 'evening');
		await day();
		expect(await mails()).toHaveLength(1);
	});

	it('is one, however many nodes do the job at the same moment', async () => {
		const { orderId } = await begin();
		await day();
		await Promise.all(Array.from({ length: 4 }, () => remind(world.app, orderId)));
		expect(await mails()).toHaveLength(1);
	});

	it.each([
		[
			'strangers who typed the address of a member',
			async () => void (await begin({ memberId: null, email: WREN, deviceToken: 'other' }))
		],
		[
			'members who have not proved their mailbox',
			async () => {
				await world.app.db.update(accounts).set({ provedAt: null }).where(eq(accounts.id, memberId));
				await begin();
			}
		],
		[
			'what waits for a transfer',
			async () => {
				await agreeing(async (agreedTo) =>
					saveSite(
						world.app,
						null,
						'money',
						{ ...(await world.app.site()), payBy: ['card', 'offline'] },
						{ agreedTo }
					)
				);
				await world.app.rights.refresh();
				await begin({ payBy: 'offline' });
			}
		],
		[
			'what nobody new can buy any more',
			async () => {
				await begin();
				await world.app.db.update(plans).set({ isOnSale: false });
			}
		],
		[
			'sites that remind nobody by now',
			async () => {
				await begin();
				await reminding(null);
			}
		],
		[
			'whoever wishes for none',
			async () => {
				await begin();
				await wishReminders(world.app, memberId, false);
			}
		]
	])('is none for %s', async (_who, begun) => {
		await begun();
		await day();
		expect(await mails()).toEqual([]);
	});

	it('is queued by no order where the site reminds nobody', async () => {
		await reminding(null);
		await begin();
		expect(await world.app.db.select().from(jobs).where(eq(jobs.kind, 'remind'))).toEqual([]);
	});
});

describe('one press', () => {
	const press = (token: string, body: FormData) => {
		const request = new Request('http://127.0.0.1:4999/mails/x', { method: 'POST', body });
		const event = { locals: { app: world.app }, params: { token }, request } as never;
		return Promise.resolve(actions.default?.(event));
	};
	const isOff = async () => (await accountById(world.app.db, memberId))?.remindersOffAt !== null;
	const form = (values: Record<string, string>) => {
		const made = new FormData();
		for (const [name, value] of Object.entries(values)) made.set(name, value);
		return made;
	};

	// RFC 8058 §3.2: the body is List-Unsubscribe=One-Click, without cookies.
	it('ends reminders without anybody signed in, again without harm, and can be taken back', async () => {
		const token = endingPath(world.app, memberId).split('/').at(-1) ?? '';
		await press(token, form({ 'List-Unsubscribe': 'One-Click' }));
		await press(token, form({ 'List-Unsubscribe': 'One-Click' }));
		expect(await isOff()).toBe(true);
		await press(token, form({ wants: 'yes' }));
		expect(await isOff()).toBe(false);
	});

	it('is taken from a mail program, which sends no origin, and no other form is', async () => {
		const front = createFront(world.stile);
		const server = createServer((req, res) => {
			void Promise.resolve(front(req, res)).then((isAnswered) => isAnswered || res.writeHead(299).end());
		});
		server.listen(0, '127.0.0.1');
		await once(server, 'listening');
		const { port } = server.address() as AddressInfo;
		const post = (path: string) =>
			fetch(`http://127.0.0.1:${port}${path}`, { method: 'POST', body: 'List-Unsubscribe=One-Click' });
		expect((await post(endingPath(world.app, memberId))).status).toBe(299);
		expect((await post('/account/details')).status).toBe(403);
		expect((await post('/mails')).status).toBe(403);
		front.endWatches();
		server.close();
	});

	it('ends nothing by an address that was made up, or is of somebody who is gone', async () => {
		const token = endingPath(world.app, memberId).split('/').at(-1) ?? '';
		for (const forged of ['', 'x', `${token}x`, token.replace(/^./, 'A'), `${token}.${token}`])
			expect(await reminded(world.app, forged)).toBeNull();
		await world.app.db.update(accounts).set({ email: null }).where(eq(accounts.id, memberId));
		expect(await reminded(world.app, token)).toBeNull();
	});

	// Read back by mailparser (a package of the registry): RFC 8058 §3.1 asks for both headers, and for one HTTPS address.
	it('is offered by two headers of the mail, and by none of other mails', async () => {
		const parsed: ParsedMail[] = [];
		const smtp = new SMTPServer({
			disabledCommands: ['AUTH', 'STARTTLS'],
			onData: (stream, _session, done) =>
				void simpleParser(stream).then((mail) => {
					parsed.push(mail);
					done();
				}, done)
		});
		smtp.listen(0, '127.0.0.1');
		await once(smtp.server, 'listening');
		const mailer = smtpMailer(`smtp://127.0.0.1:${(smtp.server.address() as AddressInfo).port}`, null);
		const url = `https://clock.example/mails/${'a'.repeat(120)}`;
		const mail = { to: WREN, subject: 'Hello', text: 'Hello', html: '<p>Hello</p>' };
		const from = { name: 'Clock School', email: 'desk@clock.example' };
		await mailer.send(from, { ...mail, key: 'one', endedAt: url }, null);
		await mailer.send(from, { ...mail, key: 'two' }, null);
		mailer.close();
		await new Promise<void>((resolve) => smtp.close(resolve));
		const lines = parsed.map(({ headerLines }) =>
			headerLines
				.filter(({ key }) => key.startsWith('list-'))
				.map(({ line }) => line.replace(/\r?\n\s/g, ' '))
		);
		expect(lines).toEqual([
			[`List-Unsubscribe: <${url}>`, 'List-Unsubscribe-Post: List-Unsubscribe=One-Click'],
			[]
		]);
	});
});
