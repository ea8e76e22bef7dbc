import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { accountByEmail } from '$server/db/queries/members';
import { isMigrated, runMigrations } from '$server/db/migrate';
import { allows } from '$server/people/rate-limit';
import { hashOf } from '$server/people/sessions';
import { makeFirstOwner, offerOwnership } from '$server/usecases/accounts/first-owner';
import { signIn, signOut } from '$server/usecases/accounts/sign-in';
import { askForLink, lookAtLink, makeLink, pressLink } from '$server/usecases/accounts/sign-in-link';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { keepLease, takeDue } from '$server/jobs/queue';
import { jobs } from '$server/db/schema/running';
import { advanceClock } from '$server/usecases/running/advance-clock';
import { transact } from '$server/transact';
import { buy, makeShop, makeWorld, NEW_DEVICE, type World, sessionOf } from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeAll(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
});
afterAll(async () => world.end());

const OWNER = {
	email: 'Ottilie@Clock.example ',
	name: 'Ottilie',
	password: 'gear train of four',
	siteName: 'Clocks',
	zone: 'Europe/Vienna',
	currency: 'EUR'
};

describe('the first owner', () => {
	it('is made once, with the newest token', async () => {
		const old = await offerOwnership(world.app);
		const token = await offerOwnership(world.app);
		expect(await makeFirstOwner(world.app, { ...OWNER, token: old! })).toBeNull();
		expect(await makeFirstOwner(world.app, { ...OWNER, token: token! })).not.toBeNull();
		expect(await makeFirstOwner(world.app, { ...OWNER, token: token! })).toBeNull();
		expect(await offerOwnership(world.app)).toBeNull();
	});
});

describe('signing in', () => {
	it('answers a wrong password and an unknown address alike', async () => {
		const wrong = await signIn(world.app, { email: OWNER.email, password: 'wrong', client: 'a' });
		const unknown = await signIn(world.app, {
			email: 'nobody@clock.example',
			password: 'wrong',
			client: 'a'
		});
		expect(wrong).toEqual({ ok: false, code: 'wrong' });
		expect(unknown).toEqual(wrong);
	});

	it('counts wrong passwords only: who signs in begins anew', async () => {
		const ask = (password: string) => signIn(world.app, { email: OWNER.email, password, client: 'counted' });
		await ask(OWNER.password);
		for (let round = 0; round < 2; round++) {
			for (let n = 0; n < 9; n++) expect(await ask('wrong')).toMatchObject({ code: 'wrong' });
			expect(await ask(OWNER.password)).toMatchObject({ ok: true });
		}
	});

	it('does not take é for e in an address', async () => {
		expect(
			await signIn(world.app, { email: 'öttilie@clock.example', password: OWNER.password, client: 'a' })
		).toMatchObject({ ok: false });
		expect(await accountByEmail(world.app.db, 'OTTILIE@clock.example')).toBeNull();
	});

	it('ends with signing out, at once', async () => {
		const signedIn = await signIn(world.app, {
			email: 'ottilie@clock.example',
			password: OWNER.password,
			client: 'b'
		});
		if (!signedIn.ok) throw new Error(signedIn.code);
		const hash = hashOf(sessionOf(signedIn.admitted).token);
		const accountId = await world.app.rights.sessionAccount(hash);
		expect(accountId).not.toBeNull();
		await signOut(world.app, sessionOf(signedIn.admitted).token, accountId!);
		expect(await world.app.rights.sessionAccount(hash)).toBeNull();
	});

	it('stops guessing after its limit, for existing and other addresses', async () => {
		for (const email of ['ottilie@clock.example', 'nobody.else@clock.example']) {
			const codes = [];
			for (let i = 0; i < 12; i++) {
				const result = await signIn(world.app, { email, password: 'guess', client: `c-${email}` });
				codes.push(result.ok ? 'in' : result.code);
			}
			expect(codes.at(-1)).toBe('too-many');
			expect(codes[0]).toBe('wrong');
		}
	});

	it('counts exactly, however many ask at once', async () => {
		const answers = await Promise.all(
			Array.from({ length: 20 }, () => allows(world.app, 'linkByEmail', 'race@clock.example'))
		);
		expect(answers.filter(Boolean).length).toBeLessThanOrEqual(5);
		expect(await allows(world.app, 'linkByEmail', 'race@clock.example')).toBe(false);
	});
});

