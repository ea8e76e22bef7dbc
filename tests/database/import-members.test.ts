/** Members who are brought in by a table: nothing before the yes, all of it together, and nobody twice. */
import { and, eq } from 'drizzle-orm';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { accountByEmail, grantsOf } from '$server/db/queries/members';
import { tenures } from '$server/db/schema/access';
import { accounts } from '$server/db/schema/people';
import { plans } from '$server/db/schema/sales';
import {
	importMembers,
	membersToMend,
	tryMembers,
	type ImportedMembers
} from '$server/usecases/accounts/import-members';
import { addMember } from '$server/usecases/accounts/run-members';
import { buy, giveGrant, makeShop, makeWorld, type World } from './world';

const DAY = 86_400_000;

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
});
afterEach(async () => world.end());

const bring = (csv: string, agreedTo: string | null = null, invites = false) =>
	importMembers(world.app, null, { csv, invites }, agreedTo);
const tried = async (csv: string) => {
	const found = await tryMembers(world.app, { csv, invites: false });
	if (!found.ok) throw new Error(found.code);
	return found;
};
const rehearsed = (done: ImportedMembers) => {
	if (done.kind !== 'rehearsed') throw new Error(done.kind);
	return done.rehearsal;
};
const account = async (email: string) => (await accountByEmail(world.app.db, email))?.id ?? '';
const held = async (email: string) =>
	(await grantsOf(world.app.db, await account(email))).map(({ planId, from, until, source }) => ({
		...{ planId, from, until, source }
	}));
async function member(email: string): Promise<string> {
	const added = await addMember(world.app, null, { email, name: 'Old', planId: null, until: null });
	if (!added.ok) throw new Error(added.code);
	await world.app.rights.refresh();
	return added.memberId;
}

