/** Plans that a checkout elsewhere sells: it tells, repeats, forges and comes late. */
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { OutsideMessage } from '$core/billing/outside';
import { signMessage } from '$server/adapters/message-signature';
import { accountByEmail, grantsOf } from '$server/db/queries/members';
import { outsideEvents } from '$server/db/schema/sales';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { createPlan } from '$server/usecases/plans/save-plan';
import {
	endOutsideCheckout,
	makeOutsideCheckout,
	secretOfOutside
} from '$server/usecases/running/outside-checkouts';
import { receiveOutside } from '$server/usecases/sales/receive-outside';
import { POST } from '../../src/routes/api/v1/purchases/+server';
import { makeWorld, mailedToken, PLAN, type World } from './world';

const HOUR = 3_600_000;
let world: World;
let checkout: { id: string; secret: string };
let planId: string;

beforeAll(async () => {
	world = await makeWorld();
	planId = await createPlan(world.app, null, { ...PLAN, name: 'Workshop' });
	await createPlan(world.app, null, { ...PLAN, name: 'Evening' });
	checkout = await makeOutsideCheckout(world.app, null, 'The shop next door');
});
afterAll(() => world.end());

let count = 0;
function message(purchase: string, over: Partial<OutsideMessage> = {}): OutsideMessage {
	const does = { kind: 'grant' as const, plan: 'workshop', until: null };
	return {
		...{ id: `event-${++count}`, purchase, at: world.app.clock.business() - HOUR },
		...{ email: `${purchase}@mail.example`, name: '', does, ...over }
	};
}
const hear = (one: OutsideMessage) => receiveOutside(world.app, checkout.id, one);
const withdrawing = { does: { kind: 'withdraw' as const } };
const held = async (email: string) => {
	const account = await accountByEmail(world.app.db, email);
	const all = account ? await grantsOf(world.app.db, account.id) : [];
	return all.filter(({ revokedAt }) => revokedAt === null);
};

describe('a purchase elsewhere', () => {
	it('makes an account where there is none, gives the plan, and mails the way in', async () => {
		expect(await hear(message('wren', { name: 'Wren' }))).toEqual({ ok: true, outcome: 'granted' });
		expect(await held('wren@mail.example')).toMatchObject([{ planId, source: 'outside', until: null }]);
		expect(await mailedToken(world, 'wren@mail.example')).toMatch(/^[\w-]{40,}$/);
	});

	it('is heard once, however often it is told, and also at the same moment', async () => {
		const one = message('twice');
		const done = await Promise.all([hear(one), hear(one), hear(one), hear(one)]);
		expect(done.map((heard) => heard.ok && heard.outcome).sort()).toEqual([
			'granted',
			'known',
			'known',
			'known'
		]);
		expect(await held('twice@mail.example')).toHaveLength(1);
		expect(await hear({ ...one, email: 'other@mail.example' })).toEqual({ ok: false, code: 'other-message' });
	});

	it('is taken back, and given again by what happened later', async () => {
		const at = world.app.clock.business() - 5 * HOUR;
		await hear(message('back', { at }));
		expect(await hear(message('back', { at: at + 1, ...withdrawing }))).toEqual({
			ok: true,
			outcome: 'withdrawn'
		});
		expect(await held('back@mail.example')).toEqual([]);
		expect(await hear(message('back', { at: at + 2 }))).toMatchObject({ outcome: 'granted' });
		expect(await held('back@mail.example')).toHaveLength(1);
	});

	it('that comes late changes nothing: what happened last counts', async () => {
		const at = world.app.clock.business() - 5 * HOUR;
		expect(await hear(message('late', { at: at + 9, ...withdrawing }))).toMatchObject({
			outcome: 'withdrawn'
		});
		expect(await hear(message('late', { at }))).toEqual({ ok: true, outcome: 'late' });
		expect(await accountByEmail(world.app.db, 'late@mail.example')).toBeNull();
	});

	it('is prolonged under the same grant, and moved to another plan by another', async () => {
		const at = world.app.clock.business() - 5 * HOUR;
		const until = at + 1000 * HOUR;
		const does = (plan: string, end: number | null) => ({
			does: { kind: 'grant' as const, plan, until: end }
		});
		await hear(message('longer', { at, ...does('workshop', until) }));
		const [first] = await held('longer@mail.example');
		await hear(message('longer', { at: at + 1, ...does('workshop', until + HOUR) }));
		expect(await held('longer@mail.example')).toMatchObject([{ id: first?.id, until: until + HOUR }]);
		await hear(message('longer', { at: at + 2, ...does('evening', null) }));
		const moved = await held('longer@mail.example');
		expect(moved).toHaveLength(1);
		expect(moved[0]?.planId).not.toBe(planId);
	});

	it('that has not happened yet is refused: it would count before all that happens until then', async () => {
		const at = world.app.clock.business() + HOUR;
		expect(await hear(message('soon', { at }))).toEqual({ ok: false, code: 'too-early' });
	});

	it('of a plan that there is not is refused, and may be told again', async () => {
		const one = message('gone', { does: { kind: 'grant', plan: 'no-such-plan', until: null } });
		expect(await hear(one)).toEqual({ ok: false, code: 'unknown-plan' });
		expect(await hear({ ...one, does: { kind: 'grant', plan: planId, until: null } })).toMatchObject({
			ok: true
		});
	});

	it('of somebody who was deleted since makes them no account again', async () => {
		await hear(message('deleted'));
		const account = await accountByEmail(world.app.db, 'deleted@mail.example');
		await deleteMember(world.app, null, account!.id);
		const later = message('deleted', { at: world.app.clock.business() });
		expect(await hear(later)).toEqual({ ok: true, outcome: 'gone' });
		expect(await accountByEmail(world.app.db, 'deleted@mail.example')).toBeNull();
	});
});

