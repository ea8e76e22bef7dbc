/** Members whom a crossing names: they change with the fence, are agreed to with it, and stand with themselves. */
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { NO_LIMITS } from '$core/access/model';
import { membersNamedIn, namingsIn } from '$core/access/namings';
import { undone } from '$core/access/delta';
import { compose, type Stile } from '$server/compose';
import { fenceById, policyChangesAfter, policyInForce } from '$server/db/queries/policy';
import { namings } from '$server/db/schema/access';
import { checkPage } from '$server/reads/desk/check';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { addMember } from '$server/usecases/accounts/run-members';
import { removeFence, saveFence, type FenceWish } from '$server/usecases/fences/save-fence';
import { FENCE, makeVideo, makeWorld, passDays, type World } from './world';

let world: World;
/** A second node on the same database. */
let node: Stile;
let wren: string;
let jasper: string;
let itemId: string;
let fenceId: string;

beforeAll(async () => {
	world = await makeWorld();
	node = await compose(world.app.settings);
	wren = await member('wren');
	jasper = await member('jasper');
	itemId = await makeVideo(world.app, '/videos/wheel');
});
afterAll(async () => {
	await node.stop();
	await world.end();
});
beforeEach(async () => {
	if (fenceId && (await fenceById(world.app.db, fenceId)))
		await agreeing((agreedTo) => removeFence(world.app, null, fenceId, agreedTo));
	fenceId = await name(null, [wren]);
});

async function member(name: string): Promise<string> {
	const email = `${name}@mail.example`;
	const added = await addMember(world.app, null, { email, name, planId: null, until: null });
	if (!added.ok) throw new Error(added.code);
	return added.memberId;
}

function wish(memberIds: readonly string[], since = world.app.clock.business()): FenceWish {
	const named = memberIds.map((memberId) => ({ memberId, since }));
	return {
		...FENCE,
		selector: { kind: 'items', itemIds: [itemId] },
		crossings: [{ audience: { kind: 'named' }, named, window: null, limits: NO_LIMITS, isThroughout: false }]
	};
}

async function save(
	id: string | null,
	memberIds: readonly string[],
	agreedTo: string | null,
	since?: number
) {
	const revision = id === null ? 1 : ((await fenceById(world.app.db, id))?.revision ?? 1);
	return saveFence(world.app, null, { fenceId: id, revision, wish: wish(memberIds, since), agreedTo });
}

/** Names these, whatever that does to anybody. */
async function name(id: string | null, memberIds: readonly string[]): Promise<string> {
	const since = world.app.clock.business();
	const saved = await agreeing((agreedTo) => save(id, memberIds, agreedTo, since));
	if (saved.kind !== 'saved') throw new Error(saved.kind);
	return saved.fenceId;
}

const verdicts = async (on = world.app) =>
	(await Promise.all([wren, jasper].map((id) => on.rights.decide(id, itemId)))).map(({ verdict }) => verdict);