describe('a table of members', () => {
	it('says what it would do, and writes nothing until it is told to', async () => {
		await member('old@mail.example');
		const csv =
			'email,name,plan,labels\nnew@mail.example,New,workshop,Bench\nold@mail.example,Other,Workshop,bench; Evening\n';
		const trial = await tried(csv);
		expect(trial.problems).toEqual([]);
		expect(trial.rows.map(({ does }) => does)).toEqual(['adds', 'changes']);
		expect(trial.plans).toEqual([{ name: 'Workshop', count: 2 }]);
		expect(trial.labels).toEqual([
			{ name: 'Bench', count: 2, isNew: true },
			{ name: 'Evening', count: 1, isNew: true }
		]);
		const asked = rehearsed(await bring(csv));
		expect(asked.result.members['gains-now']).toBe(1);
		expect(await accountByEmail(world.app.db, 'new@mail.example')).toBeNull();
		expect(await world.app.db.select().from(plans).where(eq(plans.isLabel, true))).toEqual([]);

		expect(await bring(csv, asked.id)).toEqual({ kind: 'saved', added: 1, changed: 1 });
		expect(await held('new@mail.example')).toHaveLength(2);
		expect((await held('old@mail.example')).map(({ source }) => source)).toEqual([
			'import',
			'import',
			'import'
		]);
		const [old] = await world.app.db.select().from(accounts).where(eq(accounts.email, 'old@mail.example'));
		expect(old?.name).toBe('Old');
		// Brought in once more, nothing is there to be done.
		expect((await tried(csv)).rows.map(({ does }) => does)).toEqual(['leaves', 'leaves']);
		expect(await bring(csv)).toEqual({ kind: 'saved', added: 0, changed: 0 });
		expect(await held('new@mail.example')).toHaveLength(2);
	});

	it('keeps the days that somebody brings along, and the earliest on which they joined', async () => {
		const id = await member('old@mail.example');
		const now = world.app.clock.business();
		await giveGrant(world.app, null, {
			memberId: id,
			planId: shop.planId,
			from: now - DAY,
			until: now + DAY,
			why: ''
		});
		await world.app.rights.refresh();
		const csv =
			'email,plan,from,until,joined\nold@mail.example,Workshop,2024-05-01,2099-01-01,2020-02-29\nnew@mail.example,Workshop,2025-01-01,,\n';
		const first = await bring(csv);
		if (first.kind === 'rehearsed') expect((await bring(csv, first.rehearsal.id)).kind).toBe('saved');
		const joined = async (email: string) => {
			const [row] = await world.app.db
				.select()
				.from(tenures)
				.where(and(eq(tenures.memberId, await account(email)), eq(tenures.planId, shop.planId)));
			return row && new Date(row.firstJoinedAt).toISOString();
		};
		const { zone } = await world.app.site();
		expect(zone).toBe('UTC');
		expect(await joined('old@mail.example')).toBe('2020-02-29T00:00:00.000Z');
		expect(await joined('new@mail.example')).toBe('2025-01-01T00:00:00.000Z');
		expect(await held('new@mail.example')).toEqual([
			{ planId: shop.planId, from: Date.parse('2025-01-01T00:00Z'), until: null, source: 'import' }
		]);
	});

	it('is refused whole where a row will not do, and gives out those rows', async () => {
		const csv =
			'email,plan\nfine@mail.example,Workshop\nfine@mail.example,\nother@mail.example,No such plan\n';
		expect((await tried(csv)).problems.map(({ line, code }) => [line, code])).toEqual([
			[3, 'twice'],
			[4, 'unknown-plan']
		]);
		expect(await bring(csv)).toEqual({ kind: 'refused', code: 'has-problems' });
		expect(await accountByEmail(world.app.db, 'fine@mail.example')).toBeNull();
		const mend = await membersToMend(world.app, { csv, invites: false }, ({ code }) => code);
		expect(mend).toEqual([
			['email', 'plan', 'what is wrong'],
			['fine@mail.example', '', 'twice'],
			['other@mail.example', 'No such plan', 'unknown-plan']
		]);
	});

	it('is written once, however many say yes at the same moment', async () => {
		const csv = 'email,plan,labels\na@mail.example,Workshop,Bench\nb@mail.example,Workshop,Bench\n';
		const done = await Promise.all([1, 2, 3, 4].map(() => bring(csv)));
		expect(done.every(({ kind }) => kind === 'saved')).toBe(true);
		expect(done.reduce((sum, one) => sum + (one.kind === 'saved' ? one.added : 0), 0)).toBe(2);
		expect(await held('a@mail.example')).toHaveLength(2);
		expect(await world.app.db.select().from(plans).where(eq(plans.isLabel, true))).toHaveLength(1);
	});

	it('is asked about anew where somebody is another since, and signs out who only paid on an address', async () => {
		const id = await member('old@mail.example');
		const csv = 'email,plan\nold@mail.example,Workshop\n';
		const asked = rehearsed(await bring(csv));
		const now = world.app.clock.business();
		await giveGrant(world.app, null, {
			memberId: id,
			planId: shop.planId,
			from: now,
			until: now + DAY,
			why: ''
		});
		await world.app.rights.refresh();
		const again = rehearsed(await bring(csv, asked.id));
		expect(again.id).not.toBe('');
		expect(again.result.members['gains-now']).toBe(0);

		await buy(world, shop.slug, 'paid@mail.example');
		await world.app.rights.refresh();
		const label = await bring('email,labels\npaid@mail.example,Bench\n');
		expect(label).toMatchObject({ kind: 'rehearsed', unproved: 1 });
	});

	it('mails the way in to whoever is new, and only where that is wished', async () => {
		await member('old@mail.example');
		world.mails.splice(0);
		await bring('email,name\nquiet@mail.example,Quiet\n');
		await bring('email,plan\nloud@mail.example,Workshop\nold@mail.example,\n', null, true);
		await world.stile.runner.runDue('mail');
		const told = world.mails.filter(({ to }) => to !== 'old@mail.example');
		expect(told.map(({ to }) => to)).toEqual(['loud@mail.example']);
		expect(told[0]?.text).toContain('Workshop');
	});
});
