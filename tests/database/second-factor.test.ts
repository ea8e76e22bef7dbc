import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { recoveryCodes, secondFactors, halfSignIns } from '$server/db/schema/people';
import { audit } from '$server/db/schema/running';
import { codeAt } from '$server/people/second-factor';
import { hashOf } from '$server/people/sessions';
import { finishSignIn, isHalfIn, type Admitted } from '$server/usecases/accounts/admit';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { changePassword } from '$server/usecases/accounts/own-account';
import {
	offerFactor,
	ownFactor,
	renewRecoveryCodes,
	takeFactorOff,
	turnFactorOff,
	turnFactorOn
} from '$server/usecases/accounts/second-factor';
import { signIn } from '$server/usecases/accounts/sign-in';
import { makeLink, pressLink } from '$server/usecases/accounts/sign-in-link';
import { inviteStaff, needStaffCode } from '$server/usecases/accounts/staff';
import { buy, makeShop, makeWorld, NEW_DEVICE, sessionOf, type World } from './world';

let world: World;
let slug: string;

beforeAll(async () => {
	world = await makeWorld();
	({ slug } = await makeShop(world));
});
afterAll(() => world.end());

const PASSWORD = 'pendulum in a draught';

async function pressed(accountId: string): Promise<Admitted> {
	const token = (await makeLink(world.app, accountId, '/account')).split('/').at(-1) ?? '';
	const done = await pressLink(world.app, token, NEW_DEVICE, true);
	if (!done) throw new Error('the link did not work');
	return done.admitted;
}

async function member(email: string) {
	const { memberId: accountId } = await buy(world, slug, email);
	const own = { accountId, sessionToken: sessionOf(await pressed(accountId)).token };
	await changePassword(world.app, own, { current: '', wanted: PASSWORD });
	return own;
}

/** A member who is asked for a code, made of a secret of which the last step was taken some time ago. */
async function coded(email: string) {
	const own = await member(email);
	const offer = (await offerFactor(world.app, own))!;
	const code = codeAt(offer.secret, world.app.clock.wall());
	const on = await turnFactorOn(world.app, own, { offer: offer.signed, code, current: '' });
	if (on.kind !== 'on') throw new Error(on.code);
	await anHourLater(own.accountId);
	return { own, email, secret: offer.secret, codes: on.codes };
}

/** The wall clock is real: instead, the last code was taken long ago. */
async function anHourLater(accountId: string): Promise<void> {
	await world.app.db.update(secondFactors).set({ lastStep: 1 }).where(eq(secondFactors.accountId, accountId));
}

const byPassword = (email: string, client = email) =>
	signIn(world.app, { email, password: PASSWORD, client });

async function half(email: string): Promise<string> {
	const done = await byPassword(email);
	if (!done.ok || done.admitted.kind !== 'asks') throw new Error('no code is asked for');
	return done.admitted.half.token;
}

const now = (secret: string) => codeAt(secret, world.app.clock.wall());
/** Of no step that is near. */
const wrong = (secret: string) => codeAt(secret, world.app.clock.wall() - 3_600_000);
const isIn = async (token: string) => (await world.app.rights.sessionAccount(hashOf(token))) !== null;

describe('setting it up', () => {
	it('keeps nothing until a code made of the secret is shown, and signs out every other device then', async () => {
		const own = await member('setting@mail.example');
		const other = sessionOf(await pressed(own.accountId)).token;
		const offer = (await offerFactor(world.app, own))!;
		const ask = { offer: offer.signed, current: '' };
		expect(await turnFactorOn(world.app, own, { ...ask, code: wrong(offer.secret) })).toMatchObject({
			code: 'wrong-code'
		});
		expect((await ownFactor(world.app, own))?.since).toBeNull();
		const on = await turnFactorOn(world.app, own, { ...ask, code: now(offer.secret) });
		expect(on).toMatchObject({ kind: 'on' });
		expect(await ownFactor(world.app, own)).toMatchObject({ recoveryCodes: 10, asksCurrent: false });
		expect([await isIn(own.sessionToken), await isIn(other)]).toEqual([true, false]);
		const [row] = await world.app.db
			.select()
			.from(secondFactors)
			.where(eq(secondFactors.accountId, own.accountId));
		expect(JSON.stringify(row)).not.toContain(offer.secret);
		const again = await offerFactor(world.app, own);
		expect(
			await turnFactorOn(world.app, own, { offer: again!.signed, current: '', code: now(again!.secret) })
		).toMatchObject({ code: 'is-on' });
	});

	it('takes no offer of another account, none that is over, and none that was made up', async () => {
		const own = await member('offers@mail.example');
		const other = await member('other-offers@mail.example');
		const theirs = (await offerFactor(world.app, other))!;
		const refused = async (offer: string, code: string) =>
			turnFactorOn(world.app, own, { offer, code, current: '' });
		expect(await refused(theirs.signed, now(theirs.secret))).toMatchObject({ code: 'offer-over' });
		expect(await refused('made.up.offer', '123456')).toMatchObject({ code: 'offer-over' });
		const text = JSON.stringify({
			accountId: own.accountId,
			secret: theirs.secret,
			until: world.app.clock.wall()
		});
		const over = world.app.keys.signText('second-factor-offer', text);
		expect(await refused(over, now(theirs.secret))).toMatchObject({ code: 'offer-over' });
	});

	it('asks a device that came by password for it, and nobody whose mailbox is not proved may', async () => {
		const { accountId } = await member('current@mail.example');
		const signedIn = await byPassword('current@mail.example');
		if (!signedIn.ok) throw new Error(signedIn.code);
		const own = { accountId, sessionToken: sessionOf(signedIn.admitted).token };
		expect(await ownFactor(world.app, own)).toMatchObject({ asksCurrent: true, isUnproved: false });
		const offer = (await offerFactor(world.app, own))!;
		const ask = { offer: offer.signed, code: now(offer.secret) };
		expect(await turnFactorOn(world.app, own, { ...ask, current: 'not this' })).toMatchObject({
			code: 'wrong'
		});
		expect(await turnFactorOn(world.app, own, { ...ask, current: PASSWORD })).toMatchObject({ kind: 'on' });

		const { memberId } = await buy(world, slug, 'typed-only@mail.example');
		const typed = { accountId: memberId, sessionToken: '' };
		expect(await ownFactor(world.app, typed)).toMatchObject({ isUnproved: true });
		const made = (await offerFactor(world.app, typed))!;
		expect(
			await turnFactorOn(world.app, typed, { offer: made.signed, code: now(made.secret), current: '' })
		).toMatchObject({ code: 'unproved' });
	});
});

