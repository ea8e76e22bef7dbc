/** Who works at the Desk, what their role lets them do, and that nobody comes there by paying. */
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
	ALL_PERMISSIONS,
	mayAt,
	NO_PERMISSIONS,
	PERMISSIONS,
	type Permission
} from '$core/staff/permissions';
import { accountByEmail, accountById } from '$server/db/queries/members';
import { allRoles } from '$server/db/queries/staff';
import { accounts } from '$server/db/schema/people';
import { otherSideLook, otherSideToken } from '$server/rights/look';
import { hashOf } from '$server/people/sessions';
import { NotAllowed } from '$server/people/need';
import { makeFirstOwner, offerOwnership } from '$server/usecases/accounts/first-owner';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { addMember } from '$server/usecases/accounts/run-members';
import { pressLink } from '$server/usecases/accounts/sign-in-link';
import {
	changePost,
	inviteStaff,
	needStaffCode,
	removeRole,
	saveRole
} from '$server/usecases/accounts/staff';
import { makeBatch } from '$server/usecases/codes/codes';
import { removeFence } from '$server/usecases/fences/save-fence';
import { setState } from '$server/usecases/library/edit-item';
import { makeLabel } from '$server/usecases/library/labels';
import { beginCharging, type Keepers } from '$server/usecases/plans/begin-charging';
import { createPlan } from '$server/usecases/plans/save-plan';
import { sellAlone } from '$server/usecases/plans/sell-alone';
import { saveReleases } from '$server/usecases/access/save-releases';
import { makeOutsideCheckout } from '$server/usecases/running/outside-checkouts';
import { takeFactorOff } from '$server/usecases/accounts/second-factor';
import { makeApiKey } from '$server/usecases/running/api-keys';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import { moveFromDesk } from '$server/usecases/sales/move-plan';
import { steerAgreement } from '$server/usecases/sales/steer-agreement';
import { refundPayment } from '$server/usecases/sales/refund-payment';
import {
	buy,
	endGrant,
	mailedToken,
	makeShop,
	makeWorld,
	NEW_DEVICE,
	order,
	PLAN,
	type World,
	sessionOf
} from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
let ownerId: string;

beforeAll(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	await makeFirstOwner(world.app, {
		token: (await offerOwnership(world.app)) ?? '',
		email: 'ottilie@clock.example',
		name: 'Ottilie',
		password: 'gear train of four',
		siteName: 'Clocks',
		zone: 'Europe/Vienna',
		currency: 'EUR'
	});
	ownerId = (await accountByEmail(world.app.db, 'ottilie@clock.example'))?.id ?? '';
});
afterAll(() => world.end());

const role = async (name: string) =>
	(await allRoles(world.app.db)).find((one) => one.name === name)?.id ?? '';
const post = async (name: string) => ({ kind: 'role' as const, roleId: await role(name) });

async function invited(email: string, name: string): Promise<string> {
	const done = await inviteStaff(world.app, null, { email, name: email, post: await post(name) });
	if (done.kind !== 'saved') throw new Error(done.code);
	return done.accountId;
}

const held = async (id: string) => [...((await world.app.rights.standing(id))?.permissions ?? [])].sort();

