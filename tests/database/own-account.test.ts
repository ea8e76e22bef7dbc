/** What members change of their own account, and what ends with it. */
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { accountById } from '$server/db/queries/members';
import { accounts, sessions } from '$server/db/schema/people';
import { hashOf } from '$server/people/sessions';
import {
	changeName,
	changePassword,
	ownAccount,
	signOutElsewhere
} from '$server/usecases/accounts/own-account';
import { signIn } from '$server/usecases/accounts/sign-in';
import { makeLink, pressLink } from '$server/usecases/accounts/sign-in-link';
import { buy, makeShop, makeWorld, NEW_DEVICE, type World, sessionOf } from './world';

let world: World;
let slug: string;

beforeAll(async () => {
	world = await makeWorld();
	({ slug } = await makeShop(world));
});
afterAll(() => world.end());

const FIRST = 'escapement of four';
const SECOND = 'a longer pendulum';

/** A member who came by a mailed link, and how they are seen from that device. */
async function member(email: string) {
	const { memberId } = await buy(world, slug, email);
	return { memberId, email, own: await byLink(memberId) };
}

async function byLink(accountId: string) {
	const token = (await makeLink(world.app, accountId, '/account')).split('/').at(-1) ?? '';
	const pressed = await pressLink(world.app, token, NEW_DEVICE, true);
	if (!pressed) throw new Error('the link did not work');
	return { accountId, sessionToken: sessionOf(pressed.admitted).token };
}

async function byPassword(email: string, password: string) {
	const signedIn = await signIn(world.app, { email, password, client: email });
	if (!signedIn.ok) throw new Error(signedIn.code);
	return { accountId: signedIn.accountId, sessionToken: sessionOf(signedIn.admitted).token };
}

const isIn = async ({ sessionToken }: { sessionToken: string }) =>
	(await world.app.rights.sessionAccount(hashOf(sessionToken))) !== null;

describe('a password', () => {
	it('is set where there is none, and signs in from then on', async () => {
		const { own, email } = await member('clover@mail.example');
		expect(await ownAccount(world.app, own)).toMatchObject({ hasPassword: false, asksCurrent: false });
		expect(await changePassword(world.app, own, { current: '', wanted: FIRST })).toEqual({ kind: 'saved' });
		expect(await isIn(await byPassword(email, FIRST))).toBe(true);
	});

	it('is not changed by a device that does not know it, however often it tries', async () => {
		const { own, email } = await member('bramble@mail.example');
		await changePassword(world.app, own, { current: '', wanted: FIRST });
		const device = await byPassword(email, FIRST);
		expect(await ownAccount(world.app, device)).toMatchObject({ asksCurrent: true });
		const codes = [];
		for (let n = 0; n < 11; n++) {
			const changed = await changePassword(world.app, device, { current: `guess ${n}`, wanted: SECOND });
			codes.push(changed.kind === 'refused' ? changed.code : changed.kind);
		}
		expect([codes[0], codes.at(-1)]).toEqual(['wrong', 'too-many']);
		await expect(byPassword(email, SECOND)).rejects.toThrow('wrong');
	});

	it('is changed by who knows it, and every other device is out', async () => {
		const { own, email } = await member('teasel@mail.example');
		await changePassword(world.app, own, { current: '', wanted: FIRST });
		const device = await byPassword(email, FIRST);
		const epoch = (await accountById(world.app.db, own.accountId))?.epoch ?? 0;
		expect(await changePassword(world.app, device, { current: FIRST, wanted: SECOND })).toEqual({
			kind: 'saved'
		});
		expect([await isIn(device), await isIn(own)]).toEqual([true, false]);
		expect((await accountById(world.app.db, own.accountId))?.epoch).toBe(epoch + 1);
		await expect(byPassword(email, FIRST)).rejects.toThrow('wrong');
	});

	it('is not asked for within an hour of a mailed link, and is after it', async () => {
		const { own, memberId } = await member('yarrow@mail.example');
		await changePassword(world.app, own, { current: '', wanted: FIRST });
		const again = await byLink(memberId);
		expect(await ownAccount(world.app, again)).toMatchObject({ asksCurrent: false });
		const longAgo = world.app.clock.wall() - 3_600_000;
		await world.app.db
			.update(sessions)
			.set({ createdAt: longAgo })
			.where(eq(sessions.tokenHash, hashOf(again.sessionToken)));
		expect(await ownAccount(world.app, again)).toMatchObject({ asksCurrent: true });
		expect(await changePassword(world.app, again, { current: '', wanted: SECOND })).toMatchObject({
			code: 'wrong'
		});
	});

	it('that two devices set at once is one of them: the other is told', async () => {
		const { own, memberId, email } = await member('sedge@mail.example');
		const other = await byLink(memberId);
		const wished = [
			{ device: own, wanted: FIRST },
			{ device: other, wanted: SECOND }
		];
		const changed = await Promise.all(
			wished.map(({ device, wanted }) => changePassword(world.app, device, { current: '', wanted }))
		);
		expect(changed.map((one) => one.kind).sort()).toEqual(['refused', 'saved']);
		const won = wished[changed.findIndex(({ kind }) => kind === 'saved')];
		expect(await isIn(await byPassword(email, won?.wanted ?? ''))).toBe(true);
	});
});

describe('other devices', () => {
	it('are counted, and signed out with one press', async () => {
		const { own, memberId } = await member('campion@mail.example');
		const others = [await byLink(memberId), await byLink(memberId)];
		expect(await ownAccount(world.app, own)).toMatchObject({ otherDevices: 2 });
		await signOutElsewhere(world.app, own);
		expect(await Promise.all([own, ...others].map(isIn))).toEqual([true, false, false]);
		expect(await ownAccount(world.app, own)).toMatchObject({ otherDevices: 0 });
	});
});

describe('a name', () => {
	it('is changed, and is only a typed one while nobody has proved the mailbox', async () => {
		const { own } = await member('mallow@mail.example');
		await changeName(world.app, own, 'Mallow Reed');
		expect(await accountById(world.app.db, own.accountId)).toMatchObject({
			name: 'Mallow Reed',
			isNameTyped: false
		});
		await world.app.db.update(accounts).set({ provedAt: null }).where(eq(accounts.id, own.accountId));
		await changeName(world.app, own, 'Somebody Else');
		expect(await accountById(world.app.db, own.accountId)).toMatchObject({ isNameTyped: true });
	});
});