describe('signing in', () => {
	it('lets nobody in by password or mailed link alone', async () => {
		const { own, email } = await coded('alone@mail.example');
		const token = await half(email);
		expect(await isIn(token)).toBe(false);
		expect(await isHalfIn(world.app, token)).toBe(true);
		const byLink = await pressed(own.accountId);
		expect(byLink.kind).toBe('asks');
		if (byLink.kind === 'asks') expect(await isIn(byLink.half.token)).toBe(false);
	});

	it('lets in whoever shows the code of now, once', async () => {
		const { email, secret } = await coded('once@mail.example');
		const [one, two] = [await half(email), await half(email)];
		const code = now(secret);
		const done = await finishSignIn(world.app, one, code, 'c');
		expect(done).toMatchObject({ ok: true, begunBy: 'password' });
		if (done.ok) expect(await isIn(done.session.token)).toBe(true);
		expect(await isHalfIn(world.app, one)).toBe(false);
		expect(await finishSignIn(world.app, two, code, 'c')).toEqual({ ok: false, code: 'wrong' });
		expect(await finishSignIn(world.app, one, code, 'c')).toEqual({ ok: false, code: 'gone' });
	});

	it('takes one code once when two devices show it in the same moment', async () => {
		const { email, secret } = await coded('twice@mail.example');
		const tokens = [await half(email), await half(email), await half(email)];
		const code = now(secret);
		const done = await Promise.all(tokens.map((token) => finishSignIn(world.app, token, code, 'c')));
		expect(done.filter(({ ok }) => ok)).toHaveLength(1);
	});

	it('counts guesses for the account, whatever the device; a recovery code still signs in, once, and is told of', async () => {
		const { own, email, secret, codes } = await coded('guessed@mail.example');
		const tokens = await Promise.all([half(email), half(email)]);
		const answers = [];
		for (let n = 0; n < 7; n++) {
			const done = await finishSignIn(world.app, tokens[n % 2]!, wrong(secret), `client ${n}`);
			answers.push(done.ok ? 'in' : done.code);
		}
		expect(answers).toEqual([...Array<string>(5).fill('wrong'), 'too-many', 'too-many']);
		expect(await finishSignIn(world.app, tokens[0], now(secret), 'c')).toEqual({
			ok: false,
			code: 'too-many'
		});
		const recovery = codes[0]!.toLowerCase().replaceAll('-', ' ');
		expect(await finishSignIn(world.app, tokens[0], recovery, 'c')).toMatchObject({ ok: true });
		expect(await finishSignIn(world.app, tokens[1], recovery, 'c')).toEqual({ ok: false, code: 'wrong' });
		expect((await ownFactor(world.app, own))?.recoveryCodes).toBe(9);
		await world.stile.runner.runDue('mail');
		const mail = world.mails.find(({ to, subject }) => to === email && subject.includes('recovery code'));
		expect(mail?.text).toContain('Recovery codes left: 9.');
		expect(mail?.text).not.toContain('/enter/');
	});

	it('is over after a quarter of an hour, and when the password is changed meanwhile', async () => {
		const { own, email, secret } = await coded('late@mail.example');
		const late = await half(email);
		await world.app.db
			.update(halfSignIns)
			.set({ expiresAt: world.app.clock.wall() })
			.where(eq(halfSignIns.tokenHash, hashOf(late)));
		expect(await finishSignIn(world.app, late, now(secret), 'c')).toEqual({ ok: false, code: 'gone' });
		const waiting = await half(email);
		await changePassword(world.app, own, { current: '', wanted: 'another one of these' });
		expect(await finishSignIn(world.app, waiting, now(secret), 'c')).toEqual({ ok: false, code: 'gone' });
	});
});