describe('each use case of the Desk', () => {
	const id = '00000000-0000-7000-8000-00000000000a';
	const nobody = (...permissions: Permission[]) => ({ id, permissions: new Set(permissions) });
	type Actor = ReturnType<typeof nobody>;
	const CASES: [Permission, string, (actor: Actor) => Promise<unknown>][] = [
		['library', 'a label', (actor) => makeLabel(world.app, actor, 'tag', 'Brass')],
		['library', 'a state', (actor) => setState(world.app, actor, id, { state: 'draft', publishAt: null })],
		['fences', 'a fence', (actor) => removeFence(world.app, actor, id, null)],
		['releases', 'releases', (actor) => saveReleases(world.app, actor, id, [], null)],
		['plans', 'a plan', (actor) => createPlan(world.app, actor, PLAN)],
		[
			'codes',
			'codes',
			(actor) =>
				makeBatch(world.app, actor, {
					name: 'Fair',
					code: null,
					count: 1,
					does: { kind: 'opens' as const },
					startsAt: null,
					endsAt: null,
					usesPerCode: null
				})
		],
		[
			'members',
			'a member',
			(actor) =>
				addMember(world.app, actor, { email: 'dale@mail.example', name: '', planId: null, until: null })
		],
		['members', 'a grant', (actor) => endGrant(world.app, actor, id, '')],
		['members', 'an account', (actor) => deleteMember(world.app, actor, id)],
		[
			'members',
			'ending an agreement',
			(actor) => steerAgreement(world.app, actor, { agreementId: id, step: 'stop', seen: '' })
		],
		[
			'members',
			'moving an agreement',
			(actor) => moveFromDesk(world.app, actor, { agreementId: id, priceId: id, seen: '' })
		],
		[
			'refunds',
			'a refund',
			(actor) =>
				refundPayment(world.app, actor, {
					...{ id, paymentId: id, amountMinor: 1, endsAccess: true, why: '' }
				})
		],
		['settings', 'a checkout elsewhere', (actor) => makeOutsideCheckout(world.app, actor, 'Shop')],
		['staff', 'a code for all', (actor) => needStaffCode(world.app, actor, false)],
		['members', 'a code of somebody', (actor) => takeFactorOff(world.app, actor, id)],
		['settings', 'an API key', (actor) => makeApiKey(world.app, actor, 'Forum')],
		['staff', 'a post', (actor) => changePost(world.app, actor, id, null)],
		['staff', 'a role', (actor) => removeRole(world.app, actor, id)]
	];

	it.each(CASES)('needs the permission %s for %s, and no other does', async (needed, _what, run) => {
		const others = PERMISSIONS.filter((one) => one !== needed);
		await expect(run(nobody(...others))).rejects.toBeInstanceOf(NotAllowed);
		await run(nobody(needed));
	});
});

describe('what makes a plan and its fence in one', () => {
	const id = '00000000-0000-7000-8000-00000000000a';
	const who = (permissions: readonly Permission[]) => ({ id, permissions: new Set(permissions) });
	const once = { currency: 'EUR', firstMinor: 500, feeMinor: 0, then: { kind: 'nothing' as const } };
	const alone = { terms: once, access: { kind: 'for-good' as const }, uses: null };
	const charging = { itemIds: [id], planId: id, keptName: 'Kept', until: null };
	const sell = (all: readonly Permission[]) => sellAlone(world.app, who(all), id, alone, null);
	const charge = (keepers: Keepers) => (all: readonly Permission[]) =>
		beginCharging(world.app, who(all), { ...charging, keepers }, null);
	const CASES: [string, readonly Permission[], (all: readonly Permission[]) => Promise<unknown>][] = [
		['selling one thing alone', ['plans', 'fences'], sell],
		['charging, kept by nobody', ['plans', 'fences'], charge({ kind: 'nobody' })],
		['charging, kept by members', ['plans', 'fences', 'members'], charge({ kind: 'everybody' })],
		['charging, kept by a code', ['plans', 'fences', 'codes'], charge({ kind: 'code', code: 'BENCH' })]
	];

	it.each(CASES)('for %s needs all of %s', async (_what, needed, run) => {
		await run(needed);
		for (const missing of needed)
			await expect(run(PERMISSIONS.filter((one) => one !== missing))).rejects.toBeInstanceOf(NotAllowed);
	});
});

describe('every address of the Desk', () => {
	const files = Object.keys(import.meta.glob('/src/routes/desk/**/+*.{ts,svelte}'));
	const paths = new Set(
		files
			.filter((file) => file.includes('/(frame)/') && !file.includes('+layout'))
			.map((file) =>
				file
					.replace('/src/routes', '')
					.replace('/(frame)', '')
					.replace(/\/\+[^/]*$/, '')
			)
	);

	it.each([...paths])('%s stands in the table of what it needs', (path) => {
		expect(mayAt(ALL_PERMISSIONS, path)).toBe(true);
		expect(mayAt(NO_PERMISSIONS, path)).toBe(false);
		// Whoever may only see sales sees sales, what there is today, how the Desk looks, and finds it.
		const isTheirs =
			['/desk', '/desk/find', '/desk/pieces', '/desk/settings/told'].includes(path) ||
			path.startsWith('/desk/sales') ||
			path.startsWith('/desk/insight');
		expect(mayAt(new Set(['sales'] as const), path)).toBe(isTheirs);
	});
});

