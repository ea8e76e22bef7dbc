/** What staff are mailed of: found once, told as each wishes it, and to nobody who may not see it. */
import { eq } from 'drizzle-orm';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { ALL_PERMISSIONS } from '$core/staff/permissions';
import { accountByEmail } from '$server/db/queries/members';
import { forgetTold, tellRound } from '$server/db/queries/telling';
import { accounts } from '$server/db/schema/people';
import { jobs, tellings } from '$server/db/schema/running';
import { addMember } from '$server/usecases/accounts/run-members';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { inviteStaff, saveRole } from '$server/usecases/accounts/staff';
import { saveWishes, tellStaff } from '$server/usecases/running/tell-staff';
import { saveSite } from '$server/usecases/running/save-site';
import { buy, giveGrant, makeShop, makeWorld, passDays, type World } from './world';

const DAY = 86_400_000;
const DAILY = { joined: 'daily', left: 'daily', wrong: 'daily' } as const;
const AT_ONCE = { joined: 'at-once', left: 'at-once', wrong: 'at-once' } as const;

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
const OTTILIE = 'ottilie@fernhollow.example';

async function owner(email = OTTILIE) {
	const invited = await inviteStaff(world.app, null, { email, name: 'Ottilie', post: { kind: 'owner' } });
	if (invited.kind === 'refused') throw new Error(invited.code);
	const account = await accountByEmail(world.app.db, email);
	return { id: account?.id ?? '', permissions: ALL_PERMISSIONS };
}
/** The mails of a round, and of what was sent before it. */
async function round() {
	await world.app.rights.refresh();
	await tellStaff(world.app);
	await world.stile.runner.runDue('mail');
	const mails = world.mails
		.splice(0)
		.filter(({ text }) => /stands at the Desk|steht auch am Pult/.test(text));
	return mails.map(({ to, subject, text }) => ({ to, subject, text }));
}
async function member(name: string): Promise<string> {
	const email = `${name.toLowerCase()}@mail.example`;
	const added = await addMember(world.app, null, { email, name, planId: null, until: null });
	if (!added.ok) throw new Error(added.code);
	return added.memberId;
}
const give = (
	memberId: string,
	actor: Awaited<ReturnType<typeof owner>> | null = null,
	days: number | null = null
) => {
	const from = world.app.clock.business();
	const until = days === null ? null : from + days * DAY;
	return giveGrant(world.app, actor, { memberId, planId: shop.planId, from, until, why: '' });
};

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
});
afterEach(async () => world.end());

