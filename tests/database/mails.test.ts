/** Mails: what they lead to on any device, and the publisher's own words for them. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { MAIL } from '$words/en/mail';
import { accountByEmail } from '$server/db/queries/members';
import { ownMailText } from '$server/db/queries/mail-texts';
import { mailTextRevision, saveMailText } from '$server/usecases/running/save-mail-text';
import { changeLanguage, ownAccount } from '$server/usecases/accounts/own-account';
import { lookAtLink, pressLink } from '$server/usecases/accounts/sign-in-link';
import { ALL_PERMISSIONS } from '$core/staff/permissions';
import { orderById, paymentsOf } from '$server/db/queries/sales';
import { signInLinks } from '$server/db/schema/people';
import { drawMail, type Draft } from '$server/mail/preview';
import { tryMailOut } from '$server/mail/try-out';
import { mayTryMailOut } from '$server/usecases/mail/try-out';
import { MailRefused } from '$server/ports/mail';
import { inviteStaff } from '$server/usecases/accounts/staff';
import { saveSite } from '$server/usecases/running/save-site';
import { buy, makeShop, makeWorld, passDays, refundWhole, type World } from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
});
afterEach(async () => world.end());

const sent = async () => {
	await world.stile.runner.runDue('mail');
	return world.mails;
};
const ORDER = { key: 'order', language: 'en' } as const;
const linkIn = (text: string) => /\/enter\/(\S+)/.exec(text)?.[1] ?? '';

describe('the button of a mail', () => {
	it('signs in on a device that nobody is signed in on, and leads to what the mail is about', async () => {
		await buy(world, shop.slug);
		await passDays(world, 32);
		const mails = await sent();
		const renewed = mails.find(({ subject }) => subject.includes('is renewed'));
		const token = linkIn(renewed?.text ?? '');
		const device = { orderToken: null, sessionToken: null };
		const next = '/videos/wheel';
		expect(await lookAtLink(world.app, token, device)).toMatchObject({ kind: 'good', next });
		expect(await pressLink(world.app, token, device, true)).toMatchObject({ next });
		expect(await pressLink(world.app, token, device, true)).toBeNull();
	});
});

describe('a member’s own language', () => {
	const speaks = async (language: 'en' | 'de' | null) => {
		const wren = await accountByEmail(world.app.db, 'wren@mail.example');
		const own = { accountId: wren?.id ?? '', sessionToken: '' };
		await changeLanguage(world.app, own, language);
		return own;
	};

	it('is what mails speak to them, in the publisher’s words for it, with its dates and amounts', async () => {
		const wish = { subject: 'Weiter mit {plan}', text: '{amount} bis {day}', button: 'Hinein' };
		const german = { key: 'renewed', language: 'de' } as const;
		await saveMailText(world.app, null, german, wish, null);
		await buy(world, shop.slug);
		await sent();
		const own = await speaks('de');
		expect(await world.app.rights.standing(own.accountId)).toMatchObject({ language: 'de' });
		expect(await ownAccount(world.app, own)).toMatchObject({ language: 'de' });
		await passDays(world, 32);
		const mail = (await sent()).find(({ subject }) => subject === 'Weiter mit Workshop');
		expect(mail?.text).toMatch(/^12,00 EUR bis \d+\. \p{L}+ \d{4}\n/u);
		expect(mail?.html).toContain('lang="de"');
	});

	it('is the site’s again once they say so, and nobody else’s business', async () => {
		await buy(world, shop.slug);
		await buy(world, shop.slug, 'bramble@mail.example');
		await speaks('de');
		await sent();
		world.mails.length = 0;
		await passDays(world, 32);
		const renewed = (await sent()).map(({ to, subject }) => `${to}: ${subject}`);
		expect(renewed).toContain('bramble@mail.example: Workshop is renewed');
		expect(renewed).toContain('wren@mail.example: Workshop ist verlängert');
		const own = await speaks(null);
		expect(await world.app.rights.standing(own.accountId)).toMatchObject({ language: null });
		world.mails.length = 0;
		await passDays(world, 31);
		expect((await sent()).map(({ subject }) => subject)).toContain('Workshop is renewed');
		expect((await sent()).some(({ subject }) => subject.includes('verlängert'))).toBe(false);
	});

	it('does not change what the Desk draws in another', async () => {
		const { orderId } = await buy(world, shop.slug);
		const { number = '' } = (await orderById(world.app.db, orderId)) ?? {};
		await speaks('de');
		const text = { subject: 'In {plan}', text: 'For {amount}', button: 'Open' };
		const drawn = await drawMail(world.app, { ...ORDER, text, number });
		expect(drawn).toMatchObject({ number, subject: 'In Workshop' });
		expect(drawn.text).toContain('For 12.00 EUR');
	});
});

describe('the publisher’s own words', () => {
	const wish = { subject: 'Willkommen bei {plan}', text: 'First.\n\nSecond: {number}.', button: 'Hinein' };

	it('stand in the next mail of that kind, and in no other', async () => {
		expect(await saveMailText(world.app, null, ORDER, wish, null)).toEqual({ kind: 'saved' });
		await buy(world, shop.slug);
		const [mail] = await sent();
		expect(mail?.subject).toBe('Willkommen bei Workshop');
		expect(mail?.text).toMatch(/^First\.\n\nHinein: http/);
		await passDays(world, 32);
		expect((await sent()).some(({ subject }) => subject === 'Workshop is renewed')).toBe(true);
	});

	it('are refused where a name is not known or a bracket does not close, and nothing is changed', async () => {
		expect(await saveMailText(world.app, null, ORDER, { ...wish, text: 'Hello {nobody}' }, null)).toEqual({
			kind: 'refused',
			field: 'text',
			problem: { code: 'unknown-name', name: 'nobody' }
		});
		expect(await saveMailText(world.app, null, ORDER, { ...wish, subject: '{plan' }, null)).toMatchObject({
			kind: 'refused',
			field: 'subject',
			problem: { code: 'unreadable' }
		});
		expect(await ownMailText(world.app.db, 'order', 'en')).toBeNull();
	});

	it('are not overwritten by whoever began with others, and can be put back', async () => {
		const begun = mailTextRevision(await ownMailText(world.app.db, 'order', 'en'));
		const [first, second] = await Promise.all([
			saveMailText(world.app, null, ORDER, wish, begun),
			saveMailText(world.app, null, ORDER, { ...wish, subject: 'Mine' }, begun)
		]);
		expect([first.kind, second.kind].sort()).toEqual(['changed', 'saved']);
		expect(await saveMailText(world.app, null, ORDER, null, null)).toEqual({ kind: 'saved' });
		expect(await ownMailText(world.app.db, 'order', 'en')).toBeNull();
		// What says the same as Stile does is no text of one's own: it changes with Stile.
		await saveMailText(world.app, null, ORDER, { ...MAIL.order }, null);
		expect(await ownMailText(world.app.db, 'order', 'en')).toBeNull();
	});
});

describe('a mail whose words are still being written', () => {
	const text = { subject: '{plan}: {number}', text: 'Paid: {amount}.\n\nIt’s open.', button: 'Go in' };
	const draft = (over: Partial<Draft> = {}): Draft => ({ ...ORDER, text, number: '', ...over });

	it('is drawn for an order that is there, and makes no way in', async () => {
		const { orderId } = await buy(world, shop.slug);
		await sent();
		const links = async () => (await world.app.db.select().from(signInLinks)).length;
		const before = await links();
		const number = (await orderById(world.app.db, orderId))?.number ?? '';
		const drawn = await drawMail(world.app, draft({ number: ` ${number.toLowerCase()} ` }));
		expect(drawn).toMatchObject({ number, subject: `Workshop: ${number}`, to: 'wren@mail.example' });
		expect(drawn.text).toContain('Paid: 12.00 EUR.');
		expect(drawn.text).toContain('/enter/a-way-in');
		expect(await links()).toBe(before);
	});

	it.each([
		['the order is not there', 'order', 'S-9999'],
		['the mail is about no order', 'sign-in', 'the order'],
		['nothing like it happens to the order', 'gift', 'the order']
	] as const)('is drawn with made-up values where %s', async (_why, key, number) => {
		const { orderId } = await buy(world, shop.slug);
		const real = (await orderById(world.app.db, orderId))?.number ?? '';
		const own = { ...text, subject: 'Hello from {site}', text: 'Hello' };
		const wish = draft({ key, text: own, number: number === 'the order' ? real : number });
		expect(await drawMail(world.app, wish)).toMatchObject({ number: null, to: 'wren@mail.example' });
	});

	it('is drawn of an agreement, a refund and a language that is not the site’s', async () => {
		const { orderId, memberId } = await buy(world, shop.slug);
		const number = (await orderById(world.app.db, orderId))?.number ?? '';
		const [payment] = await paymentsOf(world.app.db, memberId);
		await refundWhole(world.app, null, payment?.id ?? '');
		for (const key of ['renewed', 'cancelled-now', 'refunded-shut'] as const) {
			const own = { ...text, subject: '{plan}, {amount}', text: 'Hello' };
			const drawn = await drawMail(world.app, draft({ key, language: 'de', text: own, number }));
			expect(drawn.number).toBe(number);
			expect(drawn.html).toContain('lang="de"');
		}
	});

	it('is sent to whoever writes it, as it is typed, and to nobody else', async () => {
		const staff = await inviteStaff(world.app, null, {
			email: 'desk@clock.example',
			name: 'Desk',
			post: { kind: 'owner' }
		});
		if (staff.kind !== 'saved') throw new Error(staff.code);
		await buy(world, shop.slug);
		await sent();
		world.mails.length = 0;
		const actor = { id: staff.accountId, permissions: ALL_PERMISSIONS };
		expect(await mayTryMailOut(world.app, actor)).toEqual({ ok: true, to: 'desk@clock.example' });
		expect(await tryMailOut(world.app, draft(), 'desk@clock.example')).toEqual({ ok: true });
		expect(world.mails).toMatchObject([{ to: 'desk@clock.example', subject: 'Workshop: S-1024' }]);
		world.app.mailer = { send: () => Promise.reject(new MailRefused('554 5.7.1 No')) };
		const refused = { ok: false, code: 'refused', reply: '554 5.7.1 No' };
		expect(await tryMailOut(world.app, draft(), 'desk@clock.example')).toEqual(refused);
		world.app.mailer = { send: () => Promise.reject(new Error('connect ECONNREFUSED')) };
		const silent = { ok: false, code: 'no-answer' };
		expect(await tryMailOut(world.app, draft(), 'desk@clock.example')).toEqual(silent);
		for (let n = 1; n < 30; n++) await mayTryMailOut(world.app, actor);
		expect(await mayTryMailOut(world.app, actor)).toEqual({ ok: false, code: 'too-many' });
		const other = { ...actor, permissions: new Set(['members'] as const) };
		await expect(mayTryMailOut(world.app, other)).rejects.toThrow();
	});

	it('has words of its own in each language', async () => {
		await saveMailText(world.app, null, { key: 'order', language: 'de' }, wishOf('Offen'), null);
		await saveMailText(world.app, null, ORDER, wishOf('Open'), null);
		await buy(world, shop.slug);
		expect((await sent()).at(-1)?.subject).toBe('Open');
		const site = await world.app.site();
		await saveSite(world.app, null, 'site', { ...site, language: 'de' });
		await buy(world, shop.slug, 'teasel@mail.example');
		expect((await sent()).at(-1)?.subject).toBe('Offen');
	});
});

function wishOf(subject: string) {
	return { subject, text: 'Words', button: 'Go' };
}
