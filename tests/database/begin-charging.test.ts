/** From free to paid: what was open to everybody is put behind a plan, and those who use it keep it. */
import { beforeEach, afterEach, describe, expect, it } from 'vitest';
import { decide } from '$core/access/decide/decide';
import { STRANGER } from '$core/access/model';
import { takesCode } from '$core/access/offers';
import { accountByEmail } from '$server/db/queries/members';
import { planById, planBySlug } from '$server/db/queries/sales';
import { codeBatches } from '$server/db/schema/access';
import { positions } from '$server/db/schema/library';
import { plans } from '$server/db/schema/sales';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { addMember } from '$server/usecases/accounts/run-members';
import { saveFence } from '$server/usecases/fences/save-fence';
import { createItem, setState } from '$server/usecases/library/edit-item';
import { beginCharging, type ChargingWish, type Keepers } from '$server/usecases/plans/begin-charging';
import { createPlan } from '$server/usecases/plans/save-plan';
import { FENCE, makeWorld, PAGE, PLAN, redeem, type World } from './world';

let world: World;
let planId: string;
let letter: string;
let notes: string;
const members = new Map<string, string>();

beforeEach(async () => {
	world = await makeWorld();
	planId = await createPlan(world.app, null, PLAN);
	letter = await makePage('Letter');
	notes = await makePage('Notes');
	for (const name of ['wren', 'jasper', 'linnea']) {
		const email = `${name}@mail.example`;
		const added = await addMember(world.app, null, { email, name, planId: null, until: null });
		if (added.ok) members.set(name, added.memberId);
	}
});
afterEach(() => world.end());

async function makePage(title: string): Promise<string> {
	const made = await createItem(world.app, null, { ...PAGE, title });
	if (made.kind !== 'saved') throw new Error(made.kind);
	await agreeing((agreedTo) =>
		setState(world.app, null, made.itemId, { state: 'published', publishAt: null }, agreedTo)
	);
	return made.itemId;
}
const wishing = (keepers: Keepers, over: Partial<ChargingWish> = {}): ChargingWish => ({
	...{ itemIds: [letter], planId, keepers, keptName: 'From before', until: null },
	...over
});
const charge = (keepers: Keepers, over: Partial<ChargingWish> = {}) =>
	agreeing((agreedTo) => beginCharging(world.app, null, wishing(keepers, over), agreedTo));
const opens = async (name: string | null, itemId = letter) => {
	await world.app.rights.refresh();
	const policy = await world.app.rights.policy();
	const standing = name === null ? null : await world.app.rights.standing(members.get(name) ?? '');
	return decide(policy, standing?.viewer ?? STRANGER, itemId, world.app.clock.business()).verdict === 'open';
};
const whoOpens = async (itemId = letter) => {
	const found: string[] = [];
	for (const name of members.keys()) if (await opens(name, itemId)) found.push(name);
	return found;
};