describe('a call', () => {
	const PATH = '/api/v1/purchases';
	async function call(
		sent: unknown,
		{ secret = checkout.secret, signer = checkout.id, age = 0, headers = {} } = {}
	) {
		const body = new TextEncoder().encode(JSON.stringify(sent));
		const created = Math.floor(world.app.clock.wall() / 1000) - age;
		const signed = signMessage({ method: 'POST', path: PATH, body }, secret, created, signer);
		const url = new URL(`http://127.0.0.1:4999${PATH}`);
		const request = new Request(url, { method: 'POST', body, headers: { ...signed, ...headers } });
		const answer = await POST({ locals: { app: world.app }, request, url } as never);
		return { status: answer.status, ...((await answer.json()) as object) };
	}
	const sent = () => ({
		...{ id: `call-${++count}`, purchase: 'call', at: new Date().toISOString(), does: 'grant' },
		...{ email: 'call@mail.example', plan: 'workshop' }
	});

	it('is taken where its signature fits', async () => {
		expect(await call(sent())).toEqual({ status: 200, outcome: 'granted' });
		expect(await held('call@mail.example')).toHaveLength(1);
	});

	it('is refused when it is forged, stale, of nobody or unsigned, and leaves nothing', async () => {
		const before = (await world.app.db.select().from(outsideEvents)).length;
		expect(await call(sent(), { secret: 'guessed' })).toMatchObject({ status: 401, error: 'forged' });
		expect(await call(sent(), { secret: 'nobody', signer: crypto.randomUUID() })).toMatchObject({
			status: 401,
			error: 'forged'
		});
		expect(await call(sent(), { age: 301 })).toMatchObject({ status: 401, error: 'stale' });
		expect(await call(sent(), { headers: { signature: '' } })).toMatchObject({
			status: 401,
			error: 'unsigned'
		});
		expect(await call(sent(), { headers: { 'content-digest': 'sha-256=:AAAA:' } })).toMatchObject({
			status: 401,
			error: 'forged'
		});
		expect((await world.app.db.select().from(outsideEvents)).length).toBe(before);
	});

	it('says which field is wrong', async () => {
		expect(await call({ ...sent(), at: 'yesterday' })).toMatchObject({ status: 400, error: 'bad-at' });
		expect(await call([1])).toMatchObject({ status: 400, error: 'bad-id' });
		expect(await call({ ...sent(), plan: 'nowhere' })).toMatchObject({ status: 422, error: 'unknown-plan' });
	});

	it('is refused from the moment on at which its checkout is not listened to any more', async () => {
		const other = await makeOutsideCheckout(world.app, null, 'For a while');
		await endOutsideCheckout(world.app, null, other.id);
		expect(await call(sent(), { secret: other.secret, signer: other.id })).toMatchObject({ status: 401 });
		expect(await secretOfOutside(world.app, other.id)).toBeNull();
		expect(await receiveOutside(world.app, other.id, message('ended'))).toEqual({ ok: false, code: 'ended' });
		expect(
			await world.app.db.select().from(outsideEvents).where(eq(outsideEvents.checkoutId, other.id))
		).toEqual([]);
	});
});
