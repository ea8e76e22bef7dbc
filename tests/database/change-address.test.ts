/** Another mail address for an account: proved by mail, told to the one before, and put back from there. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { eq } from 'drizzle-orm';
import { accountByEmail, accountById } from '$server/db/queries/members';
import { addressChanges, sessions } from '$server/db/schema/people';
import { sentMails } from '$server/db/schema/running';
import { noteReport } from '$server/usecases/mail/returns';
import {
	askNewAddress,
	askNewAddressFor,
	lookAtAddressLink,
	pressAddressLink
} from '$server/usecases/accounts/change-address';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { changePassword } from '$server/usecases/accounts/own-account';
import { addMember } from '$server/usecases/accounts/run-members';
import { askForLink, lookAtLink, pressLink } from '$server/usecases/accounts/sign-in-link';
import { inviteStaff } from '$server/usecases/accounts/staff';
import { mailedToken, makeWorld, NEW_DEVICE, sessionOf, type World } from './world';

const [OLD, NEW] = ['wren@mail.example', 'wren.alder@mail.example'];
const CLIENT = '198.51.100.7';

let world: World;
let memberId: string;
beforeEach(async () => {
	world = await makeWorld();
	memberId = await added(OLD);
});
afterEach(async () => world.end());

async function added(email: string): Promise<string> {
	const done = await addMember(world.app, null, { email, name: 'Wren', planId: null, until: null });
	if (!done.ok) throw new Error(done.code);
	return done.memberId;
}

/** Signs in by a mailed link, as whoever has the mailbox does. */
async function signedIn(email: string) {
	const pressed = await pressLink(world.app, await mailedToken(world, email), NEW_DEVICE, true);
	if (!pressed) throw new Error('the link was not pressed');
	return { accountId: pressed.accountId, sessionToken: sessionOf(pressed.admitted).token };
}

const ask = (own: { accountId: string; sessionToken: string }, email = NEW, current = '') =>
	askNewAddress(world.app, own, { email, current, client: CLIENT });

/** What is mailed to an address about another one; gives the token of the newest. */
async function tokenTo(email: string): Promise<string> {
	await world.stile.runner.runDue('mail');
	return (
		world.mails
			.filter(({ to }) => to === email)
			.flatMap(({ text }) => [...text.matchAll(/\/account\/address\/([\w-]+)/g)])
			.at(-1)?.[1] ?? ''
	);
}
const addressNow = async () => (await accountById(world.app.db, memberId))?.email;