describe('members whom a crossing names', () => {
	it('come in by their own standing, on every node; the policy knows that some are named, and not whom', async () => {
		expect(await verdicts()).toEqual(['open', 'shut']);
		await node.app.rights.refresh();
		expect(await verdicts(node.app)).toEqual(['open', 'shut']);
		const { source } = await policyInForce(world.app.db);
		expect(JSON.stringify(source)).not.toContain(wren);
		expect(source.fences[0]?.crossings[0]?.audience).toEqual({ kind: 'named' });
	});

	it('change by a yes to just these members, and to no others', async () => {
		const since = world.app.clock.business();
		const asked = await save(fenceId, [jasper], null, since);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		expect(asked.rehearsal.result.members).toMatchObject({ 'gains-now': 1, 'loses-now': 1 });
		const another = await save(fenceId, [jasper, wren], asked.rehearsal.id, since);
		if (another.kind !== 'rehearsed') throw new Error(another.kind);
		expect(another.rehearsal.result.members).toMatchObject({ 'gains-now': 1, 'loses-now': 0 });
		expect(await verdicts()).toEqual(['open', 'shut']);
		expect((await save(fenceId, [jasper, wren], another.rehearsal.id, since)).kind).toBe('saved');
		expect(await verdicts()).toEqual(['open', 'open']);
	});

	it('are a change of the rights alone: what it was before is kept with it, and can be undone', async () => {
		const before = await policyInForce(world.app.db);
		await name(fenceId, [jasper]);
		const after = await policyInForce(world.app.db);
		expect(after.source).toEqual(before.source);
		const [step] = await policyChangesAfter(world.app.db, before.version);
		const changes = namingsIn(step?.delta ?? []);
		expect(changes).toHaveLength(step?.delta.length ?? 0);
		expect(membersNamedIn(changes)).toEqual(new Set([wren, jasper]));
		expect(namingsIn(undone(changes)).find((one) => one.before === null)?.after?.memberId).toBe(wren);
	});

	it('were named then, where the rules of then are asked for', async () => {
		const then = world.app.clock.business();
		await passDays(world, 2);
		await name(fenceId, [jasper]);
		await passDays(world, 2);
		const found = async (search: string) => {
			const url = new URL(`http://desk.example/desk/check?item=${itemId}${search}`);
			const { members } = await checkPage(world.app, url, true);
			return new Map(members.rows.map(({ id, verdict }) => [id, verdict]));
		};
		const now = await found('');
		expect([now.get(wren), now.get(jasper)]).toEqual(['shut', 'open']);
		const past = await found(`&asof=${then}&rules=then`);
		expect([past.get(wren), past.get(jasper)]).toEqual(['open', 'shut']);
	});

	it('stand together where they were named on the same day and have nothing else', async () => {
		const known = (await world.app.population.groups()).length;
		const many: string[] = [];
		for (let n = 0; n < 12; n++) many.push(await member(`crowd-${n}-${known}`));
		const alone = (await world.app.population.groups()).length;
		await name(fenceId, many);
		const groups = await world.app.population.groups();
		expect(groups.length).toBeLessThanOrEqual(alone + 1);
		const stale = groups.flatMap(({ viewer, memberIds }) => (viewer.namings.length > 0 ? memberIds : []));
		expect(new Set(stale)).toEqual(new Set(many));
	});

	it('go with their fence, and with their account; nobody is named who is not there', async () => {
		const rows = () => world.app.db.select().from(namings);
		await name(fenceId, [wren, jasper]);
		const gone = await member(`gone-${fenceId.slice(-6)}`);
		await name(fenceId, [wren, gone]);
		expect((await rows()).map(({ memberId }) => memberId).sort()).toEqual([wren, gone].sort());
		await deleteMember(world.app, null, gone);
		expect((await rows()).map(({ memberId }) => memberId)).toEqual([wren]);
		expect(await save(fenceId, [wren, gone], null)).toEqual({ kind: 'refused', code: 'unknown-member' });
		const asked = await removeFence(world.app, null, fenceId, null);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		await removeFence(world.app, null, fenceId, asked.rehearsal.id);
		expect(await rows()).toEqual([]);
		expect(await verdicts()).toEqual(['shut', 'shut']);
	});

	it('of two who name others at once, the second is shown what the first has saved', async () => {
		const since = world.app.clock.business();
		const kept = await fenceById(world.app.db, fenceId);
		const first = await save(fenceId, [jasper], null, since);
		const revision = kept?.revision ?? 1;
		const ask = async (memberIds: string[], agreedTo: string) => {
			const it = { fenceId, revision, wish: wish(memberIds, since) };
			const said = await saveFence(world.app, null, { ...it, agreedTo });
			// Whoever comes once the first is saved is shown anew what it would do, and says yes to that.
			return said.kind === 'rehearsed'
				? saveFence(world.app, null, { ...it, agreedTo: said.rehearsal.id })
				: said;
		};
		if (first.kind !== 'rehearsed') throw new Error(first.kind);
		const both = await save(fenceId, [wren, jasper], null, since);
		if (both.kind !== 'rehearsed') throw new Error(both.kind);
		const done = await Promise.all([
			ask([jasper], first.rehearsal.id),
			ask([wren, jasper], both.rehearsal.id)
		]);
		expect(done.map(({ kind }) => kind).sort()).toEqual(['changed', 'saved']);
		const [winner] = done.map(({ kind }, n) => (kind === 'saved' ? n : -1)).filter((n) => n >= 0);
		expect(await verdicts()).toEqual([winner === 0 ? 'shut' : 'open', 'open']);
		const changed = done.find((one) => one.kind === 'changed');
		expect(changed?.kind === 'changed' && changed.theirs.named).toHaveLength(winner === 0 ? 1 : 2);
	});

	it('are rehearsed when their whole crossing goes, and stand in no row afterwards', async () => {
		const revision = (await fenceById(world.app.db, fenceId))?.revision ?? 1;
		const open: FenceWish = {
			...wish([]),
			crossings: [{ audience: { kind: 'signed-in' }, window: null, limits: NO_LIMITS, isThroughout: false }]
		};
		const ask = (agreedTo: string | null) =>
			saveFence(world.app, null, { fenceId, revision, wish: open, agreedTo });
		const asked = await ask(null);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		// Wren was in and stays in: only others gain.
		expect(asked.rehearsal.result.members['loses-now']).toBe(0);
		await ask(asked.rehearsal.id);
		expect(await world.app.db.select().from(namings).where(eq(namings.memberId, wren))).toEqual([]);
		expect(await verdicts()).toEqual(['open', 'open']);
	});
});
