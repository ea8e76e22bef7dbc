/** Mails: what they lead to on any device, and the publisher's own words for them. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { MAIL } from '$words/en/mail';
import { ownMailText } from '$server/db/queries/mail-texts';
import { mailTextRevision, saveMailText } from '$server/usecases/running/save-mail-text';
import { lookAtLink, pressLink } from '$server/usecases/accounts/sign-in-link';
import { buy, makeShop, makeWorld, passDays, type World } from './world';

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

describe('the publisher’s own words', () => {
	const wish = { subject: 'Willkommen bei {plan}', text: 'First.\n\nSecond: {number}.', button: 'Hinein' };

	it('stand in the next mail of that kind, and in no other', async () => {
		expect(await saveMailText(world.app, null, 'order', wish, null)).toEqual({ kind: 'saved' });
		await buy(world, shop.slug);
		const [mail] = await sent();
		expect(mail?.subject).toBe('Willkommen bei Workshop');
		expect(mail?.text).toMatch(/^First\.\n\nHinein: http/);
		await passDays(world, 32);
		expect((await sent()).some(({ subject }) => subject === 'Workshop is renewed')).toBe(true);
	});

	it('are refused where a name is not known or a bracket does not close, and nothing is changed', async () => {
		expect(await saveMailText(world.app, null, 'order', { ...wish, text: 'Hello {nobody}' }, null)).toEqual({
			kind: 'refused',
			field: 'text',
			problem: { code: 'unknown-name', name: 'nobody' }
		});
		expect(await saveMailText(world.app, null, 'order', { ...wish, subject: '{plan' }, null)).toMatchObject({
			kind: 'refused',
			field: 'subject',
			problem: { code: 'unreadable' }
		});
		expect(await ownMailText(world.app.db, 'order')).toBeNull();
	});

	it('are not overwritten by whoever began with others, and can be put back', async () => {
		const begun = mailTextRevision(await ownMailText(world.app.db, 'order'));
		const [first, second] = await Promise.all([
			saveMailText(world.app, null, 'order', wish, begun),
			saveMailText(world.app, null, 'order', { ...wish, subject: 'Mine' }, begun)
		]);
		expect([first.kind, second.kind].sort()).toEqual(['changed', 'saved']);
		expect(await saveMailText(world.app, null, 'order', null, null)).toEqual({ kind: 'saved' });
		expect(await ownMailText(world.app.db, 'order')).toBeNull();
		// What says the same as Stile does is no text of one's own: it changes with Stile.
		await saveMailText(world.app, null, 'order', { ...MAIL.order }, null);
		expect(await ownMailText(world.app.db, 'order')).toBeNull();
	});
});