describe('another address', () => {
	it('counts once the link in a mail to it is pressed, once, and not by being opened', async () => {
		const own = await signedIn(OLD);
		expect(await ask(own)).toEqual({ ok: true });
		const token = await tokenTo(NEW);
		const { sessionToken } = own;
		expect(await lookAtAddressLink(world.app, token, sessionToken)).toEqual({
			...{ kind: 'good', email: NEW, isBack: false, endsOthers: false }
		});
		expect(await addressNow()).toBe(OLD);
		const both = await Promise.all([1, 2].map(() => pressAddressLink(world.app, token, sessionToken)));
		expect(both.filter(({ ok }) => ok)).toEqual([{ ok: true, email: NEW, isBack: false }]);
		expect(both.filter(({ ok }) => !ok)).toEqual([{ ok: false, code: 'spent' }]);
		expect(await addressNow()).toBe(NEW);
		expect(await lookAtAddressLink(world.app, token, null)).toEqual({ kind: 'spent' });
	});

	it('keeps the device signed in that asked, and lets links to the old address sign nobody in', async () => {
		const own = await signedIn(OLD);
		await askForLink(world.app, { email: OLD, next: '/', client: CLIENT });
		const before = await mailedToken(world, OLD);
		await ask(own);
		await pressAddressLink(world.app, await tokenTo(NEW), own.sessionToken);
		expect(await lookAtLink(world.app, before, NEW_DEVICE)).toMatchObject({ kind: 'spent', email: NEW });
		expect(await pressLink(world.app, before, NEW_DEVICE, true)).toBeNull();
		const kept = await world.app.db.select().from(sessions).where(eq(sessions.accountId, memberId));
		expect(kept).toHaveLength(1);
	});

	it('that the account asked for is pressed where it is signed in: nobody is led into an account of somebody else', async () => {
		const own = await signedIn(OLD);
		await ask(own);
		const token = await tokenTo(NEW);
		await added('teasel@mail.example');
		const other = await signedIn('teasel@mail.example');
		for (const session of [null, 'nobody’s', other.sessionToken]) {
			expect(await lookAtAddressLink(world.app, token, session)).toEqual({ kind: 'elsewhere', email: NEW });
			expect(await pressAddressLink(world.app, token, session)).toEqual({ ok: false, code: 'elsewhere' });
		}
		expect(await addressNow()).toBe(OLD);
		expect(await pressAddressLink(world.app, token, own.sessionToken)).toMatchObject({ ok: true });
	});

	it('asks for the password that there is, and answers alike whether somebody has the address or not', async () => {
		await added(NEW);
		const own = await signedIn(OLD);
		await changePassword(world.app, own, { current: '', wanted: 'pendulum in a draught' });
		await world.app.db.update(sessions).set({ begunBy: 'password' });
		expect(await ask(own, NEW, 'wrong')).toEqual({ ok: false, code: 'wrong' });
		expect(await ask(own, OLD, 'pendulum in a draught')).toEqual({ ok: false, code: 'same' });
		expect(await ask(own, NEW, 'pendulum in a draught')).toEqual({ ok: true });
		expect(await ask(own, 'nobody@mail.example', 'pendulum in a draught')).toEqual({ ok: true });
		await world.stile.runner.runDue('mail');
		const last = (to: string) => world.mails.filter((one) => one.to === to).at(-1);
		expect(last(NEW)?.subject).toContain('has an account');
		expect(last(NEW)?.text).not.toContain('/account/address/');
		expect(last('nobody@mail.example')?.text).toContain('/account/address/');
	});

	it('is not given where somebody has made an account with it meanwhile', async () => {
		const own = await signedIn(OLD);
		await ask(own);
		const token = await tokenTo(NEW);
		const other = await added(NEW);
		expect(await pressAddressLink(world.app, token, own.sessionToken)).toEqual({ ok: false, code: 'taken' });
		expect(await addressNow()).toBe(OLD);
		expect((await accountByEmail(world.app.db, NEW))?.id).toBe(other);
	});

	it('lets the last wish count alone', async () => {
		const own = await signedIn(OLD);
		await ask(own, 'first@mail.example');
		const first = await tokenTo('first@mail.example');
		await ask(own, NEW);
		await pressAddressLink(world.app, await tokenTo(NEW), own.sessionToken);
		expect(await pressAddressLink(world.app, first, own.sessionToken)).toEqual({ ok: false, code: 'spent' });
		expect(await addressNow()).toBe(NEW);
	});

	it('is asked for at most five times an hour', async () => {
		const own = await signedIn(OLD);
		for (let n = 0; n < 5; n++) expect(await ask(own)).toEqual({ ok: true });
		expect(await ask(own)).toEqual({ ok: false, code: 'too-many-links' });
	});

	it('is asked for by staff for members alone, and counts by the link, which ends what was set before', async () => {
		const own = await signedIn(OLD);
		await changePassword(world.app, own, { current: '', wanted: 'typed for somebody else' });
		const wish = { email: NEW, client: CLIENT };
		expect(await askNewAddressFor(world.app, null, memberId, wish)).toEqual({ ok: true });
		expect(await addressNow()).toBe(OLD);
		const token = await tokenTo(NEW);
		expect(await lookAtAddressLink(world.app, token, null)).toMatchObject({ kind: 'good', endsOthers: true });
		await pressAddressLink(world.app, token, null);
		expect(await world.app.db.select().from(sessions)).toEqual([]);
		expect(await accountById(world.app.db, memberId)).toMatchObject({ email: NEW, passwordHash: null });
		await inviteStaff(world.app, null, { email: NEW, name: 'Wren', post: { kind: 'owner' } });
		const mine = { ...wish, email: 'mine@mail.example' };
		expect(await askNewAddressFor(world.app, null, memberId, mine)).toEqual({ ok: false, code: 'gone' });
	});

	it('that staff asked for counts no more once the member works at the Desk', async () => {
		await askNewAddressFor(world.app, null, memberId, { email: NEW, client: CLIENT });
		const token = await tokenTo(NEW);
		await askNewAddressFor(world.app, null, memberId, { email: 'mine@mail.example', client: CLIENT });
		await inviteStaff(world.app, null, { email: OLD, name: 'Wren', post: { kind: 'owner' } });
		expect(await pressAddressLink(world.app, token, null)).toEqual({ ok: false, code: 'spent' });
		expect(await tokenTo('mine@mail.example')).toBe('');
		expect(await addressNow()).toBe(OLD);
	});
});