describe('an invitation', () => {
	it('leads to the Desk by the mailed link, and by nothing else', async () => {
		const id = await invited('teal@mail.example', 'Support');
		expect(await held(id)).toEqual(['members', 'sales']);
		const pressed = await pressLink(
			world.app,
			await mailedToken(world, 'teal@mail.example'),
			NEW_DEVICE,
			true
		);
		expect(pressed).toMatchObject({ accountId: id, next: '/desk' });
	});

	it('signs nobody in who pays on the address', async () => {
		const id = await invited('garnet@mail.example', 'Bookkeeper');
		const begun = await order(world, shop.slug, { email: 'garnet@mail.example', deviceToken: 'thief' });
		if (!begun.ok) throw new Error(begun.code);
		world.processor.becomes(begun.payUrl.split('/').at(-1) ?? '', 'captured');
		const returned = await settleReturn(world.app, begun.orderId, 'thief', null);
		expect(returned).not.toHaveProperty('session');
		expect(await accountById(world.app.db, id)).toMatchObject({
			claimedAt: null,
			passwordHash: null,
			claimedByOrderId: null
		});
	});

	it('ends what whoever paid on the address before had set', async () => {
		const { memberId } = await buy(world, shop.slug, 'slate@mail.example');
		await world.app.db.update(accounts).set({ passwordHash: 'set' }).where(eq(accounts.id, memberId));
		expect(await invited('slate@mail.example', 'Editor')).toBe(memberId);
		expect(await accountById(world.app.db, memberId)).toMatchObject({
			role: 'staff',
			passwordHash: null,
			claimedByOrderId: null
		});
	});

	it('to one address by two at once makes one account', async () => {
		const both = await Promise.all([
			invited('flint@mail.example', 'Support').catch((error: Error) => error.message),
			invited('flint@mail.example', 'Editor').catch((error: Error) => error.message)
		]);
		expect(both.filter((one) => one === 'is-staff')).toHaveLength(1);
	});
});

describe('a role', () => {
	it('counts at once for everybody who holds it', async () => {
		const id = await invited('umber@mail.example', 'Support');
		const roleId = await role('Support');
		expect(await held(id)).not.toContain('codes');
		await saveRole(world.app, null, { id: roleId, name: 'Support', permissions: ['members', 'codes'] });
		expect(await held(id)).toEqual(['codes', 'members']);
	});

	it('is not taken away while somebody holds it', async () => {
		const made = await saveRole(world.app, null, { id: null, name: 'Guest', permissions: ['library'] });
		if (made.kind !== 'saved') throw new Error(made.code);
		const id = await invited('ochre@mail.example', 'Guest');
		expect(await removeRole(world.app, null, made.roleId)).toMatchObject({ code: 'is-held' });
		await changePost(world.app, null, id, null);
		expect(await removeRole(world.app, null, made.roleId)).toEqual({ kind: 'saved' });
		expect(await removeRole(world.app, null, made.roleId)).toMatchObject({ code: 'unknown' });
	});

	it('that is invited to and taken away at the same moment is held by nobody, or there', async () => {
		const made = await saveRole(world.app, null, { id: null, name: 'Brief', permissions: ['library'] });
		if (made.kind !== 'saved') throw new Error(made.code);
		const wish = {
			email: 'sienna@mail.example',
			name: 'Sienna',
			post: { kind: 'role' as const, roleId: made.roleId }
		};
		const [done, removed] = await Promise.all([
			inviteStaff(world.app, null, wish),
			removeRole(world.app, null, made.roleId)
		]);
		expect([done.kind, removed.kind].sort()).toEqual(['refused', 'saved']);
	});
});