describe('staff', () => {
	it('are told of nothing that was before Stile began to tell, and of each thing once', async () => {
		const ottilie = await owner();
		await saveWishes(world.app, ottilie, AT_ONCE, null);
		await give(await member('Early'));
		const failed = {
			state: 'failed',
			payload: {},
			runAt: 0,
			createdAt: world.app.clock.wall() - DAY
		} as const;
		await world.app.db.insert(jobs).values({ ...failed, lane: 'media', kind: 'prepare' });
		expect(await round()).toEqual([]);
		await give(await member('Wren'));
		await give(await member('Tamsin'));
		const [mail, ...others] = await round();
		expect(others).toEqual([]);
		expect(mail).toMatchObject({ to: OTTILIE, subject: 'Stile: what has just happened (2)' });
		expect(mail?.text).toContain('Wren joined Workshop');
		expect(mail?.text).toContain('Tamsin joined Workshop');
		expect(mail?.text).not.toContain('Early');
		expect(mail?.text).not.toContain('could not be prepared');
		expect(mail?.text).toContain('/desk');
		expect(mail?.text).not.toContain('/enter/');
		expect(await round()).toEqual([]);
	});

	it('are told once where two look at the same moment', async () => {
		const ottilie = await owner();
		await saveWishes(world.app, ottilie, AT_ONCE, null);
		await round();
		await give(await member('Wren'));
		const told = await Promise.all([tellStaff(world.app), tellStaff(world.app), tellStaff(world.app)]);
		expect(told.reduce((sum, one) => sum + one, 0)).toBe(1);
		expect(await round()).toHaveLength(1);
	});

	it('are told by day after seven, with all of the day in one mail, and on no day on which nothing was', async () => {
		await saveWishes(world.app, await owner(), DAILY, null);
		await round();
		await give(await member('Wren'), null, 2);
		const before = await tellRound(world.app.db);
		await passDays(world, 1);
		const first = await round();
		expect(first).toHaveLength(1);
		expect(first[0]?.subject).toBe('Stile: the day (1)');
		expect((await tellRound(world.app.db))?.dailyAt).toBeGreaterThan(before?.dailyAt ?? Infinity);
		expect(await round()).toEqual([]);
		await passDays(world, 2);
		const [second] = await round();
		expect(second?.text).toContain('Wren lapsed: Workshop ran out');
		await passDays(world, 1);
		expect(await round()).toEqual([]);
	});

	it('are not told of what they did themselves, nor when they wish never to be', async () => {
		const [ottilie, hazel] = [await owner(), await owner('hazel@fernhollow.example')];
		await saveWishes(world.app, ottilie, AT_ONCE, null);
		await saveWishes(world.app, hazel, { ...AT_ONCE, left: 'never' }, null);
		await round();
		const wren = await member('Wren');
		await give(wren, ottilie);
		expect((await round()).map(({ to }) => to)).toEqual(['hazel@fernhollow.example']);
		await deleteMember(world.app, null, wren);
		expect((await round()).map(({ to, text }) => [to, text.includes('A member was deleted')])).toEqual([
			[OTTILIE, true]
		]);
	});

	it('are told only what they may see, by what they may at the time of the mail', async () => {
		const made = await saveRole(world.app, null, { id: null, name: 'Workshop', permissions: ['library'] });
		if (made.kind === 'refused') throw new Error(made.code);
		await inviteStaff(world.app, null, {
			email: 'hazel@fernhollow.example',
			name: 'Hazel',
			post: { kind: 'role', roleId: made.roleId }
		});
		const hazel = await accountByEmail(world.app.db, 'hazel@fernhollow.example');
		await saveWishes(world.app, { id: hazel?.id ?? '', permissions: new Set(['library']) }, AT_ONCE, null);
		await round();
		await give(await member('Wren'));
		const failed = { state: 'failed', payload: {}, runAt: 0, createdAt: world.app.clock.wall() } as const;
		await world.app.db.insert(jobs).values([
			{ ...failed, lane: 'media', kind: 'prepare' },
			{ ...failed, lane: 'billing', kind: 'charge' }
		]);
		const [mail, ...others] = await round();
		expect(others).toEqual([]);
		expect(mail?.subject).toBe('Stile: what has just happened (1)');
		expect(mail?.text).toContain('A file could not be prepared');
		expect(await round()).toEqual([]);

		await give(await member('Tamsin'));
		await world.app.db.insert(jobs).values({ ...failed, lane: 'media', kind: 'take-in' });
		await tellStaff(world.app);
		await world.app.db
			.update(accounts)
			.set({ role: 'member' })
			.where(eq(accounts.id, hazel?.id ?? ''));
		expect(await round()).toEqual([]);
	});

	it('are told of somebody who bought, in the language of the site, and not by the name of who was deleted', async () => {
		await saveWishes(world.app, await owner(), AT_ONCE, null);
		const site = await world.app.site();
		await saveSite(world.app, null, 'site', { ...site, language: 'de' });
		await round();
		await buy(world, shop.slug);
		const wren = await member('Juniper');
		await give(wren);
		await tellStaff(world.app);
		await deleteMember(world.app, null, wren);
		// That somebody was deleted is in a mail of its own.
		const mail = (await round()).find(({ text }) => text.includes('Workshop'));
		expect(mail?.subject).toBe('Stile: eben geschehen (2)');
		expect(mail?.text).toContain('hat jetzt Workshop');
		expect(mail?.text).not.toContain('Juniper');
		const kept = await world.app.db.select().from(tellings);
		expect(JSON.stringify(kept)).not.toContain('Juniper');
	});

	it('are told of a job that failed once, however long it stays so', async () => {
		await saveWishes(world.app, await owner(), AT_ONCE, null);
		await round();
		const failed = { state: 'failed', payload: {}, runAt: 0, createdAt: world.app.clock.wall() } as const;
		await world.app.db.insert(jobs).values({ ...failed, lane: 'media', kind: 'prepare' });
		await give(await member('Wren'));
		expect(await round()).toHaveLength(1);
		await passDays(world, 1);
		await round();
		expect(await world.app.db.select().from(tellings)).toHaveLength(2);
		await forgetTold(world.app.db, world.app.clock.wall() + DAY);
		expect((await world.app.db.select().from(tellings)).map(({ action }) => action)).toEqual(['failed']);
		expect((await round()).filter(({ text }) => text.includes('could not be prepared'))).toEqual([]);
		await world.app.db.delete(jobs);
		await forgetTold(world.app.db, world.app.clock.wall() + DAY);
		expect((await world.app.db.select().from(tellings)).map(({ action }) => action)).not.toContain('failed');
	});

	it('choose for themselves, and see what they chose in another window', async () => {
		const ottilie = await owner();
		const first = await saveWishes(world.app, ottilie, AT_ONCE, null);
		expect(first.kind).toBe('saved');
		const second = await saveWishes(world.app, ottilie, DAILY, 'begun with something else');
		expect(second).toEqual({ kind: 'changed', theirs: AT_ONCE });
	});
});