describe('the old address', () => {
	it('is told, and puts itself back: everybody is signed out, and what was set since is gone', async () => {
		const own = await signedIn(OLD);
		await ask(own);
		await pressAddressLink(world.app, await tokenTo(NEW), own.sessionToken);
		const back = await tokenTo(OLD);
		await changePassword(world.app, own, { current: '', wanted: 'somebody else set it' });
		expect(await lookAtAddressLink(world.app, back, null)).toEqual({
			kind: 'good',
			email: OLD,
			isBack: true,
			endsOthers: true
		});
		expect(await pressAddressLink(world.app, back, null)).toEqual({ ok: true, email: OLD, isBack: true });
		const account = await accountById(world.app.db, memberId);
		expect(account).toMatchObject({ email: OLD, passwordHash: null });
		expect(await world.app.db.select().from(sessions)).toEqual([]);
	});

	it('is told nothing where nobody has proved it: it may have been mistyped, and be a stranger’s', async () => {
		await askNewAddressFor(world.app, null, memberId, { email: NEW, client: CLIENT });
		expect(await pressAddressLink(world.app, await tokenTo(NEW), null)).toMatchObject({ ok: true });
		world.mails.length = 0;
		await world.stile.runner.runDue('mail');
		expect(world.mails).toEqual([]);
		expect(await tokenTo(OLD)).toBe('');
	});

	it('is told, too, where mails come back from it', async () => {
		const own = await signedIn(OLD);
		const [mail] = await world.app.db.select().from(sentMails).where(eq(sentMails.address, OLD));
		await noteReport(world.app, { mailId: mail?.id ?? '', fate: 'gone', code: '5.1.1', words: '' });
		await ask(own);
		await pressAddressLink(world.app, await tokenTo(NEW), own.sessionToken);
		expect(await tokenTo(OLD)).not.toBe('');
	});

	it('puts itself back, too, after the address was changed once more', async () => {
		const own = await signedIn(OLD);
		await ask(own);
		await pressAddressLink(world.app, await tokenTo(NEW), own.sessionToken);
		const back = await tokenTo(OLD);
		await ask(own, 'third@mail.example');
		await pressAddressLink(world.app, await tokenTo('third@mail.example'), own.sessionToken);
		const second = await tokenTo(NEW);
		expect(await pressAddressLink(world.app, back, null)).toMatchObject({ ok: true, email: OLD });
		expect(await pressAddressLink(world.app, second, null)).toEqual({ ok: false, code: 'spent' });
		expect(await addressNow()).toBe(OLD);
	});
});

it('leaves nothing of an account that is deleted', async () => {
	const own = await signedIn(OLD);
	await ask(own);
	const token = await tokenTo(NEW);
	await deleteMember(world.app, null, memberId);
	expect(await world.app.db.select().from(addressChanges)).toEqual([]);
	expect(await pressAddressLink(world.app, token, null)).toEqual({ ok: false, code: 'spent' });
	expect(await accountByEmail(world.app.db, NEW)).toBeNull();
});