describe('mailed links', () => {
	it('use nothing up when they are opened, and sign in once when pressed', async () => {
		const { memberId } = await buy(world, shop.slug, 'linnea@mail.example');
		const token = (await makeLink(world.app, memberId, '/videos/wheel')).split('/').at(-1)!;
		const look = (token: string) => lookAtLink(world.app, token, NEW_DEVICE);
		const press = () => pressLink(world.app, token, NEW_DEVICE, true);
		for (let i = 0; i < 3; i++) expect(await look(token)).toMatchObject({ kind: 'good' });
		const pressed = await Promise.all([press(), press(), press()]);
		expect(pressed.filter((p) => p !== null)).toHaveLength(1);
		expect(await look(token)).toMatchObject({ kind: 'spent' });
		expect(await look('made-up')).toEqual({ kind: 'unknown' });
	});

	it('are asked for with the same answer for every address', async () => {
		const known = await askForLink(world.app, { email: 'linnea@mail.example', next: '/', client: 'd' });
		const unknown = await askForLink(world.app, { email: 'unknown@mail.example', next: '/', client: 'd' });
		expect(known).toEqual(unknown);
	});

	it('end with the account, like its sessions', async () => {
		const { memberId } = await buy(world, shop.slug, 'gone@mail.example');
		const make = () => makeLink(world.app, memberId, '/');
		const press = (token: string) => pressLink(world.app, token, NEW_DEVICE, true);
		const pressed = await press((await make()).split('/').at(-1)!);
		const left = (await make()).split('/').at(-1)!;
		expect(await world.app.rights.sessionAccount(hashOf(sessionOf(pressed!.admitted).token))).toBe(memberId);
		await deleteMember(world.app, null, memberId);
		expect(await world.app.rights.sessionAccount(hashOf(sessionOf(pressed!.admitted).token))).toBeNull();
		expect(await press(left)).toBeNull();
	});
});

describe('rights', () => {
	it('reach another node', async () => {
		const { Rights } = await import('$server/rights/rights');
		const { systemClock } = await import('$server/adapters/system-clock');
		const other = new Rights(world.app.db, systemClock(), 1000);
		await other.refresh();
		const { memberId } = await buy(world, shop.slug, 'node@mail.example');
		await other.refresh();
		expect((await other.decide(memberId, shop.itemId)).verdict).toBe('open');
		await deleteMember(world.app, null, memberId);
		await other.refresh();
		expect((await other.decide(memberId, shop.itemId)).verdict).toBe('shut');
	});
});

describe('migrations and clock', () => {
	it('run again without effect, two at once', async () => {
		const { databaseUrl } = world.app.settings;
		await Promise.all([runMigrations(databaseUrl), runMigrations(databaseUrl), runMigrations(databaseUrl)]);
		expect(await isMigrated(world.app.pool)).toBe(true);
	});

	it('moves the clock forward only, and not too far', async () => {
		const to = (ms: number) =>
			advanceClock(world.app, world.stile.runner, null, world.app.clock.business() + ms);
		expect(await to(-1000)).toEqual({ ok: false, code: 'only-forward' });
		expect(await to(400 * 86_400_000)).toEqual({ ok: false, code: 'too-far' });
		world.app.settings.hasMovableClock = false;
		expect(await to(1000)).toEqual({ ok: false, code: 'not-movable' });
		world.app.settings.hasMovableClock = true;
	});
});

describe('the queue', () => {
	it('hands a job to one worker only, and takes nothing from who has lost the lease', async () => {
		await world.app.db.delete(jobs);
		await transact(world.app, null, (work) => work.queue('sign-in-mail', { email: 'x', next: '/' }));
		const now = world.app.clock.wall() + 10;
		const taken = await Promise.all([
			takeDue(world.app.db, 'sign-in', now, now),
			takeDue(world.app.db, 'sign-in', now, now)
		]);
		const [job, ...others] = taken.filter((t) => t !== null);
		expect(others).toEqual([]);
		expect(await keepLease(world.app.db, job!, 5, now)).toBe(true);
		expect(await keepLease(world.app.db, { ...job!, leaseToken: 'stolen' }, 5, now)).toBe(false);
	});
});
