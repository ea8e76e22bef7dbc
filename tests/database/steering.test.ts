/** Ending, pausing and going on, by members and from the Desk: each is seen before it is done, and done as it was seen. */
import { eq } from 'drizzle-orm';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Step } from '$core/billing/agreement-foreseen';
import { agreementRevision, stepsNow } from '$server/db/queries/agreements';
import { paymentsOf } from '$server/db/queries/sales';
import { agreements } from '$server/db/schema/sales';
import { pausesOf } from '$server/reads/front/account-view';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { saveSite } from '$server/usecases/running/save-site';
import { cancelAgreement, pauseAgreement, steerAgreement } from '$server/usecases/sales/steer-agreement';
import { buy, makeShop, makeWorld, passDays, type World } from './world';

const DAY = 86_400_000;

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
let memberId: string;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	({ memberId } = await buy(world, shop.slug));
});
afterEach(async () => world.end());

const agreement = async () => {
	const [row] = await world.app.db.select().from(agreements).where(eq(agreements.memberId, memberId));
	if (!row) throw new Error('There is no agreement');
	return row;
};
const isOpen = async () =>
	(await world.app.rights.decide(memberId, shop.itemId, world.app.clock.business())).verdict === 'open';
const steer = async (step: Step, seen?: string) => {
	const row = await agreement();
	return steerAgreement(world.app, null, { agreementId: row.id, step, seen: seen ?? agreementRevision(row) });
};
const foreseen = async (step: Step) => {
	const steps = await stepsNow(world.app.db, await agreement(), world.app.clock.business());
	return steps.find((one) => one.step === step);
};
const count = async () => (await paymentsOf(world.app.db, memberId)).length;
const subjects = async () => {
	await world.stile.runner.runDue('mail');
	return world.mails.map(({ subject }) => subject);
};
const letPause = (mayPause: boolean) =>
	agreeing(async (agreedTo) =>
		saveSite(world.app, null, 'money', { ...(await world.app.site()), mayPause }, { agreedTo })
	);

describe('from the Desk', () => {
	it('it is cancelled at the end of what is paid, as was foreseen, and that is taken back', async () => {
		const seen = await foreseen('cancel');
		expect(await steer('cancel')).toEqual({ ok: true });
		expect(await agreement()).toMatchObject({
			state: 'ending',
			paidThrough: seen?.open?.until,
			nextAt: null
		});
		expect(await steer('resume')).toEqual({ ok: true });
		await passDays(world, 32);
		expect(await count()).toBe(2);
	});

	it('it is ended at once, and nothing more is charged', async () => {
		expect((await foreseen('stop'))?.open).toBeNull();
		expect(await steer('stop')).toEqual({ ok: true });
		expect(await isOpen()).toBe(false);
		await passDays(world, 40);
		expect(await count()).toBe(1);
		expect(await subjects()).toContain('Workshop is cancelled');
	});

	it('it rests for as long as was said, and goes on by itself, as was foreseen', async () => {
		const seen = await foreseen('rest-2');
		expect(await steer('rest-2')).toEqual({ ok: true });
		expect(await agreement()).toMatchObject({ state: 'resting', nextAt: seen?.next?.at });
		expect(await subjects()).toContain('Workshop is paused');
		expect(await isOpen()).toBe(true);
		await passDays(world, 50);
		expect(await isOpen()).toBe(false);
		expect(await count()).toBe(1);
		await passDays(world, 50);
		expect(await isOpen()).toBe(true);
		expect(await count()).toBe(2);
	});

	it('it goes on when somebody says so, and is charged from that day on', async () => {
		await steer('rest');
		await passDays(world, 100);
		expect(await agreement()).toMatchObject({ state: 'resting', nextAt: null });
		expect(await isOpen()).toBe(false);
		const now = world.app.clock.business();
		expect(await steer('wake')).toEqual({ ok: true });
		await world.stile.runner.runDue('billing');
		expect(await isOpen()).toBe(true);
		expect(await count()).toBe(2);
		const { nextAt } = await agreement();
		expect(((nextAt ?? 0) - now) / DAY).toBeGreaterThan(27);
	});

	it('nothing is done to what is not any more what was looked at', async () => {
		const seen = agreementRevision(await agreement());
		await cancelAgreement(world.app, memberId, (await agreement()).id, { reason: 'other', words: '' });
		expect(await steer('stop', seen)).toEqual({ ok: false, code: 'changed' });
		expect(await isOpen()).toBe(true);
	});

	it('of two who say the same at once, one has done it', async () => {
		const row = await agreement();
		const ask = { agreementId: row.id, step: 'rest-1' as const, seen: agreementRevision(row) };
		const both = await Promise.all([
			steerAgreement(world.app, null, ask),
			steerAgreement(world.app, null, ask)
		]);
		expect(both.filter(({ ok }) => ok)).toHaveLength(1);
		expect((await subjects()).filter((subject) => subject === 'Workshop is paused')).toHaveLength(1);
	});
});

describe('members', () => {
	it('pause where the site lets them, their own alone, the pauses that are offered', async () => {
		const { id } = await agreement();
		expect(await pauseAgreement(world.app, memberId, id, 'rest-1')).toEqual({
			ok: false,
			code: 'not-allowed'
		});
		expect((await pausesOf(world.app, memberId, id))?.pauses).toEqual([]);
		await letPause(true);
		expect((await pausesOf(world.app, memberId, id))?.pauses.map(({ step }) => step)).toEqual([
			...['rest-1', 'rest-2', 'rest-3', 'rest-6', 'rest']
		]);
		expect(await pauseAgreement(world.app, memberId, id, 'stop')).toEqual({ ok: false, code: 'not-allowed' });
		const other = await buy(world, shop.slug, 'edda@mail.example');
		expect(await pauseAgreement(world.app, other.memberId, id, 'rest-1')).toEqual({
			ok: false,
			code: 'unknown'
		});
		expect(await pausesOf(world.app, other.memberId, id)).toBeNull();
		expect(await pauseAgreement(world.app, memberId, id, 'rest-1')).toEqual({ ok: true });
		// Twice is once.
		expect(await pauseAgreement(world.app, memberId, id, 'rest-1')).toEqual({ ok: true });
	});

	it('go on before the pause begins as if nothing had been, also where pausing was closed meanwhile', async () => {
		const { id, nextAt } = await agreement();
		await letPause(true);
		await pauseAgreement(world.app, memberId, id, 'rest');
		await letPause(false);
		expect(await pauseAgreement(world.app, memberId, id, 'wake')).toEqual({ ok: true });
		expect(await agreement()).toMatchObject({ state: 'running', nextAt });
		expect(await subjects()).toContain('Workshop goes on');
	});
});
