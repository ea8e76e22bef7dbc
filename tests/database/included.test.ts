/** Nobody who may open all that a plan opens pays for it without having been told so. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { includedAt } from '$server/reads/front/shop';
import { lookOf } from '$server/rights/look';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { createPlan } from '$server/usecases/plans/save-plan';
import { saveFence } from '$server/usecases/fences/save-fence';
import { planBySlug } from '$server/db/queries/sales';
import { buy, FENCE, holding, makeVideo, makeWorld, order, PLAN, type World } from './world';

let world: World;

beforeAll(async () => {
	world = await makeWorld();
	const course = await createPlan(world.app, null, { ...PLAN, name: 'Course' });
	const all = await createPlan(world.app, null, { ...PLAN, name: 'All' });
	const free = await createPlan(world.app, null, {
		...{ ...PLAN, name: 'Free', access: { kind: 'for-good' } },
		terms: { currency: 'EUR', firstMinor: 0, feeMinor: 0, then: { kind: 'nothing' } }
	});
	const itemId = await makeVideo(world.app, '/videos/wheel');
	const wish = {
		...FENCE,
		selector: { kind: 'items' as const, itemIds: [itemId] },
		crossings: [holding(course), holding(all), holding(free)]
	};
	const saved = await agreeing((agreedTo) =>
		saveFence(world.app, null, { fenceId: null, revision: 1, agreedTo, wish })
	);
	if (saved.kind !== 'saved') throw new Error(saved.kind);
});
afterAll(() => world.end());

const ask = (memberId: string | null, slug: string, wantsAgain = false) =>
	order(world, slug, { memberId, email: memberId === null ? 'wren@mail.example' : '', wantsAgain });

it('is asked of a member once more, and goes on when they want it all the same', async () => {
	const { memberId } = await buy(world, 'all');
	expect(await ask(memberId, 'course')).toEqual({ ok: false, code: 'included' });
	expect(await ask(memberId, 'course', true)).toMatchObject({ ok: true });
});

it('is not asked for what costs nothing, nor of somebody who only typed the address', async () => {
	const { memberId } = await buy(world, 'all', 'free@mail.example');
	expect(await ask(memberId, 'free')).toMatchObject({ ok: true });
	expect(await ask(null, 'course')).toMatchObject({ ok: true });
});

it('names the plan that opens all of it', async () => {
	const { memberId } = await buy(world, 'all', 'named@mail.example');
	const look = await lookOf(world.app, await world.app.rights.standing(memberId), null, '192.0.2.1');
	const course = await planBySlug(world.app.db, 'course');
	expect(await includedAt(world.app, look, course?.id ?? '')).toEqual({ by: 'All' });
	const stranger = await lookOf(world.app, null, null, '192.0.2.1');
	expect(await includedAt(world.app, stranger, course?.id ?? '')).toBeNull();
});