describe('charging for what was free', () => {
	it('shuts it to strangers, leaves it to those who have an account, and writes nothing before the yes', async () => {
		const asked = await beginCharging(world.app, null, wishing({ kind: 'everybody' }), null);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		expect([asked.count, asked.invited]).toEqual([3, 0]);
		// Nobody who has an account loses it; strangers do.
		expect(asked.rehearsal.result.members).toMatchObject({ 'loses-now': 0, 'loses-later': 0 });
		expect(asked.rehearsal.result.outsiders[0]).toMatchObject({
			who: { kind: 'stranger' },
			kind: 'loses-now'
		});
		expect([await opens(null), await world.app.db.select().from(plans)]).toMatchObject([
			true,
			[{ id: planId }]
		]);
		const done = await charge({ kind: 'everybody' });
		expect(done).toMatchObject({ kind: 'saved', count: 3 });
		expect([await opens(null), await whoOpens()]).toEqual([false, ['wren', 'jasper', 'linnea']]);
		// What was not chosen stays as it was.
		expect(await opens(null, notes)).toBe(true);
		if (done.kind !== 'saved' || done.keptId === null) throw new Error(done.kind);
		expect(await planById(world.app.db, done.keptId)).toMatchObject({ isPublic: false, isOnSale: false });
	});

	it('tells who would lose it where some keep it, and shuts it to them', async () => {
		await world.app.db.insert(positions).values({
			memberId: members.get('wren') ?? '',
			itemId: letter,
			seconds: 3,
			changedAt: world.app.clock.business()
		});
		const asked = await beginCharging(world.app, null, wishing({ kind: 'opened' }), null);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		expect([asked.count, asked.rehearsal.result.members['loses-now']]).toEqual([1, 2]);
		await charge({ kind: 'opened' });
		expect(await whoOpens()).toEqual(['wren']);
	});

	it('leaves it to those who came before a day, until another', async () => {
		const now = world.app.clock.business();
		await charge({ kind: 'joined-before', at: now + 1 }, { until: now + 86_400_000 });
		expect(await whoOpens()).toEqual(['wren', 'jasper', 'linnea']);
		const kept = await planBySlug(world.app.db, 'from-before');
		expect(kept?.access).toEqual({ kind: 'until', at: now + 86_400_000 });
		await charge({ kind: 'joined-before', at: 1 }, { itemIds: [notes], keptName: 'Nobody' });
		expect(await whoOpens(notes)).toEqual([]);
	});

	it('makes accounts for addresses that have none, each with a mail that leads in', async () => {
		const emails = ['wren@mail.example', 'reader@mail.example'];
		const asked = await beginCharging(world.app, null, wishing({ kind: 'addresses', emails }), null);
		expect(asked).toMatchObject({ kind: 'rehearsed', count: 1, invited: 1 });
		expect(await accountByEmail(world.app.db, 'reader@mail.example')).toBeNull();
		await charge({ kind: 'addresses', emails });
		const reader = await accountByEmail(world.app.db, 'reader@mail.example');
		members.set('reader', reader?.id ?? '');
		expect(await whoOpens()).toEqual(['wren', 'reader']);
		members.delete('reader');
		await world.stile.runner.runDue('mail');
		expect(world.mails.filter(({ to }) => to === 'reader@mail.example')).toHaveLength(1);
	});

	it('makes a code for those who had no account, once', async () => {
		await charge({ kind: 'code', code: 'BENCHFRIENDS' });
		expect([await opens(null), await whoOpens()]).toEqual([false, []]);
		const [batch] = await world.app.db.select().from(codeBatches);
		// No plan stands behind it: whoever has no account types it on their device.
		expect([batch?.planId, await planBySlug(world.app.db, 'from-before')]).toEqual([null, null]);
		const typed = await redeem(world.app, { deviceHash: 'd'.repeat(64) }, 'BenchFriends');
		expect(typed).toMatchObject({ ok: true, planId: null });
		const now = world.app.clock.business();
		const device = { ...STRANGER, redemptions: [{ batchId: batch?.id ?? '', at: now }] };
		const policy = await world.app.rights.policy();
		expect([decide(policy, device, letter, now).verdict, takesCode(policy, STRANGER, letter, now)]).toEqual([
			'open',
			true
		]);
		const again = await charge({ kind: 'code', code: 'BENCHFRIENDS' }, { itemIds: [notes] });
		expect(again).toEqual({ kind: 'refused', code: 'code-taken' });
		expect(await opens(null, notes)).toBe(true);
		await redeem(world.app, { memberId: members.get('wren') ?? '' }, 'bench-friends');
		expect(await whoOpens()).toEqual(['wren']);
	});

	it('ends with its day what a code keeps open', async () => {
		const until = world.app.clock.business() + 86_400_000;
		await charge({ kind: 'code', code: 'ONEDAY' }, { until });
		await redeem(world.app, { memberId: members.get('wren') ?? '' }, 'oneday');
		expect(await whoOpens()).toEqual(['wren']);
		const policy = await world.app.rights.policy();
		const viewer = (await world.app.rights.standing(members.get('wren') ?? ''))?.viewer ?? STRANGER;
		const at = (moment: number) => decide(policy, viewer, letter, moment).verdict;
		expect([at(until - 1), at(until)]).toEqual(['open', 'over']);
	});

	it('refuses what a fence would leave open, and names it', async () => {
		const saved = await agreeing((agreedTo) =>
			saveFence(world.app, null, {
				...{ fenceId: null, revision: 1, agreedTo },
				wish: {
					...FENCE,
					...{
						name: 'For a look',
						mode: 'adds' as const,
						selector: { kind: 'items' as const, itemIds: [letter] }
					},
					crossings: [
						{
							audience: { kind: 'anyone' },
							window: null,
							limits: { uses: 'none', minutes: 'none', hours: 'none' },
							isThroughout: false
						}
					]
				}
			})
		);
		if (saved.kind !== 'saved') throw new Error(saved.kind);
		expect(await charge({ kind: 'everybody' })).toEqual({
			kind: 'still-open',
			places: [{ id: letter, fenceIds: [saved.fenceId] }]
		});
		expect(await opens(null)).toBe(true);
	});

	it('refuses what nobody could open, a plan that is none, and an end that is past', async () => {
		await charge({ kind: 'nobody' });
		expect(await charge({ kind: 'nobody' })).toEqual({ kind: 'refused', code: 'nothing-open' });
		const other = { itemIds: [notes], planId: '0190a6d0-0000-7000-8000-000000000000' };
		expect(await charge({ kind: 'nobody' }, other)).toEqual({ kind: 'refused', code: 'unknown-plan' });
		const past = { itemIds: [notes], until: world.app.clock.business() };
		expect(await charge({ kind: 'everybody' }, past)).toEqual({
			kind: 'refused',
			code: 'ends-before-it-begins'
		});
	});

	it('asks anew where the yes was to other keepers, or to another end', async () => {
		const asked = await beginCharging(world.app, null, wishing({ kind: 'everybody' }), null);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		const yes = asked.rehearsal.id;
		const others = await beginCharging(world.app, null, wishing({ kind: 'opened' }), yes);
		if (others.kind !== 'rehearsed') throw new Error(others.kind);
		expect([others.count, others.rehearsal.result.members['loses-now']]).toEqual([0, 3]);
		const until = world.app.clock.business() + 86_400_000;
		const shorter = await beginCharging(world.app, null, wishing({ kind: 'everybody' }, { until }), yes);
		expect(shorter.kind).toBe('rehearsed');
		expect(await opens(null)).toBe(true);
	});

	it('is done once, whoever says yes twice at the same moment', async () => {
		const wish = wishing({ kind: 'everybody' });
		const asked = await beginCharging(world.app, null, wish, null);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		const all = await Promise.allSettled(
			Array.from({ length: 3 }, () => beginCharging(world.app, null, wish, asked.rehearsal.id))
		);
		expect(all.filter((one) => one.status === 'fulfilled' && one.value.kind === 'saved')).toHaveLength(1);
		expect(all.filter((one) => one.status === 'rejected')).toEqual([]);
		expect(await world.app.db.select().from(plans)).toHaveLength(2);
	});
});
