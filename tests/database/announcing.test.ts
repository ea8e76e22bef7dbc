/** What is charged for a long time, or asks for more, is told of before it is charged. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { renewingTerms, type Terms } from '$core/billing/terms';
import { agreementsOf } from '$server/db/queries/agreements';
import { createPlan } from '$server/usecases/plans/save-plan';
import { cancelAgreement } from '$server/usecases/sales/steer-agreement';
import { buy, makeWorld, passDays, PLAN, type World } from './world';

let world: World;

beforeEach(async () => {
	world = await makeWorld();
});
afterEach(async () => {
	await world.end();
});

const yearly = renewingTerms({ minor: 9000, currency: 'EUR' }, { count: 1, unit: 'year' });

async function bought(terms: Terms) {
	await createPlan(world.app, null, { ...PLAN, name: 'Yearling', terms });
	return buy(world, 'yearling');
}
const subjects = async () => {
	await world.stile.runner.runDue('mail');
	return world.mails.map(({ subject }) => subject);
};

describe('a payment for a year', () => {
	it('is announced once, two weeks before, with the day and the amount; then it is charged', async () => {
		await bought(yearly);
		await passDays(world, 350);
		expect((await subjects()).filter((one) => one.includes('Yearling goes on'))).toEqual([]);
		await passDays(world, 3);
		const mail = (await subjects()).filter((one) => /^On .+ Yearling goes on$/.test(one));
		expect(mail).toHaveLength(1);
		expect(world.mails.find(({ subject }) => subject === mail[0])?.text).toContain('90.00 EUR');
		await passDays(world, 20);
		expect(await subjects()).toContain('Yearling is renewed');
		expect((await subjects()).filter((one) => /goes on$/.test(one))).toHaveLength(1);
	});

	it('is not announced to whoever has cancelled', async () => {
		const { memberId } = await bought(yearly);
		const [row] = await agreementsOf(world.app.db, memberId);
		const why = { reason: 'no-time' as const, words: '' };
		await cancelAgreement(world.app, memberId, row?.id ?? '', why);
		await passDays(world, 360);
		expect((await subjects()).filter((one) => /goes on$/.test(one))).toEqual([]);
	});
});

it('a payment for a month is not announced', async () => {
	await bought(renewingTerms({ minor: 1200, currency: 'EUR' }, { count: 1, unit: 'month' }));
	await passDays(world, 70);
	expect((await subjects()).filter((one) => /goes on$/.test(one))).toEqual([]);
});
