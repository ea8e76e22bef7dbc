/** Codes typed without an account: what they open on the device, and what the mailed link keeps in an account. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { eq } from 'drizzle-orm';
import { accountByEmail, grantsOf } from '$server/db/queries/members';
import { codes, redemptions } from '$server/db/schema/access';
import { accounts } from '$server/db/schema/people';
import { redeemedPage } from '$server/reads/front/redeemed';
import { plansOffered } from '$server/reads/front/shop';
import { lookOf } from '$server/rights/look';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { addMember } from '$server/usecases/accounts/run-members';
import { lookAtLink, mailAgain, pressLink } from '$server/usecases/accounts/sign-in-link';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { makeBatch, redeemCode } from '$server/usecases/codes/codes';
import { saveFence } from '$server/usecases/fences/save-fence';
import { createPlan } from '$server/usecases/plans/save-plan';
import {
	endGrant,
	FENCE,
	holding,
	mailedToken,
	makeShop,
	makeVideo,
	makeWorld,
	monthly,
	NEW_DEVICE,
	passDays,
	PLAN,
	redeem,
	type World
} from './world';

const DAY = 86_400_000;
const WREN = 'wren@mail.example';
const DEVICE = 'd'.repeat(64);
const OTHER_DEVICE = 'e'.repeat(64);

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	await gives('FAIR', { usesPerCode: 1 });
});
afterEach(async () => world.end());

async function gives(code: string, over: { usesPerCode?: number | null; days?: number | null } = {}) {
	const { usesPerCode = null, days = 7 } = over;
	const made = await makeBatch(world.app, null, {
		...{ name: code, code, count: 1, startsAt: null, endsAt: null, usesPerCode },
		does: { kind: 'gives', planId: shop.planId, days }
	});
	if (!made.ok) throw new Error(made.code);
	return made.batchId;
}

const onDevice = async (device = DEVICE, itemId = shop.itemId) =>
	(await world.app.rights.decideFor(await world.app.rights.stranger(device), itemId)).verdict;
const inAccount = async (memberId: string, itemId = shop.itemId) => {
	const standing = await world.app.rights.standing(memberId);
	return standing && (await world.app.rights.decideFor(standing.viewer, itemId)).verdict;
};
const uses = async (code = 'FAIR') =>
	(await world.app.db.select().from(codes).where(eq(codes.code, code)))[0]?.uses;
const typed = async (email: string, { code = 'FAIR', device = DEVICE } = {}) => {
	const done = await redeem(world.app, { deviceHash: device, email }, code);
	if (!done.ok) throw new Error(done.code);
	return done.redemptionId;
};
const press = async (email = WREN) => pressLink(world.app, await mailedToken(world, email), NEW_DEVICE, true);
const added = async (email: string) => {
	const member = await addMember(world.app, null, { email, name: 'Wren', planId: null, until: null });
	if (!member.ok) throw new Error(member.code);
	// Their invitation is sent before anything else is mailed.
	await world.stile.runner.runDue('mail');
	return member.memberId;
};

describe('a code that gives a plan, typed with an address', () => {
	it('opens on the device at once, and in an account by the mailed link, for the same time', async () => {
		expect(await redeem(world.app, { deviceHash: DEVICE }, 'fair')).toEqual({
			...{ ok: false, code: 'needs-address' }
		});
		const at = world.app.clock.business();
		await typed(WREN);
		expect([await onDevice(), await onDevice(OTHER_DEVICE)]).toEqual(['open', 'shut']);
		// Nobody has an account by typing an address.
		expect(await accountByEmail(world.app.db, WREN)).toBeNull();
		const token = await mailedToken(world, WREN);
		expect(world.mails.at(-1)?.subject).toBe('Open Workshop');
		expect(await lookAtLink(world.app, token, NEW_DEVICE)).toMatchObject({ kind: 'good', keeps: 'Workshop' });
		await passDays(world, 2);
		const pressed = await pressLink(world.app, token, NEW_DEVICE, true);
		const memberId = pressed?.accountId ?? '';
		expect(await inAccount(memberId)).toBe('open');
		const [given] = await grantsOf(world.app.db, memberId);
		expect(given).toMatchObject({ source: 'code', planId: shop.planId });
		expect(Math.abs((given?.from ?? 0) - at)).toBeLessThan(DAY);
		expect((given?.until ?? 0) - (given?.from ?? 0)).toBe(7 * DAY);
		// It has gone over: whoever takes it from the account takes it from everywhere.
		expect(await onDevice()).toBe('shut');
		expect(await uses()).toBe(1);
		await passDays(world, 6);
		expect(await inAccount(memberId)).toBe('shut');
	});

	it('is answered alike whether anybody has the address or not, and gives no account anything before the link is pressed', async () => {
		await gives('BOTH');
		const known = await added(WREN);
		const [one, other] = [
			await redeem(world.app, { deviceHash: DEVICE, email: WREN }, 'both'),
			await redeem(world.app, { deviceHash: OTHER_DEVICE, email: 'rook@mail.example' }, 'both')
		];
		const likely = { ok: true, planId: shop.planId, redemptionId: expect.any(String) as string };
		expect([one, other]).toEqual([likely, likely]);
		expect([await onDevice(), await onDevice(OTHER_DEVICE), await inAccount(known)]).toEqual([
			...['open', 'open', 'shut']
		]);
		await mailedToken(world, WREN);
		const subjects = world.mails.filter(({ subject }) => subject === 'Open Workshop');
		expect(subjects.map(({ to }) => to).sort()).toEqual(['rook@mail.example', WREN]);
		expect((await press())?.accountId).toBe(known);
		expect(await inAccount(known)).toBe('open');
	});

	it('is typed again with the right address after a wrong one, and uses nothing up; the first link that is pressed keeps it', async () => {
		const first = await typed('wern@mail.example');
		expect(await typed(WREN)).toBe(first);
		expect(await uses()).toBe(1);
		const late = await mailedToken(world, 'wern@mail.example');
		const wren = (await press())?.accountId ?? '';
		expect(await inAccount(wren)).toBe('open');
		expect(await lookAtLink(world.app, late, NEW_DEVICE)).toMatchObject({ kind: 'good', keeps: null });
		const other = (await pressLink(world.app, late, NEW_DEVICE, true))?.accountId ?? '';
		expect([await inAccount(other), await grantsOf(world.app.db, other)]).toEqual(['shut', []]);
	});

	it('goes to one account, where two links are pressed at the same moment', async () => {
		await typed(WREN);
		await typed('rook@mail.example');
		const tokens = [await mailedToken(world, WREN), await mailedToken(world, 'rook@mail.example')];
		const pressed = await Promise.all(tokens.map((token) => pressLink(world.app, token, NEW_DEVICE, true)));
		const held = await Promise.all(pressed.map((one) => grantsOf(world.app.db, one?.accountId ?? '')));
		expect(held.flat()).toHaveLength(1);
		expect(await world.app.db.select().from(redemptions)).toHaveLength(1);
	});

	it('goes over to whoever signs in on the device and types it there, and uses nothing up', async () => {
		await typed('wern@mail.example');
		const memberId = await added(WREN);
		const who = { memberId, deviceHash: DEVICE };
		const ask = { typed: 'FAIR', next: '', client: '198.51.100.7' };
		expect(await redeemCode(world.app, { ...who, deviceHash: OTHER_DEVICE }, ask)).toEqual({
			...{ ok: false, code: 'used-up' }
		});
		expect(await redeemCode(world.app, who, ask)).toMatchObject({ ok: true });
		expect([await inAccount(memberId), await onDevice(), await uses()]).toEqual(['open', 'shut', 1]);
	});

	it('counts once for whoever had redeemed it signed in before', async () => {
		await gives('TWICE', { usesPerCode: 2 });
		const memberId = await added(WREN);
		await redeem(world.app, { memberId }, 'twice');
		await typed(WREN, { code: 'twice' });
		expect(await uses('TWICE')).toBe(2);
		await press();
		expect(await uses('TWICE')).toBe(1);
		expect(await grantsOf(world.app.db, memberId)).toHaveLength(1);
	});

	it('opens nothing any more by a link that is pressed after its time', async () => {
		await typed(WREN);
		const token = await mailedToken(world, WREN);
		await passDays(world, 8);
		expect(await onDevice()).toBe('shut');
		const pressed = await pressLink(world.app, token, NEW_DEVICE, true);
		expect(await grantsOf(world.app.db, pressed?.accountId ?? '')).toEqual([]);
	});

	it('is kept by the link that is mailed in place of one that is spent', async () => {
		await gives('LONG', { days: null });
		await typed(WREN, { code: 'long' });
		const token = await mailedToken(world, WREN);
		world.app.clock.wall = (
			(wall) => () =>
				wall() + 15 * DAY
		)(world.app.clock.wall.bind(world.app.clock));
		expect(await pressLink(world.app, token, NEW_DEVICE, true)).toBeNull();
		expect(await mailAgain(world.app, token, '198.51.100.7')).toEqual({ ok: true });
		const again = await press();
		expect(await inAccount(again?.accountId ?? '')).toBe('open');
	});

	it('shuts with the grant that the publisher ends, on the device too', async () => {
		await typed(WREN);
		const memberId = (await press())?.accountId ?? '';
		const [given] = await grantsOf(world.app.db, memberId);
		await endGrant(world.app, null, given?.id ?? '', 'by mistake');
		expect([await inAccount(memberId), await onDevice()]).toEqual(['shut', 'shut']);
		// Typed again it gives nothing again.
		expect(await redeem(world.app, { memberId }, 'fair')).toMatchObject({ ok: true });
		expect([await inAccount(memberId), await uses()]).toEqual(['shut', 1]);
	});

	it('asks for at most five mails an hour to an address, and wrong codes ask for none', async () => {
		await gives('MANY');
		for (let n = 0; n < 8; n++)
			expect(await redeem(world.app, { deviceHash: DEVICE, email: WREN }, `wrong ${n}`)).toMatchObject({
				code: 'unknown'
			});
		const answers = [];
		for (let n = 0; n < 7; n++) {
			const device = String(n).repeat(64);
			answers.push((await redeem(world.app, { deviceHash: device, email: WREN }, 'many')).ok);
		}
		expect(answers).toEqual([true, true, true, true, true, false, false]);
		expect(await redeem(world.app, { deviceHash: DEVICE, email: WREN }, 'many')).toEqual({
			...{ ok: false, code: 'too-many-mails' }
		});
		expect(await uses('MANY')).toBe(5);
	});

	it('is no plan bought: on the device the plan is still sold, and takes nothing off another', async () => {
		const discount = { off: { kind: 'percent' as const, percent: 50 }, payments: null };
		const lessFor = { planIds: [shop.planId], discount };
		await createPlan(world.app, null, { ...PLAN, name: 'Gears', terms: monthly(500), lessFor });
		await typed(WREN);
		const offered = async (memberId: string | null) => {
			const standing = memberId === null ? null : await world.app.rights.standing(memberId);
			const look = await lookOf(world.app, standing, DEVICE, null);
			return (await plansOffered(world.app, look, {})).map(({ plan, action }) => [
				...[plan.name, plan.terms.discount !== undefined, action.kind]
			]);
		};
		expect(await offered(null)).toEqual([
			['Gears', false, 'plan.buy'],
			['Workshop', false, 'plan.buy']
		]);
		// In an account it is theirs.
		expect(await offered((await press())?.accountId ?? '')).toEqual([
			['Gears', true, 'plan.buy'],
			['Workshop', false, 'plan.open']
		]);
	});

	it('leaves nothing of an account that is deleted', async () => {
		await typed(WREN);
		const memberId = (await press())?.accountId ?? '';
		await deleteMember(world.app, null, memberId);
		expect([await onDevice(), await inAccount(memberId)]).toEqual(['shut', null]);
	});
});

describe('what was opened by a code', () => {
	const page = async (id: string, device: string | null, memberId: string | null = null) => {
		const standing = memberId === null ? null : await world.app.rights.standing(memberId);
		return redeemedPage(world.app, await lookOf(world.app, standing, device, null), id, device);
	};

	it('is shown to the device until it stands in an account, and then to whoever has that', async () => {
		const id = await typed(WREN);
		expect(await page(id, DEVICE)).toMatchObject({
			...{ plan: 'Workshop', isOver: false, waits: true, first: '/videos/wheel', more: 0 },
			items: [{ title: 'Wheel', verdict: 'open' }]
		});
		expect([await page(id, OTHER_DEVICE), await page(id, null)]).toEqual([null, null]);
		const memberId = (await press())?.accountId ?? '';
		expect([await page(id, DEVICE), await page(id, null)]).toEqual(['sign-in', 'sign-in']);
		expect(await page(id, null, await added('rook@mail.example'))).toBeNull();
		expect(await page(id, null, memberId)).toMatchObject({ plan: 'Workshop', waits: false, isOver: false });
		const [given] = await grantsOf(world.app.db, memberId);
		await endGrant(world.app, null, given?.id ?? '', 'by mistake');
		const ended = await page(id, null, memberId);
		expect(ended).toMatchObject({ isOver: true, items: [], first: null });
		expect(ended !== 'sign-in' && ended?.until).toBe((await grantsOf(world.app.db, memberId))[0]?.revokedAt);
	});

	it('says for a code that opens by itself what that is, and is kept by the link too', async () => {
		const gears = await makeVideo(world.app, '/videos/gears');
		const made = await makeBatch(world.app, null, {
			...{ name: 'Door', code: 'DOOR', count: 1, startsAt: null, endsAt: null, usesPerCode: 1 },
			does: { kind: 'opens' }
		});
		const audience = { kind: 'code' as const, batchId: made.ok ? made.batchId : '' };
		await agreeing((agreedTo) =>
			saveFence(world.app, null, {
				...{ fenceId: null, revision: 1, agreedTo },
				wish: {
					...FENCE,
					selector: { kind: 'items', itemIds: [gears] },
					crossings: [{ ...holding(''), audience }]
				}
			})
		);
		const id = await typed(WREN, { code: 'door' });
		expect(await page(id, DEVICE)).toMatchObject({ plan: null, items: [{ id: gears, verdict: 'open' }] });
		const memberId = (await press())?.accountId ?? '';
		expect([await onDevice(DEVICE, gears), await inAccount(memberId, gears)]).toEqual(['shut', 'open']);
		expect(await world.app.db.select().from(accounts).where(eq(accounts.email, WREN))).toHaveLength(1);
	});
});

it('a fence that is changed says what the devices lose that hold a plan by a code', async () => {
	await typed(WREN);
	const asked = await saveFence(world.app, null, {
		...{ fenceId: shop.fenceId, revision: 1, agreedTo: null },
		wish: { ...FENCE, selector: { kind: 'items', itemIds: [shop.itemId] }, crossings: [] }
	});
	if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
	expect(asked.rehearsal.result.effects).toMatchObject([{ kind: 'loses-now', placeIds: [shop.itemId] }]);
	expect(asked.rehearsal.result.groups[asked.rehearsal.result.effects[0]?.group ?? 0]).toMatchObject({
		devices: 1
	});
});