describe('nobody', () => {
	const by = (...permissions: Permission[]) => ({ id: ownerId, permissions: new Set(permissions) });

	it('gives more than they hold: no post, no role, and no owner', async () => {
		const deputy = by('staff', 'sales');
		const invite = async (who: { kind: 'owner' } | { kind: 'role'; roleId: string }, email: string) =>
			inviteStaff(world.app, deputy, { email, name: 'Somebody', post: who });
		expect(await invite({ kind: 'owner' }, 'one@mail.example')).toMatchObject({ code: 'more-than-own' });
		expect(await invite(await post('Editor'), 'one@mail.example')).toMatchObject({ code: 'more-than-own' });
		expect(await invite(await post('Bookkeeper'), 'one@mail.example')).toMatchObject({ kind: 'saved' });
		expect(await accountByEmail(world.app.db, 'one@mail.example')).toMatchObject({ role: 'staff' });
		const wish = { id: null, name: 'All', permissions: [...PERMISSIONS] };
		expect(await saveRole(world.app, deputy, wish)).toMatchObject({ code: 'more-than-own' });
		const own = {
			id: await role('Bookkeeper'),
			name: 'Books',
			permissions: ['sales', 'refunds'] as Permission[]
		};
		expect(await saveRole(world.app, deputy, own)).toMatchObject({ code: 'more-than-own' });
	});

	it('takes from others what they do not hold themselves', async () => {
		const id = await invited('marl@mail.example', 'Editor');
		expect(await changePost(world.app, by('staff'), id, null)).toMatchObject({ code: 'more-than-own' });
		expect(await changePost(world.app, by('staff', 'sales'), ownerId, null)).toMatchObject({
			code: 'more-than-own'
		});
		const wish = { id: await role('Editor'), name: 'Editor', permissions: [] };
		expect(await saveRole(world.app, by('staff'), wish)).toMatchObject({ code: 'more-than-own' });
	});
});

describe('the other side', () => {
	it('is looked at as a member by those who may see members, and by no others', async () => {
		const { memberId } = await buy(world, shop.slug, 'finch@mail.example');
		const looked = async (by: string) =>
			otherSideLook(
				world.app,
				otherSideToken(world.app, { as: { kind: 'member', id: memberId }, at: null, rules: 'today', by }),
				by
			);
		expect(await looked(await invited('loam@mail.example', 'Support'))).toMatchObject({ memberId });
		expect(await looked(await invited('clay@mail.example', 'Editor'))).toBeNull();
	});
});

describe('whoever is taken out of the staff', () => {
	it('is a member again, and the Desk is shut for them at once', async () => {
		const id = await invited('pewter@mail.example', 'Editor');
		const pressed = await pressLink(
			world.app,
			await mailedToken(world, 'pewter@mail.example'),
			NEW_DEVICE,
			true
		);
		expect(await world.app.rights.standing(id)).toMatchObject({ role: 'staff', viewer: { isStaff: true } });
		await changePost(world.app, null, id, null);
		const hash = hashOf(sessionOf(pressed!.admitted).token);
		expect(await world.app.rights.sessionAccount(hash)).toBe(id);
		expect(await world.app.rights.standing(id)).toMatchObject({ role: 'member', viewer: { isStaff: false } });
		expect(await held(id)).toEqual([]);
	});

	it('is never the last owner, however many try at once', async () => {
		expect(await changePost(world.app, null, ownerId, null)).toMatchObject({ code: 'last-owner' });
		const second = await inviteStaff(world.app, null, {
			email: 'second@clock.example',
			name: 'Second',
			post: { kind: 'owner' }
		});
		if (second.kind !== 'saved') throw new Error(second.code);
		const both = await Promise.all([
			changePost(world.app, null, ownerId, null),
			changePost(world.app, null, second.accountId, await post('Editor'))
		]);
		expect(both.map(({ kind }) => kind).sort()).toEqual(['refused', 'saved']);
	});
});