describe('taking it off', () => {
	it('asks its owner for a code, and opens the account to the password alone again', async () => {
		const { own, email, secret, codes } = await coded('off@mail.example');
		const off = (code: string) => turnFactorOff(world.app, own, { code, client: 'c' });
		expect(await off('000000')).toMatchObject({ code: 'wrong-code' });
		expect(await off('no code')).toMatchObject({ code: 'wrong-code' });
		expect(await off(now(secret))).toEqual({ kind: 'off' });
		expect(await off(codes[0]!)).toMatchObject({ code: 'is-off' });
		expect(await byPassword(email)).toMatchObject({ ok: true, admitted: { kind: 'in' } });
		const left = await world.app.db
			.select()
			.from(recoveryCodes)
			.where(eq(recoveryCodes.accountId, own.accountId));
		expect(left).toEqual([]);
	});

	it('makes the recovery codes from before worth nothing by new ones', async () => {
		const { own, email, secret, codes } = await coded('renewed@mail.example');
		const done = await renewRecoveryCodes(world.app, own, { code: now(secret), client: 'c' });
		if (done.kind !== 'codes') throw new Error(done.code);
		expect(done.codes).toHaveLength(10);
		expect(await finishSignIn(world.app, await half(email), codes[3]!, 'c')).toMatchObject({ code: 'wrong' });
		expect(await finishSignIn(world.app, await half(email), done.codes[3]!, 'c')).toMatchObject({ ok: true });
	});

	it('is done at the Desk for whoever has lost the phone: signed out everywhere, told, and noted', async () => {
		const { own, email } = await coded('lost@mail.example');
		expect(await takeFactorOff(world.app, null, own.accountId)).toEqual({ ok: true });
		expect(await isIn(own.sessionToken)).toBe(false);
		expect(await byPassword(email)).toMatchObject({ admitted: { kind: 'in' } });
		expect(await takeFactorOff(world.app, null, own.accountId)).toMatchObject({ code: 'unknown' });
		const notes = await world.app.db.select().from(audit).where(eq(audit.memberId, own.accountId));
		expect(notes.map(({ action }) => action)).toContain('code-not-asked');
	});

	it('is for nobody who may do less than whose code it is', async () => {
		const { own } = await coded('an-owner@mail.example');
		await inviteStaff(world.app, null, {
			email: 'an-owner@mail.example',
			name: 'O',
			post: { kind: 'owner' }
		});
		const support = { id: own.accountId, permissions: new Set(['members'] as const) };
		expect(await takeFactorOff(world.app, support, own.accountId)).toMatchObject({ code: 'more-than-own' });
	});

	it('goes with its account', async () => {
		const { own } = await coded('deleted@mail.example');
		await deleteMember(world.app, null, own.accountId);
		const left = await world.app.db
			.select()
			.from(secondFactors)
			.where(eq(secondFactors.accountId, own.accountId));
		expect(left).toEqual([]);
	});
});

describe('a code that everybody at the Desk has', () => {
	it('is asked for by whoever has one, and shuts the Desk to those who have none until they do', async () => {
		const { own, secret } = await coded('asks@mail.example');
		await inviteStaff(world.app, null, { email: 'asks@mail.example', name: 'A', post: { kind: 'owner' } });
		const other = await member('has-none@mail.example');
		await inviteStaff(world.app, null, {
			email: 'has-none@mail.example',
			name: 'N',
			post: { kind: 'owner' }
		});
		const standing = (id: string) => world.app.rights.standing(id);
		const actor = async (id: string) => ({ id, permissions: (await standing(id))!.permissions });
		expect(await needStaffCode(world.app, await actor(other.accountId), true)).toMatchObject({
			code: 'own-first'
		});
		expect(await needStaffCode(world.app, await actor(own.accountId), true)).toEqual({ kind: 'saved' });
		const shut = await standing(other.accountId);
		expect(shut).toMatchObject({ lacksFactor: true, role: 'owner', viewer: { isStaff: false } });
		expect(shut?.permissions.size).toBe(0);
		expect((await standing(own.accountId))?.permissions.size).toBeGreaterThan(0);
		expect(await standing((await member('a-member@mail.example')).accountId)).toMatchObject({
			lacksFactor: false
		});

		const offer = (await offerFactor(world.app, other))!;
		await turnFactorOn(world.app, other, { offer: offer.signed, code: now(offer.secret), current: '' });
		expect(await standing(other.accountId)).toMatchObject({ lacksFactor: false, viewer: { isStaff: true } });
		await turnFactorOff(world.app, own, { code: now(secret), client: 'c' });
		expect(await standing(own.accountId)).toMatchObject({ lacksFactor: true });
		expect(await needStaffCode(world.app, await actor(other.accountId), false)).toEqual({ kind: 'saved' });
		expect(await standing(own.accountId)).toMatchObject({ lacksFactor: false });
	});
});
